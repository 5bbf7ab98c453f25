import {
  type EventProof,
  type Frames,
  formatTimeOfDay,
  GRID,
  LINES,
  type Original,
  prepare,
  searchFor,
  shotOf,
  wholePart,
} from '@gemello/core';
import { readPartLuma } from '../compose';
import { isFaultOfFile } from '../plain';
import { type Against, openProof, type ProofBasis, samplesOf } from './against';
import { type FileFault, type Report, type StopSignal, stopIfAsked } from './task';

/** Where the picture that the reference shows was found. */
export interface Found {
  readonly path: string;
  /** Frame of that original that stands for the event's source in. */
  readonly sourceStartFrame: Frames;
  /** Its label; null where the original has no timecode. */
  readonly sourceIn: string | null;
  /** Mean correlation, above the line for `same`. */
  readonly score: number;
}

export interface SearchResult {
  /** By the key of the event; an event whose picture is in none of the originals is left out. */
  readonly found: Readonly<Record<string, Found>>;
  readonly problems: readonly FileFault[];
}

export interface SearchPayload extends ProofBasis {
  /** Keys of the events whose picture is looked for. */
  readonly events: readonly string[];
  /** Paths of the originals that are looked through. */
  readonly among: readonly string[];
}

/** Looks through some originals for the pictures that the reference shows. Files are only read. */
export function searchElsewhere(payload: SearchPayload, report: Report, signal: StopSignal): SearchResult {
  const opened = openProof(payload, report, signal);
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
    opened.strip.close();
  }
}

/** One pass through originals for all events whose picture was not where the list said. */
export function searchIn(
  against: Against,
  events: readonly string[],
  originals: readonly Original[],
  report: Report,
  signal: StopSignal,
): SearchResult {
  const found: Record<string, Found> = {};
  const problems: FileFault[] = [];
  const searches = events.flatMap((event) => {
    const shot = shotOf(against.conform, event);
    const samples = shot ? samplesOf(against, shot) : [];
    return shot && samples.length > 0 ? [{ event, shot, samples, search: searchFor(samples) }] : [];
  });
  const pictured = searches.length > 0 ? originals.filter((o) => o.kind !== 'sound') : [];
  for (const [index, original] of pictured.entries()) {
    stopIfAsked(signal);
    report({ done: index, total: pictured.length, what: `Looking for the right picture in ${original.fileName}` });
    try {
      readPartLuma(wholePart(original, 0), against.frame, GRID, 0, original.frames, (luma, number) => {
        const prepared = prepare(luma, against.area);
        for (const { search } of searches) search.offer(prepared, number);
        return signal.aborted ? false : undefined;
      });
    } catch (error) {
      if (!isFaultOfFile(error)) throw error;
      problems.push({ path: original.path, message: error.message });
    }
    // What was offered of a file that ends in a fault counts no more than what comes after it.
    for (const { event, shot, samples, search } of searches) {
      const best = search.finish();
      if (!best || best.score <= (found[event]?.score ?? LINES.same)) continue;
      const sourceStartFrame = shot.sourceStart + best.sourceFrame - (samples[0]?.sourceFrame ?? 0);
      const sourceIn = original.hasTimecode ? formatTimeOfDay(original.start + sourceStartFrame, original.rate) : null;
      found[event] = { path: original.path, sourceStartFrame, sourceIn, score: best.score };
    }
  }
  return { found, problems };
}

/** The better of two places for each event. */
export function bestOf(parts: readonly SearchResult[]): SearchResult {
  const found: Record<string, Found> = {};
  for (const part of parts)
    for (const [event, one] of Object.entries(part.found)) if (one.score > (found[event]?.score ?? 0)) found[event] = one;
  return { found, problems: parts.flatMap((p) => p.problems) };
}

/** A proof with where its picture was found. */
export const withFound = (proof: EventProof, found: Found | undefined): EventProof =>
  found
    ? {
        ...proof,
        verdict: 'differs',
        findings: [{ kind: 'wrong-picture', path: found.path, sourceStartFrame: found.sourceStartFrame, sourceIn: found.sourceIn }],
      }
    : proof;
