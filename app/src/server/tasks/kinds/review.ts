import path from 'node:path';
import { form, plural, type Raster } from '@gemello/core';
import { heightFor } from '@gemello/media';
import { jobFolder } from '../../config';
import { mediaThreads } from '../../media';
import { workspace } from '../../workspace';
import { type Kind, readyToWork } from '../kind';

/** The whole conform as one movie to look at, in a folder of the job. It is one part: after a stop it begins again. */
export const review: Kind<'review'> = {
  lane: () => 'background',
  keeps: 'nothing',
  async run({ jobId, options: { burnIn, sound }, report, signal }) {
    const w = await workspace(jobId);
    const { list, reachable } = readyToWork(w);
    const name = `${list.title.trim().replace(/[^\w.-]+/g, '_') || 'cut'}_review.mp4`;
    const file = path.join(jobFolder(jobId, 'reviews'), name);
    const reference = sound ? w.reference : null;
    const movie = reference?.movie.sound ? reference.movie.path : null;
    const size = reviewSize(w.conform?.frame.raster ?? null);
    const payload = { list, originals: reachable, file, codec: 'review' as const, size, burnIn, sound: movie };
    const result = await mediaThreads().render(payload, { report, signal });
    const lacking = Object.keys(result.missing).length;
    const without = sound && !movie ? '; the reference has no sound' : '';
    const check =
      lacking === 0
        ? 'every picture there'
        : `${plural(lacking, 'event')} without all of ${form(lacking, 'its pictures', 'their pictures')}`;
    return { message: `${result.frames} frames in ${name}; ${check}${without}`, result: { file, name, missing: result.missing } };
  },
};

/** A review is at most this wide. */
const REVIEW_WIDTH = 1280;

/** The size of a review: the cut's own where that is small enough (null), else smaller in its shape. */
function reviewSize(raster: Raster | null): Raster | null {
  if (!raster || raster.width <= REVIEW_WIDTH) return null;
  return { width: REVIEW_WIDTH, height: heightFor(REVIEW_WIDTH, raster) };
}
