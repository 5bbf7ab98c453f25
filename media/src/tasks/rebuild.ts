import {
  AS_IT_IS,
  cutFinding,
  FILLS_ALL,
  type Frame,
  type FrameFit,
  type Frames,
  findShot,
  finerFit,
  frameOfPlace,
  isBlackBetween,
  type Library,
  likelyFits,
  type Mark,
  type Mask,
  marksAt,
  maskOf,
  type Original,
  type Passage,
  placesIn,
  runTogether,
  type SeenReference,
  type SeenShot,
  shotsBetween,
  soughtIn,
  spread,
  USUAL_THRESHOLD,
  warped,
  withJoin,
  withoutMiddles,
  withoutWeak,
} from '@gemello/core';
import { frameOfClip } from '../compose';
import { isFaultOfFile } from '../plain';
import { openReference } from './reference';
import { openSources, type Sources } from './sources';
import { type FileFault, inSteps, type Report, type StopSignal, stopIfAsked } from './task';

/** What a cut is rebuilt from: the reference, and all originals that may be in it. */
export interface RebuildBasis {
  readonly reference: Original;
  readonly originals: readonly Original[];
  /** The frame of the cut; null: that of most originals. */
  readonly frame: Frame | null;
  /** Marks taken in place of those that are found; frames from the reference's first. Null: found. */
  readonly marks: readonly Mark[] | null;
  readonly cache: string | null;
}

/** How the reference lies, and where it is cut: found once, so that several threads can work from it. */
export interface RebuildLaid {
  readonly frame: Frame;
  readonly fit: FrameFit;
  readonly mask: Mask;
  readonly shots: readonly SeenShot[];
}

export interface ShotsPayload extends RebuildBasis {
  readonly laid: RebuildLaid;
  /** Which of the shots are looked for. */
  readonly only: readonly number[];
}

/** What was found of some shots: a shot may turn out to be several. */
export interface ShotsFound {
  readonly shots: readonly SeenShot[];
  readonly problems: readonly FileFault[];
}

/** Shots that tell how the reference lies in the frame of the cut, and that this is refined by. */
const [TELLING, REFINING] = [8, 12];

/** Finds where the reference is cut, and how the frame of the cut lies in it. */
export function prepareRebuild(basis: RebuildBasis, report: Report, signal: StopSignal): RebuildLaid {
  const { reference, originals, cache, marks } = basis;
  const frame = basis.frame ?? frameOfMost(originals);
  const opened = openReference(reference, cache, report, signal);
  const sources = openSources(frame, cache, report, signal);
  try {
    const box = opened.box();
    const { change, marks: found } = opened.cutUp();
    const shots = shotsBetween(opened.frames, marks ?? marksAt({ marks: found }, USUAL_THRESHOLD), (from, until) =>
      isBlackBetween(change, from, until),
    );
    const shape = ({ raster, pixelAspect }: Frame) => (raster.width * pixelAspect) / raster.height;
    const fits = likelyFits(box, shape(frame), shape(frameOfClip(reference)));
    const library = libraryOf(originals, sources, []);
    const telling = spread(
      shots.filter((s) => s.is !== 'black' && s.until - s.from >= 12),
      TELLING,
    );
    const seenWith = (fit: FrameFit): SeenReference => ({
      rate: reference.rate,
      picture: opened.laid(fit),
      mask: maskOf(box, fit),
    });
    let best = { fit: fits[0] ?? FILLS_ALL, score: -1 };
    for (const [i, fit] of fits.entries()) {
      stopIfAsked(signal);
      report({ done: i, total: fits.length, what: 'Finding how the reference lies' });
      const score = telling.length > 0 ? likenessOf(telling, seenWith(fit), library) : 0;
      if (score > best.score + LIKELIER) best = { fit, score };
    }
    const fit = refinedFit(best.fit, opened.native, box, spread(telling, REFINING), seenWith(best.fit), library);
    return { frame, fit, mask: maskOf(box, fit), shots };
  } finally {
    opened.close();
    sources.close();
  }
}

/** Another way must agree by so much more than one that is likelier by its shape. */
const LIKELIER = 0.02;

/** How well shots are found in some way of laying the reference: the better half of them counts. */
function likenessOf(shots: readonly SeenShot[], seen: SeenReference, library: Library): number {
  const scores = shots.map((shot) => {
    const pictures = { length: shot.until - shot.from, reference: (offset: Frames) => seen.picture(shot.from + offset), mask: seen.mask };
    const runs = soughtIn(pictures, AS_IT_IS, 2);
    return library.originals.reduce((most, original) => {
      const prints = library.prints(original);
      return Math.max(most, (prints && placesIn(runs, prints, 1)[0]?.score) ?? 0);
    }, 0);
  });
  const half = scores.sort((a, b) => b - a).slice(0, Math.ceil(scores.length / 2));
  return half.reduce((a, b) => a + b, 0) / half.length;
}

