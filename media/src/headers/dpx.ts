/**
 * The header of a DPX file (SMPTE ST 268-1), the fields Gemello uses, at their offsets in bytes:
 * 0 magic, 136 creation, 772 pixels per line, 776 lines, 1432 source image, 1556 input device name, 1628 pixel aspect,
 * 1712 position in its run, 1724 film frame rate, 1920 timecode as eight BCD digits, 1940 television
 * frame rate. Unset numbers are all ones.
 */
export interface DpxHeader {
  readonly width: number;
  readonly height: number;
  /** `HH:MM:SS:FF`, a `;` before the frames of a drop-frame count; null when unset or not decimal. */
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
export function readDpxHeader(bytes: Buffer): DpxHeader | null {
  if (bytes.byteLength < DPX_HEADER_BYTES) return null;
  const magic = bytes.readUInt32BE(0);
  const little = magic === 0x58504453;
  if (magic !== 0x53445058 && !little) return null;
  const position = number(bytes, 1712, little);
  const framesPerSecond = rateAt(bytes, 1940, little) ?? rateAt(bytes, 1724, little);
  return {
    width: number(bytes, 772, little),
    height: number(bytes, 776, little),
    timecode: timecodeOf(number(bytes, 1920, little), framesPerSecond),
    framesPerSecond,
    sourceName: text(bytes, 1432, 100),
    inputDevice: text(bytes, 1556, 32),
    pixelAspect: ratio(number(bytes, 1628, little), number(bytes, 1632, little)),
    created: text(bytes, 136, 24),
    position: position === UNSET ? null : position,
  };
}

const number = (bytes: Buffer, at: number, little: boolean): number => (little ? bytes.readUInt32LE(at) : bytes.readUInt32BE(at));

function rateAt(bytes: Buffer, at: number, little: boolean): number | null {
  const value = little ? bytes.readFloatLE(at) : bytes.readFloatBE(at);
  return value > 1 && value < 1000 ? value : null;
}

const ratio = (width: number, height: number): number | null =>
  width === UNSET || height === UNSET || width === 0 || height === 0 ? null : width / height;

/** Bit 6 says drop frame (SMPTE ST 12-1), where frames do not count so high that their tens reach into it. */
function timecodeOf(bcd: number, framesPerSecond: number | null): string | null {
  if (bcd === UNSET) return null;
  const drop = (bcd & 0x40) !== 0 && (framesPerSecond ?? 0) <= 40;
  const digits = (drop ? bcd - 0x40 : bcd).toString(16).padStart(8, '0');
  const [hours, minutes, seconds, frames] = [0, 2, 4, 6].map((at) => digits.slice(at, at + 2));
  return /^\d{8}$/.test(digits) ? `${hours}:${minutes}:${seconds}${drop ? ';' : ':'}${frames}` : null;
}

/** Text up to its first zero; empty when it holds anything but plain letters. */
function text(bytes: Buffer, at: number, length: number): string {
  let end = at;
  while (end < at + length && bytes[end] !== 0) {
    const letter = bytes[end] as number;
    if (letter < 32 || letter > 126) return '';
    end++;
  }
  return end === at ? '' : bytes.toString('latin1', at, end).trim();
}
