import { marksAt, plural, USUAL_THRESHOLD } from '@gemello/core';
import type { CutsFound } from '../../../contract';
import { jobFolder } from '../../config';
import { cutsMark } from '../../cuts';
import { RequestError } from '../../http';
import { mediaThreads } from '../../media';
import { workspace } from '../../workspace';
import type { Kind } from '../kind';

/** Finds the cuts, dissolves and fades of the reference. */
export const cuts: Kind<'cuts'> = {
  lane: () => 'background',
  keeps: 'nothing',
  async run({ jobId, report, signal }) {
    const { reference } = await workspace(jobId);
    if (!reference) throw new RequestError(409, 'There is no reference movie to look for cuts in.');
    const { movie } = reference;
    const { change, marks } = await mediaThreads().findCuts({ movie, cache: jobFolder(jobId, 'cache') }, { report, signal });
    const result: CutsFound = { madeFrom: cutsMark(movie), change: Array.from(change.cut, (v) => Math.round(100 * Math.min(1, v))), marks };
    const counted = marksAt({ marks }, USUAL_THRESHOLD).length;
    return { message: `${plural(counted, 'mark')} in ${movie.fileName}`, result };
  },
};
