import type { FileHead } from './file';

/** Files whose structure is looked at for more top-level parts than this are taken as they are. */
const MOST_PARTS = 100_000;

/**
 * How many bytes a movie file lacks at its end, by what its own top-level structure promises: atoms of
 * QuickTime and MP4 (ISO/IEC 14496-12), chunks of RIFF (AVI), KLV packets of MXF (SMPTE ST 336, 16-byte
 * keys, BER lengths). 0 when it is whole, or is of another kind. Only headers are read.
 */
export function missingBytes({ size, read }: FileHead): number {
  const head = read(0, 16);
  if (head.length < 16) return 0;
  if (/^(ftyp|moov|mdat|wide|free|skip|pnot)$/.test(head.toString('latin1', 4, 8))) return walk(size, (at) => atomLength(read(at, 16)));
  if (head.toString('latin1', 0, 4) === 'RIFF') return Math.max(0, head.readUInt32LE(4) + 8 - size);
  if (head.readUInt32BE(0) === 0x060e2b34) return walk(size, (at) => klvLength(read(at, 25)));
  return 0;
}

/** Steps from part to part; what the last one promises past the end of the file is missing. */
function walk(size: number, lengthAt: (at: number) => number | null): number {
  let at = 0;
  for (let n = 0; at < size && n < MOST_PARTS; n++) {
    const length = lengthAt(at);
    if (length === null || length <= 0) return 0;
    at += length;
  }
  return Math.max(0, at - size);
}

function atomLength(head: Buffer): number | null {
  if (head.length < 8) return null;
  const short = head.readUInt32BE(0);
  // 0: to the end of the file; 1: the length stands in the next eight bytes.
  if (short === 1) return head.length < 16 ? null : Number(head.readBigUInt64BE(8));
  return short < 8 ? null : short;
}

function klvLength(head: Buffer): number | null {
  if (head.length < 17 || head.readUInt32BE(0) !== 0x060e2b34) return null;
  const first = head[16] as number;
  if (first < 0x80) return 17 + first;
  const count = first & 0x7f;
  if (count === 0 || count > 8 || head.length < 17 + count) return null;
  let length = 0;
  for (let i = 0; i < count; i++) length = length * 256 + (head[17 + i] as number);
  return 17 + count + length;
}
