import { mkdir, readdir, rm, stat, utimes } from 'node:fs/promises';
import { availableParallelism } from 'node:os';
import path from 'node:path';
import { copyName, isCopied, type Original } from '@gemello/core';
import { isFaultOfFile, type Lane } from '@gemello/media';
import pLimit from 'p-limit';
import { DATA } from './config';
import { RequestError } from './http';
import { mediaThreads } from './media';
import type { Workspace } from './workspace';

/** Viewing copies are kept for all jobs together, by what the files of their clips are: the same clip is copied once. */
export const COPIES = path.join(DATA, 'copies');

/** Bytes that copies may take, `GEMELLO_COPIES_GB` thousand millions; those that were looked at longest ago go first. */
const ROOM = Number(process.env.GEMELLO_COPIES_GB ?? 20) * 1e9;

export const copyFile = (original: Original, section: number): string => path.join(COPIES, copyName(original, section));

/** Copies that are being made, so that two who want one do not make it twice. */
const underWay = new Map<string, Promise<number>>();

/** A copy takes a second or more: some threads are left to the pictures that people wait for beside it. */
const turn = pLimit(Math.max(1, availableParallelism() >> 1));

/** The file of a viewing copy, made now where there is none. Throws RequestError 404 where the clip has nothing there. */
export async function viewingCopy(w: Workspace, clip: string, section: number): Promise<string> {
  const original = clip === w.reference?.movie.path ? w.reference.movie : (w.reachable.get(clip) ?? w.standIns.get(clip));
  if (!original || !isCopied(original)) throw new RequestError(404, 'There is no moving picture of that name here.');
  const file = copyFile(original, section);
  await turn(() => makeSure(original, section, { lane: 'waited' })).catch((error) => {
    if (isFaultOfFile(error)) throw new RequestError(404, error.message);
    throw error;
  });
  // It was looked at just now.
  const now = new Date();
  await utimes(file, now, now);
  return file;
}

/** Makes a copy unless it is there. */
export async function makeSure(original: Original, section: number, how: { lane: Lane; signal?: AbortSignal }): Promise<void> {
  const file = copyFile(original, section);
  if (await stat(file).catch(() => null)) return;
  const known = underWay.get(file);
  if (known) {
    await known;
    return;
  }
  const made = mediaThreads().makeCopy({ original, section, file }, how);
  underWay.set(file, made);
  try {
    await made;
  } finally {
    underWay.delete(file);
  }
  if (Date.now() - lookedAt > LOOKED_EACH) {
    lookedAt = Date.now();
    await makeRoom();
  }
}

/** How much room copies take is looked at no more often than this, in milliseconds, since there may be thousands. */
const LOOKED_EACH = 30_000;
let lookedAt = 0;

/** Lets go of the copies that were looked at longest ago, until the others have room. */
async function makeRoom(): Promise<void> {
  await mkdir(COPIES, { recursive: true });
  const names = (await readdir(COPIES)).filter((name) => name.endsWith('.mp4') && !name.endsWith('.part.mp4'));
  const files = await Promise.all(
    names.map(async (name) => {
      const file = path.join(COPIES, name);
      const found = await stat(file).catch(() => null);
      return { file, size: found?.size ?? 0, at: found?.mtimeMs ?? 0 };
    }),
  );
  let held = 0;
  for (const { file, size } of files.sort((a, b) => b.at - a.at)) {
    held += size;
    if (held > ROOM) await rm(file, { force: true });
  }
}
