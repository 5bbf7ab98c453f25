import { createHash } from 'node:crypto';
import { closeSync, fstatSync, openSync, readSync } from 'node:fs';
import path from 'node:path';
import type { Algorithm, MeasuredChecksum } from '@gemello/core';
import { createXXHash3, createXXHash64, createXXHash128 } from 'hash-wasm';
import { MediaError } from '../plain';
import { type Report, type StopSignal, stopIfAsked } from './task';

export interface ChecksumsPayload {
  /** Each file with the algorithms it is measured by; all of them in one reading. */
  readonly files: readonly { readonly path: string; readonly algorithms: readonly Algorithm[] }[];
}

/** Read at once, in bytes. */
const PART = 4 * 1024 * 1024;

/** Something that takes a file part by part and gives its checksum at the end. */
interface Summing {
  update(part: Uint8Array): unknown;
  end(): string;
}

async function summing(algorithm: Algorithm): Promise<Summing> {
  if (algorithm === 'md5' || algorithm === 'sha1') {
    const hash = createHash(algorithm);
    return { update: (part) => hash.update(part), end: () => hash.digest('hex') };
  }
  if (algorithm === 'c4') {
    const hash = createHash('sha512');
    return { update: (part) => hash.update(part), end: () => c4Of(hash.digest()) };
  }
  const hash = await (algorithm === 'xxh64' ? createXXHash64() : algorithm === 'xxh3' ? createXXHash3() : createXXHash128());
  hash.init();
  return { update: (part) => hash.update(part), end: () => hash.digest('hex') };
}

const BASE_58 = '123456789ABCDEFGHJKLMNPQRSTUVWXYZabcdefghijkmnopqrstuvwxyz';

/** The C4 identifier of a SHA-512 digest: `c4` and 88 places of base 58, ones in front (SMPTE ST 2114). */
export function c4Of(digest: Uint8Array): string {
  let rest = BigInt(`0x${Buffer.from(digest).toString('hex')}`);
  let text = '';
  for (; rest > 0n; rest /= 58n) text = BASE_58[Number(rest % 58n)] + text;
  return `c4${text.padStart(88, '1')}`;
}

/** Measures whole files, opened read-only. Progress counts bytes. Throws MediaError when one cannot be read. */
export async function measureChecksums({ files }: ChecksumsPayload, report: Report, signal: StopSignal): Promise<MeasuredChecksum[]> {
  const found: MeasuredChecksum[] = [];
  const part = Buffer.alloc(PART);
  let before = 0;
  for (const { path: file, algorithms } of files) {
    const name = path.basename(file);
    const sums = await Promise.all(algorithms.map(async (algorithm) => ({ algorithm, hash: await summing(algorithm) })));
    const handle = open(file);
    try {
      const { size } = fstatSync(handle);
      for (let at = 0; ; ) {
        stopIfAsked(signal);
        const length = readSync(handle, part, 0, PART, at);
        if (length === 0) break;
        at += length;
        for (const { hash } of sums) hash.update(part.subarray(0, length));
        report({ done: before + at, total: before + size, what: name });
      }
      before += size;
    } catch (error) {
      if ('code' in (error as object)) throw new MediaError(`${name} cannot be read to its end: ${(error as Error).message}`);
      throw error;
    } finally {
      closeSync(handle);
    }
    for (const { algorithm, hash } of sums) found.push({ file: name, algorithm, value: hash.end() });
  }
  return found;
}

function open(file: string): number {
  try {
    return openSync(file, 'r');
  } catch (error) {
    throw new MediaError(`Cannot open ${path.basename(file)}: ${(error as Error).message}`);
  }
}
