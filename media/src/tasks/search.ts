import {
  agreement,
  coarse,
  comparable,
  type EventProof,
  FOUND,
  type Frames,
  formatTimeOfDay,
  framesAlone,
  type Original,
  placesIn,
  type Shot,
  type SoughtPicture,
  shotOf,
  sourceFrameAt,
  spread,
} from '@gemello/core';
import { isFaultOfFile } from '../plain';
import { type Against, openProof, type ProofBasis, type ReferenceLaid } from './against';
import { type FileFault, type Report, type StopSignal, stopIfAsked } from './task';

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
  const opened = openProof(payload, report, signal, payload.laid);
  const among = new Set(payload.among);
  try {
    return searchIn(
      opened,
      payload.events,
      payload.originals.filter((o) => among.has(o.path)),
      report,
      signal,
    );
  } finally {
    opened.close();
  }
}

/** Pictures of an event that are looked for, and that then tell the exact frame. */
const [LOOKED_FOR, TOLD] = [6, 24];

interface Wanted {
  readonly event: string;
  readonly shot: Shot;
  readonly sought: readonly SoughtPicture[];
  readonly told: readonly { readonly fine: Float32Array; readonly sourceFrame: Frames }[];
}

/** One pass through originals for all events whose picture was not where the list said. */
export function searchIn(
  against: Against,
  events: readonly string[],
  originals: readonly Original[],
  report: Report,
  signal: StopSignal,
): SearchResult {
  const { mask } = against.laid;
  const found: Record<string, Found> = {};
  const problems: FileFault[] = [];
  const wanted = events.flatMap((event): Wanted[] => {
    const shot = shotOf(against.conform, event);
    if (!shot) return [];
    const alone = framesAlone(against.conform, shot);
    const inner = alone.slice(Math.floor(alone.length * 0.2), Math.ceil(alone.length * 0.8));
    const told = spread(inner, TOLD).flatMap((n) => {
      const luma = against.reference(n);
      return luma ? [{ luma, fine: comparable(luma, mask), sourceFrame: sourceFrameAt(shot, n) }] : [];
    });
    const sought = spread(told, LOOKED_FOR).map(({ luma, sourceFrame }) => ({ picture: coarse(luma, mask), sourceFrame }));
    return told.length > 0 ? [{ event, shot, sought, told }] : [];
  });
  const pictured = wanted.length > 0 ? originals.filter((o) => o.kind !== 'sound') : [];
  for (const [index, original] of pictured.entries()) {
    stopIfAsked(signal);
    report({ done: index, total: pictured.length, what: `Looking for the right picture in ${original.fileName}` });
    try {
      const strip = against.sources.strip(original);
      const pictures = Array.from({ length: strip.frames }, (_, n) => coarse(strip.frame(n), mask));
      for (const { event, shot, sought, told } of wanted) {
        for (const place of placesIn(sought, pictures)) {
          const shift = place.sourceFrame - (sought[0]?.sourceFrame ?? 0);
          const best = exactly(told, shift, (n) => (n >= 0 && n < strip.frames ? comparable(strip.frame(n), mask) : null));
          if (!best || best.score < FOUND || best.score <= (found[event]?.score ?? 0)) continue;
          const sourceStartFrame = shot.sourceStart + best.shift;
          const sourceIn = original.hasTimecode ? formatTimeOfDay(original.start + sourceStartFrame, original.rate) : null;
          found[event] = { path: original.path, sourceStartFrame, sourceIn, score: best.score };
        }
      }
    } catch (error) {
      if (!isFaultOfFile(error)) throw error;
      problems.push({ path: original.path, message: error.message });
    }
  }
  return { found, problems };
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
  for (let shift = around - 2; shift <= around + 2; shift++) {
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
