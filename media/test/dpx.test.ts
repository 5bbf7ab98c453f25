import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { dpxFrame } from '../../demo/src/dpx';
import { DPX_HEADER_BYTES, readDpxHeader } from '../src/headers/dpx';

/** A header written by hand, byte offsets as SMPTE ST 268-1 names them; every unset byte is 0xff. */
function header(little: boolean, change: (view: DataView, bytes: Buffer) => void = () => {}): Buffer {
  const bytes = Buffer.alloc(DPX_HEADER_BYTES, 0xff);
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  view.setUint32(0, 0x53445058, little); // magic number: SDPX, or XPDS when little-endian
  view.setUint32(772, 2048, little); // pixels per line
  view.setUint32(776, 1152, little); // lines per image element
  bytes.fill(0, 1556, 1588); // input device name
  bytes.set(new TextEncoder().encode('A017'), 1556);
  view.setFloat32(1724, 24, little); // frame rate of original, film
  view.setUint32(1920, 0x10223307, little); // timecode, eight BCD digits
  view.setFloat32(1940, 23.976, little); // temporal sampling rate, television
  change(view, bytes);
  return bytes;
}

describe('the DPX header (SMPTE ST 268-1)', () => {
  it.each([false, true])('is read in either byte order (little: %s)', (little) => {
    const found = readDpxHeader(header(little));
    expect(found).toMatchObject({ width: 2048, height: 1152, timecode: '10:22:33:07', inputDevice: 'A017' });
    expect(found?.framesPerSecond).toBeCloseTo(23.976, 3);
  });
  it('takes the film rate where the television rate is unset', () => {
    expect(readDpxHeader(header(false, (v) => v.setUint32(1940, 0xffffffff)))?.framesPerSecond).toBe(24);
  });
  it('has no timecode where it is unset or not decimal', () => {
    expect(readDpxHeader(header(false, (v) => v.setUint32(1920, 0xffffffff)))?.timecode).toBeNull();
    expect(readDpxHeader(header(false, (v) => v.setUint32(1920, 0x1a223307)))?.timecode).toBeNull();
  });
  it('has no reel where the name is unset or not printable', () => {
    expect(readDpxHeader(header(false, (_, b) => b.fill(0xff, 1556, 1588)))?.inputDevice).toBe('');
    expect(readDpxHeader(header(false, (_, b) => b.fill(7, 1556, 1560)))?.inputDevice).toBe('');
  });
  it('is none in a file that is cut off or something else', () => {
    expect(readDpxHeader(header(false).subarray(0, 2000))).toBeNull();
    expect(readDpxHeader(header(false, (v) => v.setUint32(0, 0x89504e47)))).toBeNull();
  });
  it('never throws, whatever the bytes', () => {
    fc.assert(
      fc.property(
        fc.uint8Array({ minLength: 0, maxLength: 2100 }),
        (bytes) => readDpxHeader(Buffer.from(bytes)) === null || bytes.length >= DPX_HEADER_BYTES,
      ),
    );
    fc.assert(
      fc.property(fc.array(fc.tuple(fc.nat(DPX_HEADER_BYTES - 1), fc.nat(255)), { maxLength: 40 }), (flips) => {
        const bytes = header(false);
        for (const [at, value] of flips) bytes[at] = value;
        const found = readDpxHeader(bytes);
        return found === null || found.timecode === null || /^\d\d:\d\d:\d\d[:;]\d\d$/.test(found.timecode);
      }),
    );
  });
  it('of the frames the demo writes says what was asked', () => {
    const file = dpxFrame(new Uint8ClampedArray(4 * 4 * 2), 4, 2, {
      timecode: '02:00:00:14',
      framesPerSecond: 24,
      device: 'S001',
      name: 'x.dpx',
      position: 0,
    });
    expect(readDpxHeader(Buffer.from(file))).toMatchObject({
      width: 4,
      height: 2,
      timecode: '02:00:00:14',
      framesPerSecond: 24,
      inputDevice: 'S001',
    });
    expect(file.length).toBe(2048 + 4 * 2 * 4);
  });
});
