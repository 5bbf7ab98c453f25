import { fileMark, plural } from '@gemello/core';
import { rebuildAbreast } from '@gemello/media';
import { jobFolder } from '../../config';
import { type Recognised, unknownClips } from '../../elsewhere';
import { RequestError } from '../../http';
import { mediaThreads } from '../../media';
import { workspace } from '../../workspace';
import type { Kind } from '../kind';

/** Looks for the pictures of clips that came back without a timecode or a name among the originals of the cut. Each is one shot, however it was graded. */
export const recognise: Kind<'recognise'> = {
  lane: () => 'background',
  keeps: 'nothing',
  async run({ jobId, report, signal }) {
    const w = await workspace(jobId);
    const clips = unknownClips(w);
    if (clips.length === 0) throw new RequestError(409, 'Every clip that came back has its event; there is none to recognise.');
    const used = new Set(w.conform?.layers.flatMap((l) => l.shots.map((s) => s.original?.path)));
    const originals = w.originals.flatMap(({ original, here }) => (here && used.has(original.path) ? [original] : []));
    if (originals.length === 0) throw new RequestError(409, 'The cut has no originals to look in; pair its events first.');
    const seen: Recognised[] = [];
    for (const [i, clip] of clips.entries()) {
      const basis = { reference: clip, originals, frame: null, marks: [], cache: jobFolder(jobId, 'cache') };
      const within = {
        report: ({ done, total }: { done: number; total: number }) =>
          report({ done: i * 1000 + (1000 * done) / (total || 1), total: clips.length * 1000, what: clip.fileName }),
        signal,
      };
      const { shots } = await rebuildAbreast(mediaThreads(), basis, clip.clipName, within);
      const found = shots.length === 1 && shots[0]?.is === 'found' ? shots[0].found : null;
      // Only as its source runs: where it runs otherwise its speed is in its pictures.
      const place = found?.original && found.pace === 1 ? { original: found.original.path, frame: found.source } : null;
      seen.push({ path: clip.path, mark: fileMark(clip), place });
    }
    const known = seen.filter((s) => s.place !== null).length;
    return {
      message: `${known} of ${plural(clips.length, 'clip')} recognised by ${known === 1 ? 'its' : 'their'} pictures`,
      result: { seen },
    };
  },
};
