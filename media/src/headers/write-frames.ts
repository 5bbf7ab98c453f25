/** Headers of numbered frames, where the encoders leave out what a return needs: the fields and layouts are those of `dpx.ts` and `exr.ts`. */

/** What a numbered frame says of itself. */
export interface FrameSays {
  /** `HH:MM:SS:FF`, with `;` before the frames of a drop-frame count. */
  readonly timecode: string;
  readonly rate: { readonly num: number; readonly den: number };
  readonly reel: string;
  /** The clip it is a frame of, and its own file. */
  readonly clip: string;
  readonly fileName: string;
  /** Which frame of the clip it is, from 0. */
  readonly position: number;
}

const digitsOf = (timecode: string): number[] => timecode.split(/[:;]/).map(Number);
const bcd = (n: number): number => (Math.floor(n / 10) << 4) | (n % 10);

/**
 * Time as SMPTE ST 12-1 packs it in BCD. Bit 6 says drop frame (its place among the binary flags); tens of frames above 3 reach into it, so
 * that a drop-frame count above 39 frames cannot be said: null.
 */
function packed(timecode: string): number | null {
  const [hours = 0, minutes = 0, seconds = 0, frames = 0] = digitsOf(timecode);
  const drop = timecode.includes(';');
  if (drop && frames > 39) return null;
  return ((bcd(hours) << 24) | (bcd(minutes) << 16) | (bcd(seconds) << 8) | bcd(frames) | (drop ? 0x40 : 0)) >>> 0;
}

/** Text of at most `length - 1` plain letters, zeros behind it; other letters become `_`. */
function putText(file: Buffer, at: number, length: number, text: string): void {
  file.fill(0, at, at + length);
  file.write(text.replace(/[^\x20-\x7e]/g, '_').slice(0, length - 1), at, 'latin1');
}

/** Gives a big-endian DPX file (SMPTE ST 268-1) its timecode, rate, reel, name and position, and says that its values are those of ITU-R 709. In place. */
export function sayInDpx(file: Buffer, { timecode, rate, reel, fileName, position }: FrameSays): Buffer {
  const perSecond = rate.num / rate.den;
  // Transfer characteristic and colorimetric specification: 6, ITU-R 709.
  file.writeUInt8(6, 801);
  file.writeUInt8(6, 802);
  putText(file, 36, 100, fileName);
  putText(file, 1432, 100, fileName);
  putText(file, 1556, 32, reel);
  file.writeUInt32BE(position, 1712);
  file.writeFloatBE(perSecond, 1724);
  file.writeUInt32BE(packed(timecode) ?? 0xffffffff, 1920);
  file.writeFloatBE(perSecond, 1940);
  return file;
}

/**
 * Gives an OpenEXR file of one part its timecode, rate, reel and clip name as attributes. What stands behind the header moves, and the table of
 * where each piece begins with it. `timeCode` holds frames up to 39: above, it is left out, and the number of the file says it.
 */
export function sayInExr(file: Buffer, { timecode, rate, reel, clip }: FrameSays): Buffer {
  const attributes: Buffer[] = [];
  const add = (name: string, type: string, value: Buffer) => {
    const size = Buffer.alloc(4);
    size.writeUInt32LE(value.length);
    attributes.push(Buffer.from(`${name}\0${type}\0`, 'latin1'), size, value);
  };
  const time = (digitsOf(timecode)[3] ?? 0) > 39 || rate.num / rate.den > 40 ? null : packed(timecode);
  if (time !== null) {
    const value = Buffer.alloc(8);
    value.writeUInt32LE(time);
    add('timeCode', 'timecode', value);
  }
  const ratio = Buffer.alloc(8);
  ratio.writeInt32LE(rate.num);
  ratio.writeUInt32LE(rate.den, 4);
  add('framesPerSecond', 'rational', ratio);
  if (reel) add('reelName', 'string', Buffer.from(reel, 'utf8'));
  add('clipName', 'string', Buffer.from(clip, 'utf8'));
  const { end, pieces, names } = exrLayout(file);
  const more = Buffer.concat(attributes.filter((_, i) => !names.has(nameAt(attributes, i))));
  const table = Buffer.from(file.subarray(end + 1, end + 1 + pieces * 8));
  for (let i = 0; i < pieces; i++) table.writeBigUInt64LE(table.readBigUInt64LE(i * 8) + BigInt(more.length), i * 8);
  return Buffer.concat([file.subarray(0, end), more, Buffer.from([0]), table, file.subarray(end + 1 + pieces * 8)]);
}

/** The name of the attribute that the part `i` of a list of heads, sizes and values belongs to. */
const nameAt = (parts: readonly Buffer[], i: number): string => {
  const head = parts[i - (i % 3)]?.toString('latin1') ?? '';
  return head.slice(0, head.indexOf('\0'));
};

/** Lines in a piece, by the kind of compression (OpenEXR file layout): none, RLE, ZIPS, ZIP, PIZ, PXR24, B44, B44A. */
const LINES = [1, 1, 1, 16, 32, 16, 32, 32] as const;

/** Where the header ends (at its closing zero), how many pieces follow, and which attributes there are. */
function exrLayout(file: Buffer): { end: number; pieces: number; names: ReadonlySet<string> } {
  let [at, lines, height] = [8, 1, 0];
  const names = new Set<string>();
  while (file[at] !== 0) {
    const nameEnd = file.indexOf(0, at);
    const typeEnd = file.indexOf(0, nameEnd + 1);
    const name = file.toString('latin1', at, nameEnd);
    const size = file.readUInt32LE(typeEnd + 1);
    const value = typeEnd + 5;
    names.add(name);
    if (name === 'compression') lines = LINES[file[value] as number] ?? 1;
    if (name === 'dataWindow') height = file.readInt32LE(value + 12) - file.readInt32LE(value + 4) + 1;
    at = value + size;
  }
  return { end: at, pieces: Math.ceil(height / lines), names };
}
