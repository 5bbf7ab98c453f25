import {
  agreement,
  comparable,
  type EventProof,
  FOUND,
  type Frames,
  formatTimeOfDay,
  framesAlone,
  isUndecided,
  meanOf,
  type Original,
  type PictureLook,
  PRINTED,
  placesIn,
  runsAsListed,
  type Shot,
  type SoughtRun,
  shotOf,
  sourceFrameAt,
  spread,
} from '@gemello/core';
import { isFaultOfFile } from '../plain';
import { type Against, openProof, type ProofBasis, type ReferenceLaid } from './against';
import { type Agreeing, alike, alikeInOne } from './alike';
import { type FileFault, inSteps, type Report, type StopSignal, stopIfAsked } from './task';

/** Where the picture that the reference shows was found. */
export interface Found {
  readonly path: string;
  /** Frame of that original that stands for the event's source in. */
  readonly sourceStartFrame: Frames;
  /** How far aside of that frame it may lie, where several look alike. */
  readonly range: readonly [Frames, Frames];
  /** Its label; null where the original has no timecode. */
  readonly sourceIn: string | null;
  /** Mean agreement, above the line for `same`, and that of each picture that told it. */
  readonly score: number;
  readonly values: readonly number[];
}

export interface SearchResult {
  /** By the key of the event, the best place in each original that has its picture, best first; an event whose picture is in none is left out. */
  readonly found: Readonly<Record<string, readonly Found[]>>;
  readonly problems: readonly FileFault[];
}

export interface SearchPayload extends ProofBasis {
  readonly laid?: ReferenceLaid;
  /** Keys of the events whose picture is looked for. */
  readonly events: readonly string[];
  /** Paths of the originals that are looked through. */
  readonly among: readonly string[];
}

/** Looks through some originals for the pictures that the reference shows. Files are only read. */
export function searchElsewhere(payload: SearchPayload, report: Report, signal: StopSignal): SearchResult {
  const { step, within } = inSteps(report);
  const opened = openProof(payload, within, signal, payload.laid);
  const among = new Set(payload.among);
  try {
    return searchIn(
      opened,
      payload.events,
      payload.originals.filter((o) => among.has(o.path)),
      step,
      signal,
    );
  } finally {
    opened.close();
  }
}

/** Runs of an event's pictures that are looked for among prints, and single pictures that then tell the exact frame. */
const [RUNS, TOLD] = [4, 24];
/** Places whose pictures are looked at, of all originals, and how well their prints must agree. */
const [LOOKED_AT, LIKE] = [6, 0.3];

interface Wanted {
  readonly event: string;
  readonly shot: Shot;
  readonly runs: readonly SoughtRun[];
  readonly told: readonly { readonly fine: Float32Array; readonly sourceFrame: Frames }[];
  /** The likeliest places, best first; `shift` is how far it lies from where the list puts the event. */
  readonly places: { readonly original: Original; readonly shift: Frames; readonly score: number }[];
}

/** One pass through the prints of originals for all events whose picture was not where the list said. */
function searchIn(
  against: Against,
  events: readonly string[],
  originals: readonly Original[],
  report: Report,
  signal: StopSignal,
): SearchResult {
  const problems: FileFault[] = [];
  const wanted = events.flatMap((event) => wantedOf(against, event) ?? []);
  const pictured = wanted.length > 0 ? originals.filter((o) => o.kind !== 'sound') : [];
  for (const [index, original] of pictured.entries()) {
    stopIfAsked(signal);
    report({ done: index, total: pictured.length, what: `Looking for the right picture in ${original.fileName}` });
    orNamed(original, problems, () => {
      const prints = against.sources.prints(original);
      for (const { runs, places } of wanted) {
        for (const { frame, score } of placesIn(runs, prints)) if (score >= LIKE) places.push({ original, shift: frame, score });
        places.sort((a, b) => b.score - a.score).splice(LOOKED_AT);
      }
    });
  }
  const found: Record<string, Found[]> = {};
  for (const { event, shot, told, places } of wanted)
    for (const { original, shift } of places)
      orNamed(original, problems, () => {
        stopIfAsked(signal);
        const picture = once((n: Frames) => {
          const luma = against.sources.frame(original, n);
          return luma && comparable(luma, against.laid.mask);
        });
        const best = exactly(told, shift, picture);
        if (!best || best.score < FOUND) return;
        const range = alikeAround(told, best, picture);
        const sourceStartFrame = shot.sourceStart + best.shift;
        const sourceIn = original.hasTimecode ? formatTimeOfDay(original.start + sourceStartFrame, original.rate) : null;
        const { score, values } = best;
        found[event] = bestFirst([...(found[event] ?? []), { path: original.path, sourceStartFrame, range, sourceIn, score, values }]);
      });
  return { found, problems };
}

/** The best place in each original, best first. */
function bestFirst(all: readonly Found[]): Found[] {
  const inOrder = [...all].sort((a, b) => b.score - a.score);
  return inOrder.filter((one, i) => !inOrder.slice(0, i).some((better) => better.path === one.path));
}

/** A file that cannot be read is named, once, and the others are looked at. */
function orNamed({ path }: Original, problems: FileFault[], look: () => void): void {
  try {
    look();
  } catch (error) {
    if (!isFaultOfFile(error)) throw error;
    if (!problems.some((p) => p.path === path)) problems.push({ path, message: error.message });
  }
}

