import { createHash } from 'node:crypto';
import {
  basisOfClip,
  basisOfHeard,
  basisOfPictures,
  basisOfProof,
  type Conform,
  fileMark,
  type Heard,
  type Original,
  type Part,
  type ReferenceLay,
  type ReturnClip,
  type ReturnPlan,
  type Shot,
  type Standing,
  type StandingEvent,
} from '@gemello/core';
import type { ListRow } from './readings';

/** A reference movie of a job. */
interface Movie {
  readonly id: string;
  readonly movie: Original;
}

/** Look-up tables with the stamps of their files; null where one cannot be read. */
type LutStamps = ReadonlyMap<string, string | null>;

/** A short text that changes with its parts: 96 bits of SHA-256, in letters that an address may have. */
export const mark = (parts: unknown): string => createHash('sha256').update(JSON.stringify(parts)).digest('base64url').slice(0, 16);

/** What all pictures of a job rest on beside their shots. */
export const lookOfJob = ({
  list,
  reference,
  luts,
}: {
  list: Standing | null;
  reference: (Movie & { lay: ReferenceLay }) | null;
  luts: LutStamps;
}): string => mark([list?.referenceFit, list?.framing, [...luts], reference && [reference.id, fileMark(reference.movie), reference.lay]]);

/** Changes whenever the pictures of a row do: those of its shot, of a proxy that stands in, or of a file that no longer is what it was. */
export const lookOf = (shot: Shot | undefined, standIn: Original | null, ofJob: string): string =>
  mark([shot && basisOfPictures(shot), standIn && fileMark(standIn), ofJob]);

/** Stands for a picture: the shots in it with their files, how they lie at this moment, and the look-up tables. */
export const pictureMark = (
  { parts, frame }: { readonly parts: readonly Part[]; readonly frame: Conform['frame'] },
  width: number,
  { luts }: { luts: LutStamps },
): string =>
  mark([parts.map(({ shot, ...lies }) => [basisOfPictures(shot), shot.event.kind, shot.event.clipName, lies]), frame, width, [...luts]]);

/** What was found of how a reference lies rests on this: the two movies, and where the cut begins. Events may be mended meanwhile. */
export const layMark = ({ id, movie }: Movie, { span, referenceFit, frame }: Conform, listRow: ListRow | null): string =>
  mark([id, fileMark(movie), listRow?.id, listRow?.options, span.in, referenceFit, frame]);

/** What the proof of a shot rests on; when it changes, the proof no longer holds. */
export const proofMark = (conform: Conform, shot: Shot, reference: Movie): string =>
  mark([reference.id, fileMark(reference.movie), basisOfProof(conform, shot)]);

/** What was seen of originals at an event rests on this, and on their files: the reference, where it shows the event, and how the list lays it. */
export const lookMark = (list: Standing, { record, retime, phase, placement }: StandingEvent, { id, movie }: Movie): string =>
  mark([id, fileMark(movie), list.referenceFit, list.framing, list.fit, record, retime, phase, placement]);

/** What a returned clip was made from; when it changes, the clip no longer is what would be written. */
export const clipMark = (clip: ReturnClip, original: Original, { luts, heard }: { luts: LutStamps; heard: readonly Heard[] }): string => {
  const sounds = heard.find((h) => h.from === clip.sound);
  return mark([basisOfClip(clip, original), clip.lut && luts.get(clip.lut.file), sounds ? basisOfHeard(sounds) : null]);
};

/** Stands for the list that a return would have. */
export const listMark = ({ list }: ReturnPlan): string => mark(list);

/** Changes when the files of an original do. Short, since there may be a hundred thousand; a clash would only show the picture before. */
export const lookOfFiles = (original: Original): string => fileMark(original).slice(0, 8);
