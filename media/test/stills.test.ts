import { execFileSync } from 'node:child_process';
import { readFileSync, writeFileSync } from 'node:fs';
import fc from 'fast-check';
import { afterAll, describe, expect, it } from 'vitest';
import { probeStill } from '../src';
import { withHead } from '../src/headers/file';
import { readStillHeader } from '../src/headers/stills';
import { scratch } from './scratch';

const { at, end } = scratch();
afterAll(end);

const put = (name: string, bytes: Uint8Array) => {
  writeFileSync(at(name), bytes);
  return at(name);
};
const read = (name: string, bytes: Uint8Array) => withHead(put(name, bytes), readStillHeader);
const made = (name: string, size: string, ...args: string[]) => {
  execFileSync('ffmpeg', [
    '-v',
    'error',
    '-y',
    '-f',
    'lavfi',
    '-i',
    `testsrc=size=${size}:rate=1:duration=1`,
    '-frames:v',
    '1',
    ...args,
    at(name),
  ]);
  return at(name);
};
const exiftool = (file: string) => JSON.parse(execFileSync('exiftool', ['-json', '-n', file]).toString())[0];
const u32 = (n: number) => [n >>> 24, (n >>> 16) & 255, (n >>> 8) & 255, n & 255];

/** A part of a PNG file: length, type, data; the check sum is left out of account. */
const part = (type: string, data: number[]) => [...u32(data.length), ...Buffer.from(type), ...data, 0, 0, 0, 0];
const png = (...more: number[]) =>
  Buffer.from([
    0x89,
    ...Buffer.from('PNG\r\n\x1a\n'),
    ...part('IHDR', [...u32(640), ...u32(360), 8, 2, 0, 0, 0]),
    ...more,
    ...part('IDAT', [1, 2]),
  ]);

/** A JPEG file as far as its frame header: start, the segments given, `SOF0` of 640 by 360. */
const jpeg = (segments: readonly number[] = []) =>
  Buffer.from([0xff, 0xd8, ...segments, 0xff, 0xc0, 0, 17, 8, 0x01, 0x68, 0x02, 0x80, 3, 1, 0x22, 0, 2, 0x11, 1, 3, 0x11, 1]);
const jfif = (x: number, y: number) => [0xff, 0xe0, 0, 16, ...Buffer.from('JFIF\0'), 1, 2, 1, x >> 8, x & 255, y >> 8, y & 255, 0, 0];

/** A TIFF file with its directory at the end, as many programs write it. */
function tiff(little: boolean, resolution?: [number, number]): Buffer {
  const bytes = Buffer.alloc(6000);
  const w16 = (n: number, to: number) => (little ? bytes.writeUInt16LE(n, to) : bytes.writeUInt16BE(n, to));
  const w32 = (n: number, to: number) => (little ? bytes.writeUInt32LE(n, to) : bytes.writeUInt32BE(n, to));
  bytes.write(little ? 'II*\0' : 'MM\0*', 'latin1');
  const directory = 5800;
  w32(directory, 4);
  const entries: [number, number, number][] = [
    [256, 3, 640],
    [257, 4, 360],
  ];
  if (resolution) entries.push([282, 5, 5000], [283, 5, 5008]);
  w16(entries.length, directory);
  entries.forEach(([tag, type, value], i) => {
    const to = directory + 2 + i * 12;
    w16(tag, to);
    w16(type, to + 2);
    w32(1, to + 4);
    if (type === 3) w16(value, to + 8);
    else w32(value, to + 8);
  });
  resolution?.forEach((perInch, i) => {
    w32(perInch * 10, 5000 + i * 8);
    w32(10, 5004 + i * 8);
  });
  return bytes;
}

