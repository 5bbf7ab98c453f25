import { mkdir, readFile } from 'node:fs/promises';
import path from 'node:path';
import { fileMark, type Original, PIECE_SECONDS } from '@gemello/core';
import { isFaultOfFile } from '@gemello/media';
import { COPIES } from './copies';
import { RequestError } from './http';
import { mediaThreads } from './media';
import type { Workspace } from './workspace';

/** What is heard: the guide sound that came as a file of its own, or the sound of the reference. */
export type HeardFrom = 'guide' | 'reference';

/** The file that is heard. Throws RequestError 404 where there is none, or it has no sound. */
function heard({ reference, guide }: Workspace, from: HeardFrom): Original {
  if (from === 'guide') {
    if (!guide) throw new RequestError(404, 'There is no guide sound.');
    return guide.sound;
  }
  if (!reference?.movie.sound) throw new RequestError(404, reference ? 'The reference has no sound.' : 'There is no reference.');
  return reference.movie;
}

/** A piece of what is heard, `PIECE_SECONDS` long: samples of left and right in turn, 48 000 a second, 16 bits, lower byte first. */
export async function soundPiece(w: Workspace, from: HeardFrom, piece: number): Promise<Uint8Array> {
  const movie = heard(w, from);
  const samples = await mediaThreads()
    .hearPiece({ path: movie.path, from: piece * PIECE_SECONDS, to: (piece + 1) * PIECE_SECONDS })
    .catch(asFault);
  return new Uint8Array(samples.buffer, samples.byteOffset, samples.byteLength);
}

/** How loud it is in each hundredth of a second, one byte each; reckoned once and kept beside the viewing copies. */
export async function soundPeaks(w: Workspace, from: HeardFrom): Promise<Uint8Array> {
  const movie = heard(w, from);
  const file = path.join(COPIES, `${fileMark(movie).replaceAll(/[^\w-]/g, '_')}-peaks.bin`);
  const kept = await readFile(file).catch(() => null);
  if (kept) return kept;
  await mkdir(COPIES, { recursive: true });
  const seconds = (movie.frames * movie.clock.den) / movie.clock.num;
  const made = underWay.get(file) ?? mediaThreads().hearPeaks({ path: movie.path, file, seconds }, { lane: 'background' });
  underWay.set(file, made);
  try {
    await made.catch(asFault);
  } finally {
    underWay.delete(file);
  }
  return readFile(file);
}

/** Peaks that are being reckoned, so that two who want them do not make them twice. */
const underWay = new Map<string, Promise<number>>();

function asFault(error: unknown): never {
  if (isFaultOfFile(error)) throw new RequestError(404, (error as Error).message);
  throw error;
}
