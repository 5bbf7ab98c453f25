import { hash } from 'node:crypto';
import { closeSync, fstatSync, openSync, readSync, type Stats } from 'node:fs';

/** How much of a file's head is read at once, and how much of its tail makes its fingerprint, in bytes. */
const PART = 4 * 1024;
/** Before head and tail stands the size of the file, as a number of eight bytes. */
const SIZE_BYTES = 8;

/** A file opened read-only, once for all that is asked of its headers. What `read` gives is good until `close`. */
export interface FileHead {
  readonly size: number;
  readonly state: Stats;
  /** Bytes from a place; fewer where the file ends before. */
  read(at: number, length: number): Buffer;
  /** A quick fingerprint of the content: size, head and tail (SHA-1). */
  print(): string;
  close(): void;
}

/** Rooms for a head and a tail, used again and again: a card may hold a hundred thousand files. */
const rooms: Buffer[] = [];

/** Opens a file and reads its first 4 KB. Throws the system's error when it cannot. */
export function openHead(file: string): FileHead {
  const handle = openSync(file, 'r');
  const room = rooms.pop() ?? Buffer.alloc(SIZE_BYTES + 2 * PART);
  let there: number;
  let state: Stats;
  try {
    state = fstatSync(handle);
    there = readSync(handle, room, SIZE_BYTES, PART, 0);
  } catch (error) {
    closeSync(handle);
    rooms.push(room);
    throw error;
  }
  const size = there < PART ? there : state.size;
  // Methods, not functions held in names: the loader notes a name for each of those, every time.
  return {
    size,
    state,
    read(at, length) {
      const end = at + length;
      if (end <= there || there < PART) return room.subarray(SIZE_BYTES + Math.min(at, there), SIZE_BYTES + Math.min(end, there));
      const bytes = Buffer.allocUnsafe(Math.max(0, Math.min(length, size - at)));
      return bytes.length === 0 ? bytes : bytes.subarray(0, readSync(handle, bytes, 0, bytes.length, at));
    },
    print() {
      room.writeDoubleBE(size, 0);
      const head = SIZE_BYTES + there;
      const tail = size > there ? readSync(handle, room, head, PART, Math.max(there, size - PART)) : 0;
      return hash('sha1', room.subarray(0, head + tail));
    },
    close() {
      closeSync(handle);
      rooms.push(room);
    },
  };
}

/** Opens a file for one question and closes it whatever comes of it. */
export function withHead<T>(file: string, ask: (head: FileHead) => T): T {
  const head = openHead(file);
  try {
    return ask(head);
  } finally {
    head.close();
  }
}
