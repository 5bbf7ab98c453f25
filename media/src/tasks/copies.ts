import { existsSync, mkdirSync, renameSync, rmSync } from 'node:fs';
import path from 'node:path';
import { copyRaster, framesOf, type Original, SECTION } from '@gemello/core';
import { openPictures, readHeld } from '../engine/reader';
import { openMovieWriter } from '../engine/writer';
import { MediaError } from '../plain';
import { type Report, type StopSignal, stopIfAsked } from './task';

/** One section of a clip, and the file that is to hold its copy. */
export interface CopyPayload {
  readonly original: Original;
  readonly section: number;
  readonly file: string;
}

/**
 * Makes the viewing copy of a section: frame k of it is frame `section x SECTION + k` of the clip, one picture for each, none
 * before or after. What could not be decoded is held by the picture after it, so that all keep their places. It appears under
 * its name only when it is complete; one that is there is left alone. Gives the number of frames it holds.
 */
export function makeCopy({ original, section, file }: CopyPayload, report: Report, signal: StopSignal): number {
  const frames = framesOf(original, section);
  if (frames === 0) throw new MediaError(`${original.fileName} has no frames there.`);
  if (existsSync(file)) return frames;
  mkdirSync(path.dirname(file), { recursive: true });
  const first = section * SECTION;
  const partial = file.replace(/\.mp4$/, `.${process.pid}-${performance.now().toString(36).replace('.', '')}.part.mp4`);
  const reader = openPictures(original, 2);
  const writer = openMovieWriter(partial, {
    writer: 'viewing',
    raster: copyRaster(original),
    rate: original.rate,
    timecode: null,
    reel: null,
    threads: 2,
  });
  let written = 0;
  try {
    readHeld(original, reader, first, first + frames, (frame, number) => {
      while (written <= number - first) {
        writer.writeFrame(frame);
        written++;
      }
      report({ done: written, total: frames, what: original.fileName });
      return signal.aborted ? false : undefined;
    });
  } finally {
    reader.close();
    writer.close();
  }
  if (signal.aborted || written !== frames) {
    rmSync(partial, { force: true });
    stopIfAsked(signal);
    throw new MediaError(`${original.fileName} gave ${written} of ${frames} frames from ${first} on; it may be damaged there.`);
  }
  renameSync(partial, file);
  return frames;
}
