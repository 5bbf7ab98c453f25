/**
 * The header of a DPX file (SMPTE ST 268-1), the fields Gemello uses, at their offsets in bytes:
 * 0 magic, 136 creation, 772 pixels per line, 776 lines, 1432 source image, 1556 input device name, 1628 pixel aspect,
 * 1712 position in its run, 1724 film frame rate, 1920 timecode as eight BCD digits, 1940 television
 * frame rate. Unset numbers are all ones.
 */
export interface DpxHeader {
  readonly width: number;
  readonly height: number;
  /** `HH:MM:SS:FF`, or null when unset or not decimal. */
  readonly timecode: string | null;
  readonly framesPerSecond: number | null;
  /** File name of the picture it was made from; empty when unset. */
  readonly sourceName: string;
  /** Reel by common practice; empty when unset. */
  readonly inputDevice: string;
  /** Width of a pixel over its height; null when unset. */
  readonly pixelAspect: number | null;
  /** When the frame was made, as `yyyy:mm:dd:hh:mm:ss` with a zone after it; empty when unset. */
  readonly created: string;
  /** Which frame of its run it is, from 0; null when unset. */
  readonly position: number | null;
}

export const DPX_HEADER_BYTES = 2048;
const UNSET = 0xffffffff;

/** Reads the header from the first 2048 bytes; null when they are no DPX header. */
export function readDpxHeader(bytes: Uint8Array): DpxHeader | null {
  if (bytes.byteLength < DPX_HEADER_BYTES) return null;
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  const magic = view.getUint32(0);
  const little = magic === 0x58504453;
  if (magic !== 0x53445058 && !little) return null;
  const number = (at: number) => view.getUint32(at, little);
  const real = (at: number) => {
    const value = view.getFloat32(at, little);
    return number(at) !== UNSET && value > 1 && value < 1000 ? value : null;
  };
  return {
    width: number(772),
    height: number(776),
    timecode: timecodeOf(number(1920)),
    framesPerSecond: real(1940) ?? real(1724),
    sourceName: text(bytes, 1432, 100),
    inputDevice: text(bytes, 1556, 32),
    pixelAspect: ratio(number(1628), number(1632)),
    created: text(bytes, 136, 24),
    position: number(1712) === UNSET ? null : number(1712),
  };
}

const ratio = (width: number, height: number): number | null =>
  width === UNSET || height === UNSET || width === 0 || height === 0 ? null : width / height;

function timecodeOf(bcd: number): string | null {
  if (bcd === UNSET) return null;
  const digits = bcd.toString(16).padStart(8, '0');
  return /^\d{8}$/.test(digits) ? (digits.match(/../g) as string[]).join(':') : null;
}

function text(bytes: Uint8Array, at: number, length: number): string {
  const field = bytes.subarray(at, at + length);
  const end = field.indexOf(0);
  const used = end < 0 ? field : field.subarray(0, end);
  return used.every((b) => b >= 32 && b < 127) ? new TextDecoder().decode(used).trim() : '';
}