/** The place of the picture by least squares, from shots that are found as they are. */
function refinedFit(
  fit: FrameFit,
  native: (n: Frames) => Uint8Array | null,
  box: Parameters<typeof maskOf>[0],
  shots: readonly SeenShot[],
  seen: SeenReference,
  library: Library,
): FrameFit {
  const probes = shots.flatMap((shot) => {
    const [one] = findShot(shot, seen, library, Number.POSITIVE_INFINITY);
    const place = one?.found;
    if (place?.laid.flip !== '') return [];
    const at = shot.from + ((shot.until - shot.from) >> 1);
    const luma = library.frame(place.original, frameOfPlace(place, at - shot.from));
    return luma ? [{ at, luma }] : [];
  });
  if (probes.length === 0) return fit;
  return finerFit(native, box, { fit, head: 0, score: 1, shown: probes.map((p) => p.at) }, probes);
}

/** The frame of most originals, by how many frames they hold. */
function frameOfMost(originals: readonly Original[]): Frame {
  const counts = new Map<string, { frame: Frame; frames: number }>();
  for (const original of originals) {
    if (original.kind === 'sound') continue;
    const frame = frameOfClip(original);
    const key = JSON.stringify(frame);
    counts.set(key, { frame, frames: (counts.get(key)?.frames ?? 0) + original.frames });
  }
  const [most] = [...counts.values()].sort((a, b) => b.frames - a.frames);
  return most?.frame ?? { raster: { width: 1920, height: 1080 }, pixelAspect: 1 };
}

function libraryOf(originals: readonly Original[], sources: Sources, problems: FileFault[]): Library {
  const orNamed = <T>(original: Original, look: () => T): T | null => {
    if (problems.some((p) => p.path === original.path)) return null;
    try {
      return look();
    } catch (error) {
      if (!isFaultOfFile(error)) throw error;
      problems.push({ path: original.path, message: error.message });
      return null;
    }
  };
  return {
    originals: originals.filter((o) => o.kind !== 'sound'),
    prints: (original) => orNamed(original, () => sources.prints(original)),
    frame: (original, n) => orNamed(original, () => sources.frame(original, n)),
  };
}

/** Looks for some of the shots in all originals, which are only read. */
export function findShots({ reference, originals, cache, laid, only }: ShotsPayload, report: Report, signal: StopSignal): ShotsFound {
  const problems: FileFault[] = [];
  const { step, within } = inSteps(report);
  const opened = openReference(reference, cache, within, signal);
  const sources = openSources(laid.frame, cache, within, signal);
  try {
    const library = libraryOf(originals, sources, problems);
    const seen = { rate: reference.rate, picture: opened.laid(laid.fit), mask: laid.mask };
    const shots = only.flatMap((at, i) => {
      stopIfAsked(signal);
      step({ done: i, total: only.length, what: `Looking for shot ${at + 1}` });
      return findShot(laid.shots[at] as SeenShot, seen, library);
    });
    return { shots, problems };
  } finally {
    opened.close();
    sources.close();
  }
}

/** How far around a join is looked, each way. */
const AROUND: Frames = 60;

/** Tells each join by the pictures of both sides: to the frame where it was cut, and over how many frames it dissolves. */
export function tellJoins(
  { reference, originals, cache, laid, shots: found }: Omit<ShotsPayload, 'only'> & { readonly shots: readonly SeenShot[] },
  report: Report,
  signal: StopSignal,
): ShotsFound {
  const problems: FileFault[] = [];
  const { step, within } = inSteps(report);
  const opened = openReference(reference, cache, within, signal);
  const sources = openSources(laid.frame, cache, within, signal);
  try {
    const library = libraryOf(originals, sources, problems);
    const picture = opened.laid(laid.fit);
    const shots = runTogether(withoutMiddles(withoutWeak(found)));
    for (let i = 1; i < shots.length; i++) {
      stopIfAsked(signal);
      step({ done: i, total: shots.length, what: 'Looking at the joins' });
      const [a, b] = [shots[i - 1] as SeenShot, shots[i] as SeenShot];
      if (!a.found || !b.found) continue;
      const [left, right] = [a.found, b.found];
      const of = (place: typeof left, shot: SeenShot, n: Frames) => {
        const luma = library.frame(place.original, frameOfPlace(place, n - shot.from));
        return luma && warped(luma, place.laid);
      };
      const middle = ({ from, until }: SeenShot) => Math.floor((from + until) / 2);
      const told = cutFinding({
        cut: b.from,
        from: Math.max(b.from - AROUND, middle(a)),
        to: Math.min(b.from + AROUND, middle(b)),
        listed: null,
        mask: laid.mask,
        reference: picture,
        leaving: (n) => of(left, a, n),
        incoming: (n) => of(right, b, n),
      });
      const [at, join] = joinOf(told, b.from);
      [shots[i - 1], shots[i]] = withJoin(a, b, at, join);
    }
    return { shots, problems };
  } finally {
    opened.close();
    sources.close();
  }
}

/** Where a join lies, and how the incoming side comes in: a dissolve begins where the shot does, as edit lists have it. */
function joinOf(told: ReturnType<typeof cutFinding>, cut: Frames): [Frames, Passage | null] {
  if (told?.kind === 'cut-moved') return [cut + told.frames, null];
  if (told?.kind !== 'transition-differs' || !told.measured) return [cut, null];
  return [cut + told.measured.offsetFrames, { ...told.measured, offsetFrames: 0 }];
}
