import { plural } from '@gemello/core';
import { jobFolder } from '../../config';
import { clipMark } from '../../marks';
import { mediaThreads } from '../../media';
import { workspace } from '../../workspace';
import { type Kind, readyToWork } from '../kind';

/** Graded clips and lists for the editor, in a folder of the job. A clip that is finished is not made again. */
export const returning: Kind<'return'> = {
  lane: () => 'background',
  keeps: 'what is finished',
  async run({ jobId, options, report, signal }) {
    const w = await workspace(jobId);
    const { list, reachable } = readyToWork(w);
    const { title, handles, render } = options;
    const folder = jobFolder(jobId, 'returns', title.replace(/[^\w.-]+/g, '_'));
    const result = await mediaThreads().writeReturn({ list, originals: reachable, folder, handles, title, render }, { report, signal });
    const { lists, notCarried, problems, warnings } = result;
    const byPath = new Map(reachable.map((o) => [o.path, o]));
    const madeFrom = Object.fromEntries(
      result.clips.flatMap(({ path: _, reused: __, ...clip }) => {
        const original = byPath.get(clip.originalPath);
        return original ? [[clip.fileName, clipMark(clip, original, w.luts)] as const] : [];
      }),
    );
    const kept = { folder, title, handles, lists, notCarried, clips: result.clips.length, madeFrom, problems, warnings };
    const check = problems.length === 0 ? 'all as planned' : plural(problems.length, 'problem');
    return { message: render ? `${plural(result.clips.length, 'clip')} written; ${check}` : 'List and table written', result: kept };
  },
};
