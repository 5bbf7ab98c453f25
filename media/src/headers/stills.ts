import type { FileHead } from './file';

/** What the header of a still says; `codec` as FFmpeg calls it. */
export interface StillHeader {
  readonly width: number;
  readonly height: number;
  /** Width of a pixel over its height, from the resolutions; null when the file states none. */
  readonly pixelAspect: number | null;
  readonly codec: 'png' | 'mjpeg' | 'tiff';
}

/** Parts of a file that are looked at for its size before it is given up. */
const MOST_PARTS = 256;
/** Larger than any picture, in pixels along a side. */
const LARGEST_SIDE = 1 << 20;

/** Reads the header of a PNG, JPEG or TIFF file without a decoder; null when it is none, or one that a decoder must look at. */
export function readStillHeader(head: FileHead): StillHeader | null {
  const start = head.read(0, 8);
  if (start.length < 8) return null;
  const found = start.equals(PNG) ? readPng(head) : start.readUInt16BE(0) === 0xffd8 ? readJpeg(head) : readTiff(head, start);
  return found && isSide(found.width) && isSide(found.height) ? found : null;
}

const isSide = (pixels: number) => pixels > 0 && pixels <= LARGEST_SIDE;

/** A pixel is as much wider than high as there are fewer of them along a line. */
const aspectOf = (perUnitX: number, perUnitY: number) => (perUnitX > 0 && perUnitY > 0 ? perUnitY / perUnitX : null);

const PNG = Buffer.from([0x89, 0x50, 0x4e, 0x47, 0x0d, 0x0a, 0x1a, 0x0a]);

/** PNG (ISO/IEC 15948): `IHDR` first, width at 16 and height at 20; `pHYs`, pixels per unit along x and y, before the first `IDAT`. */
function readPng(head: FileHead): StillHeader | null {
  const first = head.read(8, 16);
  if (first.length < 16 || first.toString('latin1', 4, 8) !== 'IHDR') return null;
  const [width, height] = [first.readUInt32BE(8), first.readUInt32BE(12)];
  let pixelAspect: number | null = null;
  let at = 8;
  for (let n = 0; n < MOST_PARTS; n++) {
    const part = head.read(at, 16);
    if (part.length < 16) break;
    const type = part.toString('latin1', 4, 8);
    if (type === 'pHYs') pixelAspect = aspectOf(part.readUInt32BE(8), part.readUInt32BE(12));
    if (type === 'pHYs' || type === 'IDAT') break;
    at += 12 + part.readUInt32BE(0);
  }
  return { width, height, pixelAspect, codec: 'png' };
}

/**
 * JPEG (ISO/IEC 10918-1): the frame header `SOFn` has height at 5 and width at 7, counted from its marker; JFIF 1.02: `APP0`
 * has the densities along x and y at 12 and 14. A height of 0 stands elsewhere and is left to the decoder.
 */
function readJpeg(head: FileHead): StillHeader | null {
  let pixelAspect: number | null = null;
  let at = 2;
  for (let n = 0; n < MOST_PARTS; n++) {
    const part = head.read(at, 18);
    if (part.length < 10 || part[0] !== 0xff) return null;
    const marker = part[1] as number;
    // Bytes of 0xff may fill the way to a marker.
    if (marker === 0xff) {
      at++;
      continue;
    }
    if (isFrameHeader(marker)) return { width: part.readUInt16BE(7), height: part.readUInt16BE(5), pixelAspect, codec: 'mjpeg' };
    if (marker === 0xda || marker === 0xd9) return null;
    if (marker === 0xe0 && part.length === 18 && part.toString('latin1', 4, 9) === 'JFIF\0')
      pixelAspect = aspectOf(part.readUInt16BE(12), part.readUInt16BE(14));
    at += 2 + part.readUInt16BE(2);
  }
  return null;
}

/** `SOF0` to `SOF15`, but for the three codes among them that mean other things: `DHT`, `JPG`, `DAC`. */
const isFrameHeader = (marker: number) => marker >= 0xc0 && marker <= 0xcf && marker !== 0xc4 && marker !== 0xc8 && marker !== 0xcc;

const SHORT = 3;
const LONG = 4;
const RATIONAL = 5;
const [WIDTH, LENGTH, X_RESOLUTION, Y_RESOLUTION] = [256, 257, 282, 283];

/** TIFF 6.0, either byte order: the first directory's ImageWidth, ImageLength, XResolution and YResolution. */
function readTiff(head: FileHead, start: Buffer): StillHeader | null {
  const order = start.toString('latin1', 0, 4);
  const little = order === 'II*\0';
  if (!little && order !== 'MM\0*') return null;
  const u16 = (b: Buffer, at: number) => (little ? b.readUInt16LE(at) : b.readUInt16BE(at));
  const u32 = (b: Buffer, at: number) => (little ? b.readUInt32LE(at) : b.readUInt32BE(at));
  const directory = u32(start, 4);
  const counted = head.read(directory, 2);
  if (counted.length < 2) return null;
  const entries = head.read(directory + 2, 12 * Math.min(MOST_PARTS, u16(counted, 0)));
  const values = new Map<number, number>();
  for (let at = 0; at + 12 <= entries.length; at += 12) {
    const tag = u16(entries, at);
    const type = u16(entries, at + 2);
    if (tag === WIDTH || tag === LENGTH) {
      if (type === SHORT || type === LONG) values.set(tag, type === SHORT ? u16(entries, at + 8) : u32(entries, at + 8));
    } else if ((tag === X_RESOLUTION || tag === Y_RESOLUTION) && type === RATIONAL) {
      const ratio = head.read(u32(entries, at + 8), 8);
      if (ratio.length === 8 && u32(ratio, 4) > 0) values.set(tag, u32(ratio, 0) / u32(ratio, 4));
    }
  }
  const [width = 0, height = 0] = [values.get(WIDTH), values.get(LENGTH)];
  return { width, height, pixelAspect: aspectOf(values.get(X_RESOLUTION) ?? 0, values.get(Y_RESOLUTION) ?? 0), codec: 'tiff' };
}
