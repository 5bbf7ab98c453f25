/**
 * The header of an OpenEXR file (OpenEXR file layout, version 2), the attributes Gemello uses:
 * `displayWindow`, `pixelAspectRatio`, `timeCode` (SMPTE ST 12-1 packed as for television at 60
 * fields), `framesPerSecond`, `capDate`, and reel and clip names where systems write them.
 */
export interface ExrHeader {
  readonly width: number;
  readonly height: number;
  readonly pixelAspect: number | null;
  /** `HH:MM:SS:FF`, a `;` before the frames of a drop-frame count; null when unset or no label. */
  readonly timecode: string | null;
  readonly framesPerSecond: { readonly num: number; readonly den: number } | null;
  readonly reel: string;
  readonly clipName: string;
  /** `yyyy:mm:dd hh:mm:ss`; empty when unset. */
  readonly created: string;
}

const MAGIC = 0x01312f76;
/** Names and types are shorter than this (OpenEXR: 255 with long names). */
const LONGEST_NAME = 255;
/** Attribute names for reel and clip in use, compared without case and separators (common practice). */
const REEL = ['reelname', 'reel', 'tapename', 'cameraroll'];
const CLIP = ['clipname', 'clip', 'camerafilename'];

/** Reads the header from the first bytes of a file; null when they are no OpenEXR header, or it is longer than they are. */
export function readExrHeader(bytes: Buffer): ExrHeader | null {
  if (bytes.length < 16 || bytes.readUInt32LE(0) !== MAGIC) return null;
  // Every byte one character, so that names and types are told where they stand, without being cut out.
  const letters = bytes.toString('latin1');
  const texts = new Map<string, string>();
  let [width, height] = [0, 0];
  let pixelAspect: number | null = null;
  let timecode: string | null = null;
  let framesPerSecond: ExrHeader['framesPerSecond'] = null;
  let at = 8;
  while (at < bytes.length && bytes[at] !== 0) {
    const name = at;
    const nameEnd = letters.indexOf('\0', name);
    const type = nameEnd + 1;
    const typeEnd = letters.indexOf('\0', type);
    if (nameEnd < 0 || typeEnd <= type || Math.max(nameEnd - name, typeEnd - type) > LONGEST_NAME) return null;
    at = typeEnd + 1;
    if (at + 4 > bytes.length) return null;
    const size = bytes.readUInt32LE(at);
    at += 4;
    if (size > bytes.length - at) return null;
    if (letters.startsWith('displayWindow\0', name) && size >= 16) {
      width = bytes.readInt32LE(at + 8) - bytes.readInt32LE(at) + 1;
      height = bytes.readInt32LE(at + 12) - bytes.readInt32LE(at + 4) + 1;
    } else if (letters.startsWith('pixelAspectRatio\0', name) && size >= 4) {
      const ratio = bytes.readFloatLE(at);
      pixelAspect = ratio > 0.01 && ratio < 100 ? ratio : null;
    } else if (letters.startsWith('timecode\0', type) && size >= 8) timecode = labelOf(bytes.readUInt32LE(at));
    else if (letters.startsWith('framesPerSecond\0', name) && size >= 8) {
      const num = bytes.readInt32LE(at);
      const den = bytes.readUInt32LE(at + 4);
      framesPerSecond = num > 0 && den > 0 ? { num, den } : null;
    } else if (letters.startsWith('string\0', type) && size <= 1024)
      texts.set(
        letters
          .slice(name, nameEnd)
          .toLowerCase()
          .replace(/[^a-z0-9]/g, ''),
        printable(bytes.toString('utf8', at, at + size)),
      );
    at += size;
  }
  if (at >= bytes.length || width <= 0 || height <= 0) return null;
  return {
    width,
    height,
    pixelAspect,
    timecode,
    framesPerSecond,
    reel: firstOf(texts, REEL),
    clipName: firstOf(texts, CLIP),
    created: texts.get('capdate') ?? '',
  };
}

function firstOf(texts: ReadonlyMap<string, string>, names: readonly string[]): string {
  for (const name of names) {
    const text = texts.get(name);
    if (text) return text;
  }
  return '';
}

/** Up to its first zero; empty when it holds what cannot be printed. */
function printable(text: string): string {
  const end = text.indexOf('\0');
  const used = end < 0 ? text : text.slice(0, end);
  // biome-ignore lint/suspicious/noControlCharactersInRegex: they are what is looked for
  return /[\x00-\x1f]/.test(used) ? '' : used.trim();
}

/** Time and flags of `Imf::TimeCode`: BCD digits with flag bits between them (SMPTE ST 12-1 section on binary groups). */
function labelOf(packed: number): string | null {
  const frames = digits(packed, 3);
  const seconds = digits(packed >>> 8, 7);
  const minutes = digits(packed >>> 16, 7);
  const hours = digits(packed >>> 24, 3);
  if (seconds > 59 || minutes > 59 || hours > 23 || frames > 59) return null;
  const drop = ((packed >>> 6) & 1) === 1;
  return `${two(hours)}:${two(minutes)}:${two(seconds)}${drop ? ';' : ':'}${two(frames)}`;
}

/** The lowest two digits; `tens` masks the bits of the upper one that are no flags. */
const digits = (packed: number, tens: number) => (packed & 15) + 10 * ((packed >>> 4) & tens);
const two = (n: number) => (n < 10 ? `0${n}` : String(n));
