/** Headers written by hand from the standards, for the tests. */

const ascii = (text: string) => Buffer.from(text, 'latin1');
const u32 = (n: number) => {
  const b = Buffer.alloc(4);
  b.writeUInt32LE(n >>> 0);
  return b;
};
const i32 = (n: number) => {
  const b = Buffer.alloc(4);
  b.writeInt32LE(n);
  return b;
};
const f32 = (n: number) => {
  const b = Buffer.alloc(4);
  b.writeFloatLE(n);
  return b;
};

/** An attribute of OpenEXR: name, type, size, value (OpenEXR file layout). */
const attribute = (name: string, type: string, value: Buffer) => Buffer.concat([ascii(`${name}\0${type}\0`), u32(value.length), value]);

/** SMPTE ST 12-1 digits as `Imf::TimeCode` packs them for television at 60 fields: BCD with flags between. */
export function packedTimecode(hours: number, minutes: number, seconds: number, frames: number, drop: boolean): number {
  const bcd = (n: number) => (Math.floor(n / 10) << 4) | (n % 10);
  return ((bcd(hours) << 24) | (bcd(minutes) << 16) | (bcd(seconds) << 8) | bcd(frames) | (drop ? 1 << 6 : 0)) >>> 0;
}

/** An OpenEXR file of one channel and no compression, black, with the attributes given. */
export function exr(
  width: number,
  height: number,
  more: { timecode?: number; fps?: [number, number]; reel?: string; aspect?: number },
): Buffer {
  const box = Buffer.concat([i32(0), i32(0), i32(width - 1), i32(height - 1)]);
  // One channel: name, pixel type 1 (half), pLinear, three reserved bytes, x and y sampling.
  const channels = Buffer.concat([ascii('Y\0'), u32(1), Buffer.from([0, 0, 0, 0]), u32(1), u32(1), Buffer.from([0])]);
  const header = Buffer.concat([
    u32(20000630), // magic number 0x01312f76
    u32(2), // version 2, scan lines
    attribute('channels', 'chlist', channels),
    attribute('compression', 'compression', Buffer.from([0])),
    attribute('dataWindow', 'box2i', box),
    attribute('displayWindow', 'box2i', box),
    attribute('lineOrder', 'lineOrder', Buffer.from([0])),
    attribute('pixelAspectRatio', 'float', f32(more.aspect ?? 1)),
    attribute('screenWindowCenter', 'v2f', Buffer.concat([f32(0), f32(0)])),
    attribute('screenWindowWidth', 'float', f32(1)),
    ...(more.timecode === undefined ? [] : [attribute('timeCode', 'timecode', Buffer.concat([u32(more.timecode), u32(0)]))]),
    ...(more.fps ? [attribute('framesPerSecond', 'rational', Buffer.concat([i32(more.fps[0]), u32(more.fps[1])]))] : []),
    ...(more.reel ? [attribute('reelName', 'string', ascii(more.reel))] : []),
    Buffer.from([0]),
  ]);
  const row = width * 2;
  const first = header.length + height * 8;
  const offsets = Buffer.alloc(height * 8);
  const lines: Buffer[] = [];
  for (let y = 0; y < height; y++) {
    offsets.writeBigUInt64LE(BigInt(first + y * (row + 8)), y * 8);
    lines.push(i32(y), u32(row), Buffer.alloc(row));
  }
  return Buffer.concat([header, offsets, ...lines]);
}

const chunk = (id: string, body: Buffer) => Buffer.concat([ascii(id), u32(body.length), body, Buffer.alloc(body.length % 2)]);

/** A Broadcast Wave file: mono, 48 kHz, 16 bits, silent (EBU Tech 3285: time reference at byte 338 of `bext`). */
export function wav(seconds: number, more: { samplesSinceMidnight?: number; ixml?: string }): Buffer {
  const format = Buffer.alloc(16);
  format.writeUInt16LE(1, 0); // PCM
  format.writeUInt16LE(1, 2); // channels
  format.writeUInt32LE(48_000, 4);
  format.writeUInt32LE(96_000, 8);
  format.writeUInt16LE(2, 12);
  format.writeUInt16LE(16, 14);
  const bext = Buffer.alloc(602);
  bext.write('slate of the salt house', 0, 'latin1'); // description, 256
  bext.write('recorder', 256, 'latin1'); // originator, 32
  bext.write('2026-04-12', 320, 'latin1'); // origination date
  bext.write('05:41:12', 330, 'latin1'); // origination time
  const since = more.samplesSinceMidnight ?? 0;
  bext.writeUInt32LE(since % 2 ** 32, 338);
  bext.writeUInt32LE(Math.floor(since / 2 ** 32), 342);
  bext.writeUInt16LE(1, 346); // version
  const body = Buffer.concat([
    ascii('WAVE'),
    ...(more.samplesSinceMidnight === undefined ? [] : [chunk('bext', bext)]),
    chunk('fmt ', format),
    ...(more.ixml ? [chunk('iXML', ascii(more.ixml))] : []),
    chunk('data', Buffer.alloc(seconds * 96_000)),
  ]);
  return Buffer.concat([ascii('RIFF'), u32(body.length), body]);
}
