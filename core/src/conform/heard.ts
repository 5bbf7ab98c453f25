import { fileMark, type Original } from '../originals';
import type { FrameRange, Frames, Rate } from '../time';
import { asideAt, type ReferenceLay } from './reference';

/** Where guide sound lies under a cut. */
export interface GuideLies {
  /** When its first sample is heard, in seconds of the record count from 00:00:00:00. */
  readonly at: number;
  /** What says so: its own timecode, or that it begins with the reference or the cut. */
  readonly by: 'timecode' | 'reference' | 'cut';
}

/**
 * Lays guide sound that came as a file of its own: by its timecode where some of it then falls on the cut, otherwise with the first
 * picture of the reference, or of the cut where there is none (common practice). `beginsAt`: seconds from midnight, null where it does not say; `reference`: the
 * record frame of the reference's first picture. A record frame n is heard n frames after 00:00:00:00, each as long as `rate` says.
 */
export function layGuide(
  { sound, beginsAt }: { readonly sound: Pick<Original, 'frames' | 'clock'>; readonly beginsAt: number | null },
  { rate, span }: { readonly rate: Rate; readonly span: FrameRange },
  reference: number | null,
): GuideLies {
  const length = (sound.frames * sound.clock.den) / sound.clock.num;
  const seconds = (frame: number) => (frame * rate.den) / rate.num;
  if (beginsAt !== null && beginsAt < seconds(span.out) && beginsAt + length > seconds(span.in)) return { at: beginsAt, by: 'timecode' };
  return reference === null ? { at: seconds(span.in), by: 'cut' } : { at: seconds(reference), by: 'reference' };
}

/** Sound that is heard under a cut: guide sound that came as a file of its own, or what the reference sounds of. */
export type Heard =
  | { readonly from: 'guide'; readonly sound: Original; readonly lies: GuideLies }
  | { readonly from: 'reference'; readonly sound: Original; readonly lay: ReferenceLay };

/** What can be heard under a cut, guide sound first: it was made to be heard. Without what lies nowhere yet, or is mute. */
export function heardUnder(
  guide: { readonly sound: Original; readonly lies: GuideLies | null } | null,
  reference: { readonly movie: Original; readonly lay: ReferenceLay } | null,
): Heard[] {
  const all: Heard[] = [];
  if (guide?.lies) all.push({ from: 'guide', sound: guide.sound, lies: guide.lies });
  if (reference?.movie.sound) all.push({ from: 'reference', sound: reference.movie, lay: reference.lay });
  return all;
}

/**
 * Where in it a record frame is heard, in seconds from its first sample or picture; negative before it begins. A record frame of the cut
 * lasts as long as `rate` says under guide sound; the frames of a reference are counted at its own rate.
 */
export function secondsHeard(heard: Heard, record: Frames, rate: Rate): number {
  if (heard.from === 'guide') return (record * rate.den) / rate.num - heard.lies.at;
  const { sound, lay } = heard;
  return ((record - lay.start + asideAt(lay.steps ?? [], record)) * sound.rate.den) / sound.rate.num;
}

/** What is heard rests on this: the file, and how it lies. */
export const basisOfHeard = (heard: Heard): readonly unknown[] => [
  fileMark(heard.sound),
  heard.from === 'guide' ? heard.lies.at : heard.lay,
];
