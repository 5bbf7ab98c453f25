import { fileMark, LIST_FORMATS, listOfMarks, type Mark, type Original, writeList } from '@gemello/core';
import { type CutsView, cutsFoundSchema, type MarkView } from '../contract';
import { RequestError } from './http';
import { receive } from './lists';
import { mark } from './marks';
import { allTasks, taskView } from './tasks/runner';
import { workspace } from './workspace';

/** What was found in a movie holds while the movie is the same file. */
export const cutsMark = (movie: Original): string => mark([movie.path, fileMark(movie)]);

/** The reference with the cuts that were found in it last. */
export async function cutsView(jobId: string): Promise<CutsView> {
  const { reference, conform } = await workspace(jobId);
  const row = (await allTasks(jobId)).find((t) => t.kind === 'cuts');
  if (!reference) return { movie: null, task: null, found: null };
  const { movie, lay } = reference;
  const found = row?.state === 'done' ? (cutsFoundSchema.safeParse(row.result).data ?? null) : null;
  return {
    movie: {
      fileName: movie.fileName,
      frames: movie.frames,
      start: movie.start,
      record: conform ? lay.start : movie.start,
      rate: movie.rate,
    },
    task: row ? taskView(row) : null,
    found: found?.madeFrom === cutsMark(movie) ? found : null,
  };
}

/** Makes a list out of marks in the reference: it arrives like any other, to be looked at before it is taken in. */
export async function listFromMarks(jobId: string, marks: readonly MarkView[]): Promise<{ list: string } | { grades: string }> {
  const { reference } = await workspace(jobId);
  if (!reference) throw new RequestError(409, 'There is no reference movie to be cut up.');
  const { movie } = reference;
  const list = listOfMarks(movie, marks as readonly Mark[], null);
  return arrive(jobId, `${stem(movie)}_cuts.otio`, list);
}

export const stem = ({ fileName }: Original): string => fileName.replace(/\.\w+$/, '');

/** Hands a list over that was made here, in the format that carries the most of it. */
export async function arrive(
  jobId: string,
  fileName: string,
  list: Parameters<typeof writeList>[0],
): Promise<{ list: string } | { grades: string }> {
  const format = LIST_FORMATS.find((f) => f.extensions.includes('otio'));
  const [file] = format ? writeList(list, format, fileName).files : [];
  if (!file) throw new Error('no OpenTimelineIO');
  return receive(jobId, file.fileName, file.bytes, []);
}
