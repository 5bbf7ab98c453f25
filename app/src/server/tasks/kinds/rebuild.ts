import { applyDecisions, rebuiltText } from '@gemello/core';
import { rebuildAbreast } from '@gemello/media';
import { jobFolder } from '../../config';
import { arrive, stem } from '../../cuts';
import { RequestError } from '../../http';
import { mediaThreads } from '../../media';
import { workspace } from '../../workspace';
import type { Kind } from '../kind';

/** Rebuilds the cut from the picture of the reference alone: what comes of it arrives as a list, to be looked at like any other. */
export const rebuild: Kind<'rebuild'> = {
  lane: () => 'background',
  keeps: 'nothing',
  async run({ jobId, options: { marks }, report, signal }) {
    const w = await workspace(jobId);
    const { reference } = w;
    if (!reference) throw new RequestError(409, 'There is no reference movie to rebuild a cut from.');
    const originals = w.originals.filter((o) => o.here).map((o) => o.original);
    if (originals.length === 0) throw new RequestError(409, 'There are no originals to look for its shots in; add their volumes first.');
    const { movie } = reference;
    const basis = { reference: movie, originals, frame: null, marks, cache: jobFolder(jobId, 'cache') };
    const title = `${stem(movie)} rebuilt`;
    const cut = await rebuildAbreast(mediaThreads(), basis, title, { report, signal });
    const { list } = applyDecisions(cut.list, cut.decisions);
    const arrived = await arrive(jobId, `${stem(movie)}_rebuilt.otio`, list);
    return { message: `${rebuiltText(cut.shots)}; the list waits under Turnover`, result: { ...arrived, problems: cut.problems } };
  },
};
