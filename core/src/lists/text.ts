import { unzipSync, zipSync } from 'fflate';

/** The text of a list as it came, or why there is none. */
export type ListText = { readonly text: string; readonly bundle: boolean } | { readonly problem: string };

/** Largest text of a list that is read, in bytes; 100 000 events of OpenTimelineIO take about 120 MB. */
export const LARGEST_LIST_TEXT = 256 * 1024 * 1024;

/** The one file of an OpenTimelineIO bundle that is read; everything else in it stays where it is. */
const BUNDLED = 'content.otio';

/**
 * A list's file as text: UTF-8, UTF-16 by its byte-order mark, or Latin-1 where it is neither. Of a
 * bundle (`.otioz`, a zip archive) only the timeline is unpacked, in memory; no name in it is ever
 * used as a path.
 */
export function decodeListFile(bytes: Uint8Array): ListText {
  if (bytes[0] === 0x50 && bytes[1] === 0x4b && bytes[2] === 3 && bytes[3] === 4) return unpacked(bytes);
  if (bytes.length > LARGEST_LIST_TEXT) return { problem: tooLarge(bytes.length) };
  return { text: decoded(bytes), bundle: false };
}

/** How much of a file is looked at to tell its format, in bytes. */
const HEAD = 65_536;

/** The first part of a list's text, for telling its format; empty where there is none. */
export function headOf(bytes: Uint8Array): string {
  const packed = bytes[0] === 0x50 && bytes[1] === 0x4b;
  const decoded = decodeListFile(packed ? bytes : bytes.subarray(0, HEAD));
  return 'text' in decoded ? decoded.text.slice(0, HEAD) : '';
}

const tooLarge = (size: number) =>
  `It is ${Math.round(size / 1024 / 1024)} MB long; lists above ${LARGEST_LIST_TEXT / 1024 / 1024} MB are not read. Is it a list at all?`;

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

function unpacked(bytes: Uint8Array): ListText {
  let stated = 0;
  try {
    const files = unzipSync(bytes, {
      filter: ({ name, originalSize }) => {
        if (name !== BUNDLED) return false;
        stated = originalSize;
        return originalSize <= LARGEST_LIST_TEXT;
      },
    });
    const content = files[BUNDLED];
    if (content) return { text: decoded(content), bundle: true };
  } catch (error) {
    return { problem: `The archive is not whole (${(error as Error).message}). Ask for the file again; it may have been cut off.` };
  }
  return { problem: stated > 0 ? tooLarge(stated) : `It is an archive without ${BUNDLED}; only OpenTimelineIO bundles are read.` };
}

/** A list's text as the file of a name: packed as a bundle without media where the name ends in `.otioz`. */
export function encodeListFile(fileName: string, text: string): Uint8Array {
  const bytes = new TextEncoder().encode(text);
  if (!/\.otioz$/i.test(fileName)) return bytes;
  return zipSync({ 'version.txt': new TextEncoder().encode('1.0.0'), [BUNDLED]: bytes }, { mtime: '1980-01-01' });
}
