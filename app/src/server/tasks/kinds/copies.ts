import { plural, sectionsOf, wholly } from '@gemello/core';
import { type FileFault, isFaultOfFile } from '@gemello/media';
import { makeSure } from '../../copies';
import { mediaThreads } from '../../media';
import { workspace } from '../../workspace';
import { type Kind, readyToWork } from '../kind';

/** Frames of the source that are copied before and after what an event shows, so that it can be slipped and trimmed. */
const MARGIN = 48;

/** Makes the viewing copies that a cut needs, in its order, and those of the reference; what is there already is passed over. */
export const copies: Kind<'copies'> = {
  lane: () => 'background',
  keeps: 'what is finished',
  async run({ jobId, report, signal, lane, atLeisure }) {
    const w = await workspace(jobId);
    readyToWork(w);
    const clips = new Map([...w.reachable, ...(w.reference ? [[w.reference.movie.path, w.reference.movie] as const] : [])]);
    const wanted = [...(w.shown ? sectionsOf(w.shown, MARGIN) : []), ...(w.reference ? wholly(w.reference.movie) : [])];
    const problems = new Map<string, FileFault>();
    let done = 0;
    const next = wanted.values();
    const work = async () => {
      for (const { path, section } of next) {
        const original = clips.get(path);
        if (signal.aborted) break;
        if (!original) continue;
        // What is looked at is copied at once; the rest can wait.
        await atLeisure();
        report({ done, total: wanted.length, what: original.fileName });
        if (!problems.has(path))
          await makeSure(original, section, { lane, signal }).catch((error: unknown) => {
            if (signal.aborted || !isFaultOfFile(error)) throw error;
            problems.set(path, { path, message: error.message });
          });
        done++;
      }
    };
    await Promise.all(Array.from({ length: mediaThreads().abreast }, work));
    signal.throwIfAborted();
    const left = problems.size > 0 ? `; ${plural(problems.size, 'file')} could not be read` : '';
    return {
      message: `${plural(wanted.length, 'section', 'sections')} ready to be played${left}`,
      result: { problems: [...problems.values()] },
    };
  },
};
