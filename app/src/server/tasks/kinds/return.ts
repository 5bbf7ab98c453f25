import { planReturn, plural } from '@gemello/core';
import { returnAbreast } from '@gemello/media';
import { decidedLines } from '../../batches';
import { RequestError } from '../../http';
import { clipMark, listMark } from '../../marks';
import { mediaThreads } from '../../media';
import { folderOfReturn } from '../../returns';
import { workspace } from '../../workspace';
import { type Kind, readyToWork } from '../kind';

const NOT_HEARD = {
  guide: 'There is no guide sound. Bring it in under Turnover, or choose another sound for the clips.',
  reference: 'There is no reference with sound. Bring one in under Turnover, or choose another sound for the clips.',
} as const;

/** Graded clips and lists for the editor, in a folder of the job. A clip that is finished is not made again. */
export const returning: Kind<'return'> = {
  lane: () => 'background',
  keeps: 'what is finished',
  async run({ jobId, options, report, signal }) {
    const w = await workspace(jobId);
    const { list, reachable } = readyToWork(w);
    const { title, render, ...asked } = options;
    const { sound } = asked;
    if (render && (sound === 'guide' || sound === 'reference') && !w.heard.some((h) => h.from === sound))
      throw new RequestError(409, NOT_HEARD[sound]);
    const folder = await folderOfReturn(jobId, title, render);
    const plan = render && w.conform ? planReturn(list, w.conform, { ...asked, title }) : null;
    const result = await returnAbreast(
      mediaThreads(),
      { list, originals: reachable, folder, title, asked, render, heard: w.heard, decisions: await decidedLines(w) },
      { report, signal },
    );
    const { lists, notCarried, problems, warnings } = result;
    const byPath = new Map(reachable.map((o) => [o.path, o]));
    const madeFrom = Object.fromEntries(
      result.clips.flatMap(({ path: _, reused: __, ...clip }) => {
        const original = byPath.get(clip.originalPath);
        return original ? [[clip.fileName, clipMark(clip, original, w)] as const] : [];
      }),
    );
    const kept = {
      folder,
      title,
      asked,
      lists,
      notCarried,
      clips: result.clips.length,
      madeFrom,
      listFrom: plan && listMark(plan),
      problems,
      warnings,
    };
    const check = problems.length === 0 ? 'all as planned' : plural(problems.length, 'problem');
    return { message: render ? `${plural(result.clips.length, 'clip')} written; ${check}` : 'List and table written', result: kept };
  },
};
