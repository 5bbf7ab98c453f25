import { mkdtemp, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import path from 'node:path';
import {
  type Conform,
  compile,
  type EventProof,
  type Heard,
  judgeMix,
  lengthOf,
  type MixJudged,
  type Rebuilt,
  rebuilt,
  type SeenShot,
  secondsHeard,
  shotsByKey,
  strangersAmong,
  type ToCompare,
  undecidedAmong,
} from '@gemello/core';
import type { ProofBasis, ReferenceLaid } from './tasks/against';
import type { EventLooks } from './tasks/compare';
import type { ProofSummary } from './tasks/prove';
import type { RebuildBasis } from './tasks/rebuild';
import type { ReturnResult } from './tasks/return';
import type { ClipDone, ReturnPayload } from './tasks/return-clips';
import { together as foundTogether, looksOfFound, type Paired, type SearchResult, withFound } from './tasks/search';
import type { FileFault, Report } from './tasks/task';
import type { How, MediaThreads } from './threads';

/** Work on several threads at once, each with a share of it. */

/** Splits work into shares, those that follow each other together, since they often lie in one file. */
function sharesOf<T>(all: readonly T[], shares: number): T[][] {
  const size = Math.max(1, Math.ceil(all.length / shares));
  return Array.from({ length: shares }, (_, i) => all.slice(i * size, (i + 1) * size)).filter((share) => share.length > 0);
}

/** Does all shares at once. Where one fails the others are waited for, since they keep what they finish. */
async function allOf<T>(shares: readonly T[], work: (share: T, at: number) => Promise<void>): Promise<void> {
  const ended = await Promise.allSettled(shares.map(work));
  for (const end of ended) if (end.status === 'rejected') throw end.reason;
}

/** A report of one phase of the work, as its part of the whole: the bar runs through once. */
const phase =
  (report: Report | undefined, from: number, to: number): Report =>
  ({ done, total, what }) =>
    report?.({ done: Math.round(1000 * (from + (to - from) * (total > 0 ? done / total : 0))), total: 1000, what });

/** Makes one report out of those of several shares. `total`: of all of them; left out where each of them tells it. */
function together(report: Report, total?: number): (share: number) => Report {
  const done: number[] = [];
  return (share) => (progress) => {
    done[share] = progress.done;
    report({ ...progress, done: done.reduce((sum, n) => sum + (n ?? 0), 0), total: total ?? progress.total });
  };
}

const once = (problems: readonly FileFault[]): FileFault[] => [...new Map(problems.map((p) => [p.path, p])).values()];

/** The place in an original that each event of a cut is paired with. */
function pairedIn({ list, originals }: ProofBasis): (event: string) => Paired | null {
  const shots = shotsByKey(compile(list, originals));
  return (event) => {
    const shot = shots.get(event);
    return shot?.original ? { path: shot.original.path, sourceStart: shot.sourceStart } : null;
  };
}

/** A mix that was measured for a cut: what is said of it, and where it begins, in seconds of the cut. */
export interface MixUnder extends MixJudged {
  readonly begins: number;
}

/** Lays a mix under a cut by what is heard under it already: its guide sound, or the reference. */
export async function mixUnder(
  threads: MediaThreads,
  { mix, guide, conform }: { mix: string; guide: Heard; conform: Pick<Conform, 'span' | 'rate'> },
  how: How = {},
): Promise<MixUnder> {
  const { laid, length } = await threads.measureMix({ mix, guide: guide.sound.path }, how);
  const { span, rate } = conform;
  const frame = rate.den / rate.num;
  const begins = -secondsHeard(guide, span.in, rate);
  const judged = judgeMix(laid, { span: lengthOf(span) * frame, begins, length, frame });
  return { ...judged, begins: begins + (judged.lay?.offset ?? 0) };
}

/** Writes a return with its clips made on all threads at once; see `writeReturn`. */
export async function returnAbreast(
  threads: MediaThreads,
  payload: ReturnPayload,
  { report = () => undefined, ...rest }: How,
): Promise<ReturnResult> {
  const done: ClipDone[] = [];
  if (payload.render) {
    const shares = Array.from({ length: threads.abreast }, (_, index) => ({ index, of: threads.abreast }));
    const reports = together(report);
    await allOf(shares, async (share, i) => {
      done.push(...(await threads.renderShare({ ...payload, share }, { ...rest, report: reports(i) })));
    });
  }
  return threads.writeReturn({ ...payload, done: payload.render ? done : null }, rest);
}

/** What a proof by several threads came to beside the events themselves. */
export interface ProofAbreast extends ProofSummary {
  readonly laid: ReferenceLaid;
  readonly seconds: number;
}

/**
 * Proves events against a reference on all threads. `take` gets proofs as they are made, and again where the picture was
 * found in another original. `before`: events that were proved already, which tell how well the others ought to agree. `laid`: how
 * the reference lies, where that was found before and still holds; all else but that is looked at anew.
 */
export async function proveAbreast(
  threads: MediaThreads,
  basis: ProofBasis,
  events: readonly string[],
  take: (proofs: readonly EventProof[]) => void,
  {
    before = [],
    onLaid,
    laid: known,
    ...how
  }: How & { before?: readonly EventProof[]; onLaid?: (laid: ReferenceLaid) => Promise<void>; laid?: ReferenceLaid } = {},
): Promise<ProofAbreast> {
  const began = performance.now();
  const { report, ...rest } = how;
  const proved = new Map(before.map((p) => [p.event, p] as const));
  const keep = (proofs: readonly EventProof[]) => {
    for (const p of proofs) proved.set(p.event, p);
    take(proofs);
  };
  const problems: FileFault[] = [];
  const laid = known ?? (await threads.prepareProof(basis, { ...rest, report: phase(report, 0, 0.2) }));
  await onLaid?.(laid);
  const reports = together(phase(report, 0.2, 0.9), events.length);
  let framesCompared = 0;
  await allOf(sharesOf(events, threads.abreast), async (only, i) => {
    const summary = await threads.proveEach({ ...basis, laid, only }, keep, { ...rest, report: reports(i) });
    framesCompared += summary.framesCompared;
    problems.push(...summary.problems);
  });
  const all = [...proved.values()];
  const sought = [...new Set([...strangersAmong(all), ...undecidedAmong(all).filter((p) => events.includes(p.event))])];
  if (sought.length > 0) {
    const searched = sought.map((p) => p.event);
    const { found, problems: unread } = await searchAbreast(threads, basis, laid, searched, { ...rest, report: phase(report, 0.9, 1) });
    problems.push(...unread);
    const paired = pairedIn(basis);
    const changed = sought.flatMap((before) => {
      const after = withFound(before, found[before.event], paired(before.event));
      return after === before ? [] : [after];
    });
    if (changed.length > 0) keep(changed);
  }
  return { laid, framesCompared, seconds: (performance.now() - began) / 1000, problems: once(problems) };
}

/** Looks for the pictures of events in all originals, each thread in some of them. */
async function searchAbreast(
  threads: MediaThreads,
  basis: ProofBasis,
  laid: ReferenceLaid,
  events: readonly string[],
  { report = () => undefined, ...rest }: How,
): Promise<SearchResult> {
  const paths = basis.originals.map((o) => o.path);
  const looked = together(report, paths.length);
  const parts: SearchResult[] = [];
  await allOf(sharesOf(paths, threads.abreast), async (among, i) => {
    parts.push(await threads.search({ ...basis, laid, events, among }, { ...rest, report: looked(i) }));
  });
  return foundTogether(parts);
}

/**
 * Holds the candidates of events against the reference on all threads, and looks in all originals for the picture of those of
 * which no candidate has it. `take` gets what was seen, of an event once more where its picture was found elsewhere. Gives
 * the files that could not be read.
 */
export async function compareAbreast(
  threads: MediaThreads,
  basis: ProofBasis,
  asked: readonly ToCompare[],
  take: (looks: readonly EventLooks[]) => void,
  { report, ...rest }: How = {},
): Promise<readonly FileFault[]> {
  const laid = await threads.prepareProof(basis, { ...rest, report: phase(report, 0, 0.3) });
  const reports = together(phase(report, 0.3, 0.7), asked.length);
  const problems: FileFault[] = [];
  const seen = new Map<string, EventLooks>();
  const keep = (looks: readonly EventLooks[]) => {
    for (const one of looks) seen.set(one.event, one);
    take(looks);
  };
  await allOf(sharesOf(asked, threads.abreast), async (share, i) => {
    problems.push(...(await threads.compareEach({ ...basis, laid, asked: share }, keep, { ...rest, report: reports(i) })));
  });
  const sought = [...seen.values()].filter((s) => !s.looks.some((l) => l.is === 'found')).map((s) => s.event);
  if (sought.length > 0) {
    const { found, problems: unread } = await searchAbreast(threads, basis, laid, sought, { ...rest, report: phase(report, 0.7, 1) });
    problems.push(...unread);
    const more = sought.flatMap((event): EventLooks[] => {
      const looks = looksOfFound(found[event] ?? []);
      const known = (seen.get(event)?.looks ?? []).filter((l) => !looks.some((f) => f.path === l.path));
      return looks.length === 0 ? [] : [{ event, looks: [...known, ...looks] }];
    });
    if (more.length > 0) keep(more);
  }
  return once(problems);
}

/** A cut that was rebuilt from its picture, with the shots it is made of. */
export interface RebuiltCut extends Rebuilt {
  readonly shots: readonly SeenShot[];
  readonly problems: readonly FileFault[];
}

/** Rebuilds a cut from a reference and originals alone, on all threads. Files are only read. */
export async function rebuildAbreast(threads: MediaThreads, basis: RebuildBasis, title: string, how: How = {}): Promise<RebuiltCut> {
  const { report, ...rest } = how;
  const laid = await threads.prepareRebuild(basis, { ...rest, report: phase(report, 0, 0.4) });
  const numbers = laid.shots.map((_, i) => i);
  const looked = together(phase(report, 0.4, 0.9), numbers.length);
  const found: SeenShot[] = [];
  const problems: FileFault[] = [];
  await allOf(sharesOf(numbers, threads.abreast), async (only, i) => {
    const part = await threads.findShots({ ...basis, laid, only }, { ...rest, report: looked(i) });
    found.push(...part.shots);
    problems.push(...part.problems);
  });
  found.sort((a, b) => a.from - b.from);
  const { shots, problems: unread } = await threads.tellJoins({ ...basis, laid, shots: found }, { ...rest, report: phase(report, 0.9, 1) });
  const framing = { raster: laid.frame.raster, pixelAspect: laid.frame.pixelAspect, fields: null };
  const { reference } = basis;
  return { ...rebuilt(title, reference.rate, framing, reference.start, shots), shots, problems: once([...problems, ...unread]) };
}

/** A folder for small pictures that is gone when the work is done. */
export async function withCache<T>(work: (folder: string) => Promise<T>): Promise<T> {
  const folder = await mkdtemp(path.join(tmpdir(), 'gemello-'));
  try {
    return await work(folder);
  } finally {
    await rm(folder, { recursive: true, force: true });
  }
}
