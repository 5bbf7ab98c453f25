import crc32 from 'crc-32';
import { Unzip, UnzipInflate, zipSync } from 'fflate';
import { type Sentence, sizeText } from '../words';
import { LIST_WORDS } from './wording';

/** The text of a list as it came, or why there is none. */
export type ListText = { readonly text: string; readonly bundle: boolean } | { readonly problem: Sentence };

/** Largest text of a list that is read, in bytes; 100 000 events of OpenTimelineIO take about 120 MB. */
export const LARGEST_LIST_TEXT = 256e6;

/** The one file of an OpenTimelineIO bundle that is read; everything else in it stays where it is. */
const BUNDLED = 'content.otio';

/**
 * A list's file as text: UTF-8, UTF-16 by its byte-order mark, or Latin-1 where it is neither. Of a
 * bundle (`.otioz`, a zip archive) only the timeline is unpacked, in memory; no name in it is ever
 * used as a path.
 */
export function decodeListFile(bytes: Uint8Array): ListText {
  if (bytes[0] === 0x50 && bytes[1] === 0x4b && bytes[2] === 3 && bytes[3] === 4) return unpacked(bytes);
  if (bytes.length > LARGEST_LIST_TEXT)
    return { problem: LIST_WORDS.tooLarge({ size: sizeText(bytes.length), most: sizeText(LARGEST_LIST_TEXT) }) };
  return { text: decoded(bytes), bundle: false };
}

/** How much of a file is looked at to tell its format, in bytes. */
const HEAD = 65_536;

/** The first part of a list's text, for telling its format; empty where there is none. */
export function headOf(bytes: Uint8Array): string {
  if (bytes[0] !== 0x50 || bytes[1] !== 0x4b) return decoded(bytes.subarray(0, HEAD)).slice(0, HEAD);
  const { parts, size } = unpackedUpTo(bytes, HEAD);
  return decoded(joined(parts, size)).slice(0, HEAD);
}

function decoded(bytes: Uint8Array): string {
  const [first, second] = bytes;
  if (first === 0xff && second === 0xfe) return new TextDecoder('utf-16le').decode(bytes);
  if (first === 0xfe && second === 0xff) return new TextDecoder('utf-16be').decode(bytes);
  try {
    return new TextDecoder('utf-8', { fatal: true }).decode(bytes);
  } catch {
    return new TextDecoder('latin1').decode(bytes);
  }
}

/** A timeline is packed to a tenth or a fortieth of its size; what unpacks to more than this many times its own is none. */
const MOST_TIMES_PACKED = 100;
/** Archives may always unpack to this many bytes. */
const ALWAYS_UNPACKED = 16e6;
/** Packed bytes that are given to the unpacker at once, so that one that lies about its sizes is left soon. */
const SLICE = 4096;

function unpacked(bytes: Uint8Array): ListText {
  const most = Math.min(LARGEST_LIST_TEXT, Math.max(ALWAYS_UNPACKED, bytes.length * MOST_TIMES_PACKED));
  const checksum = statedChecksum(bytes);
  const found = unpackedUpTo(bytes, most);
  if (checksum === 'no directory') found.fault ??= LIST_WORDS.noDirectory().message;
  const whole = found.fault === null && found.begun && found.size <= most ? joined(found.parts, found.size) : null;
  if (whole && crc32.buf(whole) >>> 0 !== checksum) found.fault = LIST_WORDS.otherChecksum().message;
  if (found.fault !== null) return { problem: LIST_WORDS.brokenArchive({ fault: found.fault }) };
  if (!found.begun) return { problem: LIST_WORDS.noBundle({ content: BUNDLED }) };
  if (!whole)
    return {
      problem: LIST_WORDS.tooLargeUnpacked({ most: sizeText(most), packed: sizeText(bytes.length) }),
    };
  return { text: decoded(whole), bundle: true };
}

interface Unpacked {
  readonly parts: readonly Uint8Array[];
  readonly size: number;
  readonly begun: boolean;
  /** What is wrong with the archive; null when nothing is, or when it was left before its end. */
  fault: string | null;
}

/** The timeline of a bundle, or its first part: unpacking ends a little after `most` bytes. What sizes the archive states does not count. */
function unpackedUpTo(bytes: Uint8Array, most: number): Unpacked {
  const parts: Uint8Array[] = [];
  let [size, begun, whole] = [0, false, false];
  let fault: string | null = null;
  const unzip = new Unzip((file) => {
    if (file.name !== BUNDLED || begun) return;
    begun = true;
    file.ondata = (error, part, final) => {
      if (error) fault ??= error.message;
      else {
        parts.push(part);
        size += part.length;
        whole ||= final;
      }
    };
    file.start();
  });
  unzip.register(UnzipInflate);
  try {
    for (let at = 0; at < bytes.length && size <= most && !whole && fault === null; at += SLICE)
      unzip.push(bytes.subarray(at, at + SLICE), at + SLICE >= bytes.length);
  } catch (error) {
    fault ??= (error as Error).message;
  }
  if (begun && !whole && size <= most) fault ??= LIST_WORDS.noEnd().message;
  return { parts, size, begun, fault };
}

/** The checksum that an archive's directory states for the timeline (PKWARE APPNOTE 4.3.12, 4.3.16); null where it has no such entry. */
function statedChecksum(bytes: Uint8Array): number | null | 'no directory' {
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  let end = bytes.length - 22;
  while (end >= 0 && end > bytes.length - 66_000 && view.getUint32(end, true) !== 0x06054b50) end--;
  if (end < 0 || view.getUint32(end, true) !== 0x06054b50) return 'no directory';
  let at = view.getUint32(end + 16, true);
  while (at + 46 <= end && view.getUint32(at, true) === 0x02014b50) {
    const [name, extra, comment] = [28, 30, 32].map((field) => view.getUint16(at + field, true)) as [number, number, number];
    if (new TextDecoder().decode(bytes.subarray(at + 46, at + 46 + name)) === BUNDLED) return view.getUint32(at + 16, true);
    at += 46 + name + extra + comment;
  }
  return null;
}

function joined(parts: readonly Uint8Array[], size: number): Uint8Array {
  const all = new Uint8Array(size);
  let at = 0;
  for (const part of parts) {
    all.set(part, at);
    at += part.length;
  }
  return all;
}

/** A list's text as the file of a name: packed as a bundle without media where the name ends in `.otioz`. */
export function encodeListFile(fileName: string, text: string): Uint8Array {
  const bytes = new TextEncoder().encode(text);
  if (!/\.otioz$/i.test(fileName)) return bytes;
  return zipSync({ 'version.txt': new TextEncoder().encode('1.0.0'), [BUNDLED]: bytes }, { mtime: '1980-01-01' });
}
