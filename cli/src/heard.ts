import path from 'node:path';
import { type Conform, type Heard, heardUnder, laidByTimecode, layGuide } from '@gemello/core';
import type { MediaThreads } from '@gemello/media';
import { UsageError } from './exit';

/** Files that are heard under a cut. */
export interface HeardFiles {
  readonly guide?: string;
  readonly reference?: string;
}

/** What is heard under a cut, laid by its timecode: guide sound where it was named, else the reference. Null where neither was. */
export async function heardFrom(pool: MediaThreads, { guide, reference }: HeardFiles, conform: Conform): Promise<Heard | null> {
  const movie = reference === undefined ? null : await pool.probe(path.resolve(reference));
  const laid = movie && { movie, lay: laidByTimecode(movie, conform) };
  if (guide !== undefined) {
    const found = await pool.probeGuide(path.resolve(guide));
    return heardUnder({ sound: found.sound, lies: layGuide(found, conform, laid?.lay.start ?? null) }, null)[0] ?? null;
  }
  const [heard = null] = heardUnder(null, laid);
  if (laid && !heard) throw new UsageError(`${reference} has no sound.`);
  return heard;
}
