import { ratesRun } from '../../conform';
import type { Framing, RateMode, StandingEvent } from '../../edit';
import { missingInside, type Original } from '../../originals';
import { type FrameRange, type Frames, lengthOf, type Rate, sameSpeed } from '../../time';
import { CONFLICT, EXACT, type Grade, UNKNOWN } from './grade';
import { foldersOf } from './reel';

/** Whether an original has all the source frames that an event needs, its dissolves included. */
export type LengthEvidence = Grade & {
  readonly criterion: 'length';
  readonly needs: Frames;
  readonly missingHead: Frames;
  readonly missingTail: Frames;
  /** Numbered frames that are missing within what is needed. */
  readonly missingInside: Frames;
  /** Frames that it has before and after what is needed: room for handles. Null for a still, which has any number. */
  readonly spare: { readonly head: Frames; readonly tail: Frames } | null;
};

/** `span` is what the event needs, counted from its source in, which stands at `start` of the original. A still covers any length. */
export function compareLength(original: Original, start: Frames, span: FrameRange): LengthEvidence {
  const needs = lengthOf(span);
  const still = original.kind === 'still';
  const missingHead = still ? 0 : Math.min(needs, Math.max(0, -(start + span.in)));
  const missingTail = still ? 0 : Math.min(needs, Math.max(0, start + span.out - original.frames));
  const inside = missingInside(original, { in: start + span.in, out: start + span.out });
  const missing = missingHead + missingTail + inside;
  const grade: Grade = missing === 0 ? EXACT : missing >= needs ? CONFLICT : { grade: 'overlaps', frames: needs - missing, of: needs };
  const spare = still ? null : { head: Math.max(0, start + span.in), tail: Math.max(0, original.frames - start - span.out) };
  return { criterion: 'length', needs, missingHead, missingTail, missingInside: inside, spare, ...grade };
}

/** How the rate of an original agrees with that of the list's source, and how its pictures run in the cut. */
export type RateEvidence = Grade & {
  readonly criterion: 'rate';
  readonly given: Rate;
  readonly cut: Rate;
  readonly runs: Exclude<RateMode, 'usual'> | null;
};

export function compareRate(event: Pick<StandingEvent, 'sourceRate' | 'rateMode'>, original: Original, cut: Rate): RateEvidence {
  const still = original.kind === 'still';
  const runs = still ? null : ratesRun(original.rate, cut, event.rateMode);
  const same = still || (sameSpeed(event.sourceRate, original.rate) && runs === null);
  return { criterion: 'rate', given: original.rate, cut, runs, ...(same ? EXACT : CONFLICT) };
}

/** How the raster of an original stands to that of the cut: `scaled` where it is laid larger or smaller. */
export type RasterEvidence = Grade & {
  readonly criterion: 'raster';
  readonly asked: string;
  readonly given: string;
  readonly scaled: 'larger' | 'smaller' | null;
};

export function compareRaster(framing: Framing | null, { raster }: Pick<Original, 'raster'>): RasterEvidence {
  const given = `${raster.width}×${raster.height}`;
  const asked = framing?.raster ?? null;
  if (!asked) return { criterion: 'raster', asked: '', given, scaled: null, ...UNKNOWN.list };
  const same = asked.width === raster.width && asked.height === raster.height;
  const scaled = same ? null : raster.width * raster.height > asked.width * asked.height ? 'larger' : 'smaller';
  return { criterion: 'raster', asked: `${asked.width}×${asked.height}`, given, scaled, ...(same ? EXACT : { grade: 'unlike' }) };
}

/** Whether an original lies in a folder called like the one the offline clip lay in. */
export type FolderEvidence = Grade & { readonly criterion: 'folder'; readonly asked: string; readonly given: string };

export function compareFolder({ mediaPath }: Pick<StandingEvent, 'mediaPath'>, original: Original): FolderEvidence {
  const asked = mediaPath === '' ? [] : foldersOf(mediaPath.replaceAll('\\', '/'));
  const given = foldersOf(original.path);
  const [wanted, here] = [asked.at(-1) ?? '', given.at(-1) ?? ''];
  const evidence = { criterion: 'folder', asked: wanted, given: here } as const;
  if (wanted === '') return { ...evidence, ...UNKNOWN.list };
  if (wanted.toLowerCase() === here.toLowerCase()) return { ...evidence, ...EXACT };
  const shared = given.find((folder) => folder !== '' && asked.some((a) => a.toLowerCase() === folder.toLowerCase()));
  return shared ? { ...evidence, given: shared, grade: 'contained' } : { ...evidence, grade: 'unlike' };
}
