import path from 'node:path';
import { form, plural, type Raster, secondsHeard } from '@gemello/core';
import { heightFor, MediaError, type MixUnder, mixUnder } from '@gemello/media';
import { jobFolder } from '../../config';
import { RequestError } from '../../http';
import { mediaThreads } from '../../media';
import { allowedAt } from '../../roots';
import { type Workspace, workspace } from '../../workspace';
import { type Kind, readyToWork } from '../kind';

/** The whole conform as one movie to look at, in a folder of the job. It is one part: after a stop it begins again. */
export const review: Kind<'review'> = {
  lane: () => 'background',
  keeps: 'nothing',
  async run({ jobId, options: { burnIn, sound, mix }, report, signal }) {
    const w = await workspace(jobId);
    const { list, reachable } = readyToWork(w);
    const name = `${list.title.trim().replace(/[^\w.-]+/g, '_') || 'cut'}_review.mp4`;
    const file = path.join(jobFolder(jobId, 'reviews'), name);
    const [laid] = w.heard;
    const guide = sound && laid && w.conform ? { path: laid.sound.path, begins: -secondsHeard(laid, w.conform.span.in, list.rate) } : null;
    const under = mix === '' ? null : await mixed(w, mix, { report, signal });
    const heard = under ? { path: under.path, begins: under.begins } : guide;
    const size = reviewSize(w.conform?.frame.raster ?? null);
    const payload = { list, originals: reachable, file, codec: 'review' as const, size, burnIn, sound: heard };
    const result = await mediaThreads().render(payload, { report, signal });
    const lacking = Object.keys(result.missing).length;
    const without = sound && !heard ? '; there is no sound to go along' : '';
    const check =
      lacking === 0
        ? 'every picture there'
        : `${plural(lacking, 'event')} without all of ${form(lacking, 'its pictures', 'their pictures')}`;
    return {
      message: `${result.frames} frames in ${name}; ${check}${without}${under ? `. ${under.says}` : ''}`,
      result: { file, name, missing: result.missing },
    };
  },
};

/** The final mix as it lies under the cut. Refused where it cannot be looked at, or does not fit. */
async function mixed(
  { heard: [guide], conform }: Workspace,
  mix: string,
  how: Parameters<typeof mixUnder>[2],
): Promise<MixUnder & { path: string }> {
  const { kind, real } = await allowedAt(mix, `There is no file ${mix} on this machine. Is its drive mounted?`);
  if (kind !== 'file') throw new RequestError(400, `${mix} is a folder. Name the file of the mix.`);
  if (!guide || !conform)
    throw new RequestError(409, 'A mix is laid by the guide sound, or that of the reference. Bring in one that has sound.');
  const under = await mixUnder(mediaThreads(), { mix: real, guide, conform }, how);
  if (!under.fits) throw new MediaError(under.says);
  return { ...under, path: real };
}

/** A review is at most this wide. */
const REVIEW_WIDTH = 1280;

/** The size of a review: the cut's own where that is small enough (null), else smaller in its shape. */
function reviewSize(raster: Raster | null): Raster | null {
  if (!raster || raster.width <= REVIEW_WIDTH) return null;
  return { width: REVIEW_WIDTH, height: heightFor(REVIEW_WIDTH, raster) };
}
