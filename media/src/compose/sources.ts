import { type Frames, hasFrame, heldFrame, isNeutral, type Original, type Viewing } from '@gemello/core';
import { LRUCache } from 'lru-cache';
import { AV_PIX_FMT_RGBA64LE, SWS_ACCURATE_RND, SWS_BICUBIC, SWS_FULL_CHR_H_INT } from 'node-av/constants';
import type { Frame } from 'node-av/lib';
import { hasAlpha, openPictures, type PictureReader } from '../engine/reader';
import { makeScaler, type Scaler } from '../engine/scaler';
import { stampOf } from '../probe';
import { stepsOf } from './colours';
import type { Pixels } from './place';

/** Whether numbered frames that are missing are taken for the picture before them, as in what is written, or for none. */
export type Gaps = 'held' | 'missing';

/** Pictures of originals at any size, readers and scalers kept open. Not for use by two callers at once. */
export interface Sources {
  /** Exactly frame `number` of a clip, graded; null where it has no such frame. What is given is not to be changed. */
  pixels(clip: Original, number: Frames, size: { width: number; height: number }, grade: Grade, use: string): Graded | null;
  /** Hands over the decoded frame itself, as its clip has it; false where there is none. */
  frame(clip: Original, number: Frames, use: string, take: (frame: Frame) => void): boolean;
  /** Whether a clip's pictures have an alpha of their own; undefined until one was decoded. */
  alphaOf(clip: Original): boolean | undefined;
  close(): void;
}

/** What is done to colours: a CDL, after it a LUT, and both once more for the eye alone. */
export interface Grade extends Viewing {
  readonly viewing: Viewing | null;
}

export const UNGRADED: Grade = { cdl: null, lut: null, viewing: null };
export const isUngraded = ({ cdl, lut }: Viewing): boolean => lut === null && (cdl === null || isNeutral(cdl));

export interface Graded extends Pixels {
  readonly alpha: boolean;
}

interface Opened {
  readonly reader: PictureReader;
  readonly scalers: Map<string, Scaler>;
}

const OPEN_AT_ONCE = 8;
/** Sizes of one clip for which a scaler is kept; a picture that grows asks for another one each frame. */
const SCALERS_AT_ONCE = 4;

/** A file that was replaced under the same path is another file; a scan may not have seen it yet, so that the file itself is asked. */
const markOf = (clip: Original): string => {
  try {
    return `${clip.path}\n${stampOf([clip.path]).stamp}\n${clip.pieces.length}`;
  } catch {
    return clip.path;
  }
};

/**
 * Opens a pool of sources. `keptBytes`: how much of what was scaled is kept for going back and forth. `threads`: how many
 * a decoder may use. `viewed`: as on a screen, looked at through what a person set for that; not for what is kept.
 */
export function openSources(threads: number, keptBytes: number, gaps: Gaps, viewed = false): Sources {
  const open = new LRUCache<string, Opened>({ max: OPEN_AT_ONCE, dispose: close });
  const kept = keptBytes > 0 ? new LRUCache<string, Graded>({ maxSize: keptBytes, sizeCalculation: (p) => p.data.byteLength }) : null;
  const alphas = new Map<string, boolean>();

  const opened = (clip: Original, use: string): { key: string; at: Opened } => {
    const key = `${markOf(clip)}\n${use}`;
    const known = open.get(key);
    if (known) return { key, at: known };
    const at: Opened = { reader: openPictures(clip, threads), scalers: new Map() };
    open.set(key, at);
    return { key, at };
  };

  const read = (clip: Original, number: Frames, use: string, take: (frame: Frame, at: Opened) => void): boolean => {
    const there = gaps === 'held' ? heldFrame(clip, number) : number;
    if (!hasFrame(clip, there)) return false;
    const { key, at } = opened(clip, use);
    let found = false;
    try {
      at.reader.read(there, there + 1, (frame, n) => {
        if (n === there) {
          alphas.set(clip.path, hasAlpha(frame));
          take(frame, at);
          found = true;
        }
        return false;
      });
    } catch (error) {
      open.delete(key);
      throw error;
    }
    return found;
  };

  return {
    pixels(clip, number, size, grade, use) {
      const key = `${markOf(clip)}\n${number}\n${size.width}x${size.height}`;
      let plain = kept?.get(key) ?? null;
      if (!plain)
        read(clip, number, use, (frame, at) => {
          const data = new Uint8Array(scalerOf(at, size).convert(frame).toBuffer());
          plain = {
            ...size,
            data: new Uint16Array(data.buffer, data.byteOffset, data.byteLength / 2),
            alpha: alphas.get(clip.path) ?? false,
          };
        });
      if (!plain) return null;
      kept?.set(key, plain);
      const steps = [grade, ...(viewed && grade.viewing ? [grade.viewing] : [])].flatMap(stepsOf);
      if (steps.length === 0) return plain;
      const data = plain.data.slice();
      for (const step of steps) step(data, 4);
      return { ...plain, data };
    },
    frame: (clip, number, use, take) => read(clip, number, use, take),
    alphaOf: (clip) => alphas.get(clip.path),
    close() {
      open.clear();
      kept?.clear();
    },
  };
}

function scalerOf({ scalers }: Opened, { width, height }: { width: number; height: number }): Scaler {
  const key = `${width}x${height}`;
  const known = scalers.get(key);
  if (known) return known;
  for (const [oldest, scaler] of scalers) {
    if (scalers.size < SCALERS_AT_ONCE) break;
    scalers.delete(oldest);
    scaler.free();
  }
  const made = makeScaler(width, height, AV_PIX_FMT_RGBA64LE, 'full', SWS_BICUBIC | SWS_ACCURATE_RND | SWS_FULL_CHR_H_INT);
  scalers.set(key, made);
  return made;
}

function close({ reader, scalers }: Opened): void {
  for (const scaler of scalers.values()) scaler.free();
  reader.close();
}
