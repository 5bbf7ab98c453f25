import type { BigIntStats, StatsFs } from 'node:fs';

/**
 * What the kernel and a file system that is a program say to each other: FUSE, protocol 7.31, numbers little endian. From memory of the
 * kernel's header fuse.h; held against the kernel itself by e2e/soak.spec.ts.
 */
export const OP = {
  lookup: 1,
  forget: 2,
  getattr: 3,
  setattr: 4,
  mkdir: 9,
  unlink: 10,
  rmdir: 11,
  rename: 12,
  open: 14,
  read: 15,
  write: 16,
  statfs: 17,
  release: 18,
  fsync: 20,
  flush: 25,
  init: 26,
  opendir: 27,
  readdir: 28,
  releasedir: 29,
  fsyncdir: 30,
  access: 34,
  create: 35,
  interrupt: 36,
  batchForget: 42,
  rename2: 45,
} as const;

/** The most bytes that are written at once, and room for a request that carries them. */
export const MOST = 128 * 1024;
export const ROOM = MOST + 4096;

/** Which of the attributes are set by a `setattr`, bit by bit. */
export const SETS = { mode: 1, size: 8, accessed: 16, modified: 32, accessedNow: 128, modifiedNow: 256 } as const;

/** A request: whom it is about, and what comes with it. */
export interface Request {
  readonly op: number;
  readonly unique: bigint;
  readonly node: bigint;
  readonly body: Buffer;
}

const HEADER = 40;
/** Reads one request; its body is a copy. */
export const requestIn = (bytes: Buffer): Request => ({
  op: bytes.readUInt32LE(4),
  unique: bytes.readBigUInt64LE(8),
  node: bytes.readBigUInt64LE(16),
  body: Buffer.from(bytes.subarray(HEADER, bytes.readUInt32LE(0))),
});

/** Names in a body, one after the other, each ended by a zero. */
export const namesIn = (body: Buffer, from: number): string[] => body.subarray(from).toString().split('\0').slice(0, -1);

/** An answer: nothing, bytes, or a fault as the number below zero that the kernel knows. */
export function answer(unique: bigint, said: Buffer | number): Buffer {
  const body = typeof said === 'number' ? Buffer.alloc(0) : said;
  const header = Buffer.alloc(16);
  header.writeUInt32LE(16 + body.length, 0);
  header.writeInt32LE(typeof said === 'number' ? said : 0, 4);
  header.writeBigUInt64LE(unique, 8);
  return Buffer.concat([header, body]);
}

/** Numbers one after the other: `[bytes, value]`, 2, 4 or 8 bytes each. */
export function packed(...fields: readonly (readonly [2 | 4 | 8, number | bigint])[]): Buffer {
  const bytes = Buffer.alloc(fields.reduce((sum, [size]) => sum + size, 0));
  let at = 0;
  for (const [size, value] of fields) {
    if (size === 8) bytes.writeBigUInt64LE(BigInt(value), at);
    else if (size === 4) bytes.writeUInt32LE(Number(value), at);
    else bytes.writeUInt16LE(Number(value), at);
    at += size;
  }
  return bytes;
}

const GREETING_LENGTH = 64;
/** The answer to the first request: the protocol that is spoken, and how much is written at once. */
export function greeting(): Buffer {
  const said = packed([4, 7], [4, 31], [4, MOST], [4, 0], [2, 16], [2, 12], [4, MOST], [4, 1]);
  return Buffer.concat([said, Buffer.alloc(GREETING_LENGTH - said.length)]);
}

const SECOND = 1_000_000_000n;
/** The attributes of a file, which is so long. */
function attributes(stat: BigIntStats, size: bigint): Buffer {
  const times = [stat.atimeNs, stat.mtimeNs, stat.ctimeNs];
  return Buffer.concat([
    packed([8, stat.ino], [8, size], [8, stat.blocks]),
    packed(...times.map((t) => [8, t / SECOND] as const), ...times.map((t) => [4, t % SECOND] as const)),
    packed([4, stat.mode], [4, stat.nlink], [4, stat.uid], [4, stat.gid], [4, 0], [4, stat.blksize], [4, 0]),
  ]);
}

/** What a name leads to. Nothing of it may be remembered, since it may fail at any moment. */
export const entryOut = (node: bigint, stat: BigIntStats, size: bigint): Buffer =>
  Buffer.concat([packed([8, node], [8, 0], [8, 0], [8, 0], [4, 0], [4, 0]), attributes(stat, size)]);
export const attributesOut = (stat: BigIntStats, size: bigint): Buffer =>
  Buffer.concat([packed([8, 0], [4, 0], [4, 0]), attributes(stat, size)]);

/** Names of a folder from one on, as many as fit. `kind`: 4 for a folder, 8 for a file. */
export function namesOut(names: readonly { name: string; kind: number }[], from: number, room: number): Buffer {
  const parts: Buffer[] = [];
  let length = 0;
  for (let i = from; i < names.length; i++) {
    const { name, kind } = names[i] as { name: string; kind: number };
    const said = Buffer.concat([packed([8, i + 1], [8, i + 1], [4, Buffer.byteLength(name)], [4, kind]), Buffer.from(name)]);
    const padded = Buffer.concat([said, Buffer.alloc(-said.length & 7)]);
    if (length + padded.length > room) break;
    parts.push(padded);
    length += padded.length;
  }
  return Buffer.concat(parts);
}

/** Room on the drive; `full`: none is left. */
export const roomOut = ({ blocks, bfree, bavail, files, ffree, bsize }: StatsFs, full: boolean): Buffer => {
  const left = (n: number) => (full ? 0 : n);
  const said = packed([8, blocks], [8, left(bfree)], [8, left(bavail)], [8, files], [8, ffree], [4, bsize], [4, 255], [4, bsize], [4, 0]);
  return Buffer.concat([said, Buffer.alloc(24)]);
};
