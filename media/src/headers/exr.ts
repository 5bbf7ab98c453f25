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
export function readExrHeader(bytes: Uint8Array): ExrHeader | null {
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  if (bytes.length < 16 || view.getUint32(0, true) !== MAGIC) return null;
  const texts = new Map<string, string>();
  let [width, height] = [0, 0];
  let pixelAspect: number | null = null;
  let timecode: string | null = null;
  let framesPerSecond: ExrHeader['framesPerSecond'] = null;
  let at = 8;
  while (at < bytes.length && bytes[at] !== 0) {
    const name = textUntilZero(bytes, at);
    const type = name && textUntilZero(bytes, at + name.length + 1);
    if (!name || !type) return null;
    at += name.length + type.length + 2;
    if (at + 4 > bytes.length) return null;
    const size = view.getUint32(at, true);
    at += 4;
    if (size > bytes.length - at) return null;
    if (name === 'displayWindow' && size >= 16) {
      width = view.getInt32(at + 8, true) - view.getInt32(at, true) + 1;
      height = view.getInt32(at + 12, true) - view.getInt32(at + 4, true) + 1;
    } else if (name === 'pixelAspectRatio' && size >= 4) {
      const ratio = view.getFloat32(at, true);
      pixelAspect = ratio > 0.01 && ratio < 100 ? ratio : null;
    } else if (type === 'timecode' && size >= 8) timecode = labelOf(view.getUint32(at, true));
    else if (name === 'framesPerSecond' && size >= 8) {
      const [num, den] = [view.getInt32(at, true), view.getUint32(at + 4, true)];
      framesPerSecond = num > 0 && den > 0 ? { num, den } : null;
    } else if (type === 'string' && size <= 1024)
      texts.set(name.toLowerCase().replace(/[^a-z0-9]/g, ''), printable(bytes.subarray(at, at + size)));
    at += size;
  }
  if (at >= bytes.length || width <= 0 || height <= 0) return null;
  const first = (names: readonly string[]) => names.map((n) => texts.get(n)).find((t) => t) ?? '';
  return {
    width,
    height,
    pixelAspect,
    timecode,
    framesPerSecond,
    reel: first(REEL),
    clipName: first(CLIP),
    created: texts.get('capdate') ?? '',
  };
}

function textUntilZero(bytes: Uint8Array, at: number): string | null {
  const end = bytes.indexOf(0, at);
  return end < 0 || end === at || end - at > LONGEST_NAME ? null : new TextDecoder('latin1').decode(bytes.subarray(at, end));
}

const printable = (bytes: Uint8Array): string => {
  const text = new TextDecoder().decode(bytes).replace(/\0.*$/s, '');
  return [...text].every((c) => c >= ' ') ? text.trim() : '';
};

/** Time and flags of `Imf::TimeCode`: BCD digits with flag bits between them (SMPTE ST 12-1 section on binary groups). */
function labelOf(packed: number): string | null {
  const digits = (from: number, units: number, tens: number) => ((packed >>> from) & units) + 10 * ((packed >>> (from + 4)) & tens);
  const [frames, seconds, minutes, hours] = [digits(0, 15, 3), digits(8, 15, 7), digits(16, 15, 7), digits(24, 15, 3)];
  if (seconds > 59 || minutes > 59 || hours > 23 || frames > 59) return null;
  const drop = ((packed >>> 6) & 1) === 1;
  const two = (n: number) => String(n).padStart(2, '0');
  return `${two(hours)}:${two(minutes)}:${two(seconds)}${drop ? ';' : ':'}${two(frames)}`;
}
