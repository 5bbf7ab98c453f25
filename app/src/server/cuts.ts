import { fileMark, LIST_FORMATS, listOfMarks, type Original, writeList } from '@gemello/core';
import type { MarkView } from '../contract';
import { RequestError } from './http';
import { receive } from './lists';
import { mark } from './marks';
import { workspace } from './workspace';

/** What was found in a movie holds while the movie is the same file. */
export const cutsMark = (movie: Original): string => mark([movie.path, fileMark(movie)]);

/** Makes a list out of marks in the reference: it arrives like any other, to be looked at before it is taken in. */
export async function listFromMarks(jobId: string, marks: readonly MarkView[]): Promise<{ list: string } | { grades: string }> {
  const { reference } = await workspace(jobId);
  if (!reference) throw new RequestError(409, 'There is no reference movie to be cut up.');
  const { movie } = reference;
  const list = listOfMarks(movie, marks, null);
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