describe('headers of stills', () => {
  it('of PNG: IHDR, and pHYs before the picture (ISO/IEC 15948)', () => {
    expect(read('a.png', png())).toEqual({ width: 640, height: 360, pixelAspect: null, codec: 'png' });
    // Half as many pixels a metre along a line as down a column: each is twice as wide as high.
    const wide = part('pHYs', [...u32(1000), ...u32(2000), 1]);
    expect(read('b.png', png(...part('tEXt', u32(0)), ...wide))?.pixelAspect).toBe(2);
  });
  it('of JPEG: the frame header wherever it stands, and the densities of JFIF 1.02', () => {
    expect(read('a.jpg', jpeg())).toEqual({ width: 640, height: 360, pixelAspect: null, codec: 'mjpeg' });
    expect(read('b.jpg', jpeg(jfif(72, 144)))?.pixelAspect).toBe(2);
    const metadata = Array.from({ length: 3 }, () => [0xff, 0xe1, 0xea, 0x60, ...new Array(0xea60 - 2).fill(7)]).flat();
    expect(read('c.jpg', jpeg([...jfif(300, 300), ...metadata, 0xff, 0xff]))).toMatchObject({ width: 640, height: 360, pixelAspect: 1 });
    // Tables of Huffman codes have a code between those of frame headers.
    expect(read('d.jpg', jpeg([0xff, 0xc4, 0, 8, 9, 9, 9, 9, 9, 9]))).toMatchObject({ width: 640, height: 360 });
  });
  it('of TIFF 6.0: either byte order, its directory at the end, numbers of two sizes', () => {
    for (const little of [true, false]) {
      expect(read('a.tif', tiff(little))).toEqual({ width: 640, height: 360, pixelAspect: null, codec: 'tiff' });
      expect(read('b.tif', tiff(little, [300, 150]))?.pixelAspect).toBe(0.5);
    }
  });
  it.each([
    ['png', ['rgb24', 'rgb48be', 'gray']],
    ['jpg', ['yuvj420p', 'yuvj444p']],
    ['tif', ['rgb24', 'rgb48le', 'gray']],
  ])('of %s agree with the exiftool and iinfo programs at many sizes', (extension, formats) => {
    for (const [i, size] of ['16x16', '322x182', '1998x1080', '4096x64'].entries()) {
      const file = made(`made.${extension}`, size, '-pix_fmt', formats[i % formats.length] as string);
      const [width, height] = size.split('x').map(Number);
      expect(withHead(file, readStillHeader)).toMatchObject({ width, height });
      expect(probeStill(file).raster).toEqual({ width, height });
      const told = exiftool(file);
      expect([told.ImageWidth, told.ImageHeight]).toEqual([width, height]);
      expect(execFileSync('iinfo', [file]).toString()).toMatch(new RegExp(`: +${width} x +${height}`));
    }
  });
  it('that are of another kind, or a decoder must look at, are left to it', () => {
    expect(read('a.png', Buffer.from('RIFF\x10\0\0\0WEBPVP8 '))).toBeNull();
    // A height of 0: it is written after the first lines (ISO/IEC 10918-1, DNL).
    const later = jpeg();
    later.writeUInt16BE(0, 7);
    expect(read('e.jpg', later)).toBeNull();
    expect(read('f.jpg', Buffer.from([0xff, 0xd8, 0xff, 0xda, 0, 8, 1, 1, 1, 1, 1, 1]))).toBeNull();
    expect(read('c.tif', tiff(true).subarray(0, 5000))).toBeNull();
  });
  it('never throw, never hang, whatever the bytes', () => {
    const whole = [
      png(...part('pHYs', [...u32(1), ...u32(1), 1])),
      jpeg(jfif(1, 1)),
      tiff(true, [1, 2]),
      tiff(false, [1, 2]),
      readFileSync(made('x.jpg', '64x64')),
    ];
    const side = (n: number) => n > 0 && n <= 1 << 20;
    for (const bytes of whole)
      fc.assert(
        fc.property(fc.array(fc.tuple(fc.nat(bytes.length - 1), fc.nat(255)), { maxLength: 12 }), fc.nat(bytes.length), (flips, cut) => {
          const damaged = Buffer.from(bytes);
          for (const [place, value] of flips) damaged[place] = value;
          const found = read('damaged.bin', damaged.subarray(0, cut < 8 ? damaged.length : cut));
          expect(found === null || (side(found.width) && side(found.height))).toBe(true);
        }),
        { numRuns: 200 },
      );
  });
});
