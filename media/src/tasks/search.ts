import {
  agreement,
  comparable,
  type EventProof,
  FOUND,
  type Frames,
  formatTimeOfDay,
  framesAlone,
  type Original,
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
import { type FileFault, inSteps, type Report, type StopSignal, stopIfAsked } from './task';

/** Where the picture that the reference shows was found. */
export interface Found {
  readonly path: string;
  /** Frame of that original that stands for the event's source in. */
  readonly sourceStartFrame: Frames;
  /** Its label; null where the original has no timecode. */
  readonly sourceIn: string | null;
  /** Mean agreement, above the line for `same`. */
  readonly score: number;
}

export interface SearchResult {
  /** By the key of the event; an event whose picture is in none of the originals is left out. */
  readonly found: Readonly<Record<string, Found>>;
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
  const found: Record<string, Found> = {};
  for (const { event, shot, told, places } of wanted)
    for (const { original, shift } of places)
      orNamed(original, problems, () => {
        stopIfAsked(signal);
        const best = exactly(told, shift, (n) => {
          const luma = against.sources.frame(original, n);
          return luma && comparable(luma, against.laid.mask);
        });
        if (!best || best.score < FOUND || best.score <= (found[event]?.score ?? 0)) return;
        const sourceStartFrame = shot.sourceStart + best.shift;
        const sourceIn = original.hasTimecode ? formatTimeOfDay(original.start + sourceStartFrame, original.rate) : null;
        found[event] = { path: original.path, sourceStartFrame, sourceIn, score: best.score };
      });
  return { found, problems };
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

/** The exact shift around one that was found coarsely. */
function exactly(
  told: Wanted['told'],
  around: Frames,
  picture: (n: Frames) => Float32Array | null,
): { shift: Frames; score: number } | null {
  const made = new Map<Frames, Float32Array | null>();
  const at = (n: Frames) => {
    const known = made.get(n);
    if (known !== undefined) return known;
    const one = picture(n);
    made.set(n, one);
    return one;
  };
  let best: { shift: Frames; score: number } | null = null;
  for (let shift = around - PRINTED; shift <= around + PRINTED; shift++) {
    let [sum, count] = [0, 0];
    for (const { fine, sourceFrame } of told) {
      const there = at(sourceFrame + shift);
      if (!there) continue;
      sum += agreement(fine, there);
      count++;
    }
    if (count * 3 < told.length * 2) continue;
    if (!best || sum / count > best.score) best = { shift, score: sum / count };
  }
  return best;
}

/** The better of two places for each event. */
export function bestOf(parts: readonly SearchResult[]): SearchResult {
  const found: Record<string, Found> = {};
  for (const part of parts)
    for (const [event, one] of Object.entries(part.found)) if (one.score > (found[event]?.score ?? 0)) found[event] = one;
  return { found, problems: parts.flatMap((p) => p.problems) };
}

/** How much better another original must agree than the one that is paired, at its best. */
const BETTER = 0.08;

/** A proof with where its picture was found, where that explains it better. */
export const withFound = (proof: EventProof, found: Found | undefined): EventProof =>
  found && found.score > (proof.bestScore ?? 0) + BETTER
    ? {
        ...proof,
        verdict: 'differs',
        findings: [{ kind: 'wrong-picture', path: found.path, sourceStartFrame: found.sourceStartFrame, sourceIn: found.sourceIn }],
      }
    : proof;