function wantedOf(against: Against, event: string): Wanted | null {
  const shot = shotOf(against.conform, event);
  if (!shot) return null;
  const { mask } = against.laid;
  const alone = framesAlone(against.conform, shot);
  const inner = alone.slice(Math.floor(alone.length * 0.2), Math.ceil(alone.length * 0.8));
  const told = spread(inner, TOLD).flatMap((n) => {
    const luma = against.reference(n);
    return luma ? [{ fine: comparable(luma, mask), sourceFrame: sourceFrameAt(shot, n) }] : [];
  });
  const runs = runsAsListed(spread(inner, RUNS), (n) => sourceFrameAt(shot, n), against.reference, mask);
  return told.length > 0 ? { event, shot, runs, told, places: [] } : null;
}

type PictureAt = (n: Frames) => Float32Array | null;

/** Pictures that several shifts ask for, made once. */
function once(picture: PictureAt): PictureAt {
  const made = new Map<Frames, Float32Array | null>();
  return (n) => {
    const known = made.get(n);
    if (known !== undefined) return known;
    const one = picture(n);
    made.set(n, one);
    return one;
  };
}

interface At extends Agreeing {
  readonly shift: Frames;
}

/** How well the pictures agree at one shift; null where the original lacks too many of them. */
function agreeingAt(told: Wanted['told'], shift: Frames, picture: PictureAt): At | null {
  const values = told.map(({ fine, sourceFrame }) => {
    const there = picture(sourceFrame + shift);
    return there ? agreement(fine, there) : null;
  });
  const seen = values.flatMap((v) => (v === null ? [] : [v]));
  if (seen.length * 3 < told.length * 2) return null;
  const score = meanOf(seen);
  return { shift, score, values: values.map((v) => v ?? score) };
}

/** The exact shift around one that was found coarsely. */
function exactly(told: Wanted['told'], around: Frames, picture: PictureAt): At | null {
  let best: At | null = null;
  for (let shift = around - PRINTED; shift <= around + PRINTED; shift++) {
    const one = agreeingAt(told, shift, picture);
    if (one && (!best || one.score > best.score)) best = one;
  }
  return best;
}

/** How far the shifts that look alike are followed, each way. */
const WIDEST: Frames = 120;

/** The shifts that look like the best, as from that: a picture that hardly moves is as well at another frame. */
function alikeAround(told: Wanted['told'], best: At, picture: PictureAt): readonly [Frames, Frames] {
  const same = (by: Frames) => {
    const one = agreeingAt(told, best.shift + by, picture);
    return one !== null && alikeInOne(best, one);
  };
  let [low, high] = [0, 0];
  while (low > -WIDEST && same(low - 1)) low--;
  while (high < WIDEST && same(high + 1)) high++;
  return [low, high];
}

/** What several searches found, each in some of the originals. */
export function together(parts: readonly SearchResult[]): SearchResult {
  const found: Record<string, readonly Found[]> = {};
  for (const part of parts)
    for (const [event, places] of Object.entries(part.found)) found[event] = bestFirst([...(found[event] ?? []), ...places]);
  return { found, problems: parts.flatMap((p) => p.problems) };
}

/** How much better another original must agree than the one that is paired, at its best. */
const BETTER = 0.08;

const placed = ({ path, sourceStartFrame, sourceIn }: Found) => ({ path, sourceStartFrame, sourceIn });

/** Takes that agree as well as the best, so that pictures cannot tell which of them it is. */
const asGood = (best: Found, others: readonly Found[]): Found[] => others.filter((o) => o.path !== best.path && alike(best, o));

/** What a search found, as what was seen of the pictures: the best of all originals, and those that are as good. */
export function looksOfFound(found: readonly Found[]): PictureLook[] {
  const [best, ...rest] = found;
  if (!best) return [];
  return [best, ...asGood(best, rest)].map(({ path, sourceStartFrame, range, score }) => ({
    path,
    is: 'found',
    sourceStartFrame,
    range,
    altered: false,
    score: Math.round(score * 1000) / 1000,
  }));
}

/** What an event is paired with. */
export interface Paired {
  readonly path: string;
  readonly sourceStart: Frames;
}

/** So near a place is the same. */
const NEAR: Frames = 2;

/** A proof with where its picture was found, where that explains it better, and which takes would fit as well. */
export function withFound(proof: EventProof, found: readonly Found[] = [], paired: Paired | null): EventProof {
  const own = found.find((f) => f.path === paired?.path);
  if (own && proof.findings.some(isUndecided)) {
    const others = asGood(own, found).map(placed);
    return others.length === 0 ? proof : { ...proof, findings: proof.findings.map((f) => (isUndecided(f) ? { ...f, others } : f)) };
  }
  const [best, ...rest] = found;
  if (!best || best.score <= (proof.bestScore ?? 0) + BETTER) return proof;
  // Where it lies already, and a transition or a layer hides most of it.
  if (best.path === paired?.path && Math.abs(best.sourceStartFrame - paired.sourceStart) <= NEAR) return proof;
  const others = asGood(best, rest).map(placed);
  return {
    ...proof,
    verdict: 'differs',
    findings: [
      {
        kind: 'wrong-picture',
        ...placed(best),
        ...(best.range[1] > best.range[0] ? { range: best.range } : {}),
        ...(others.length > 0 ? { others } : {}),
      },
    ],
  };
}
