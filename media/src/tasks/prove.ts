import {
  type Area,
  align,
  cannotTell,
  correlate,
  detailOf,
  type EventProof,
  type Finding,
  type Frame,
  type Frames,
  findReframe,
  GRID,
  judge,
  judgeStill,
  LINES,
  type Original,
  type Part,
  poseAt,
  prepare,
  REACH,
  type Sample,
  type Shot,
  sourceFrameAt,
} from '@gemello/core';
import { readPartLuma } from '../compose';
import { isFaultOfFile } from '../plain';
import { LumaStrip } from '../strip';
import { type Against, comparable, openProof, type ProofBasis, sampledOf, withoutTitles } from './against';
import { searchIn, withFound } from './search';
import { type FileFault, type Report, type StopSignal, stopIfAsked } from './task';

export interface ProvePayload extends ProofBasis {
  /** Only these events are proved; null for all. */
  readonly only: readonly string[] | null;
}

/** What a proof comes to, but for the events themselves. */
export interface ProofSummary {
  readonly framesCompared: number;
  readonly seconds: number;
  /** The part of the reference taken for picture, as shares of its width and height. */
  readonly area: { left: number; top: number; right: number; bottom: number };
  /** Record frame at which the reference begins. */
  readonly referenceStart: Frames;
  /** Events that show another picture; it may be looked for. */
  readonly strangers: readonly string[];
  /** Originals that could not be read, and why; all else was proved. */
  readonly problems: readonly FileFault[];
}

export interface ProveResult extends Omit<ProofSummary, 'strangers'> {
  readonly events: EventProof[];
}

/**
 * Compares each event with the reference, frame by frame, through the one time map. Where the
 * picture is another, every original is searched for the right one. Originals and reference are
 * only read.
 */
export function prove(payload: ProvePayload, report: Report, signal: StopSignal): ProveResult {
  const opened = openProof(payload, report, signal);
  try {
    const events: EventProof[] = [];
    const steps = stepsOf(opened, payload.only, report, signal);
    for (;;) {
      const step = steps.next();
      if (!step.done) {
        events.push(step.value);
        continue;
      }
      const { strangers, problems, ...rest } = step.value;
      const search = searchIn(opened, strangers, payload.originals, report, signal);
      return { ...rest, problems: [...problems, ...search.problems], events: events.map((e) => withFound(e, search.found[e.event])) };
    }
  } finally {
    opened.strip.close();
  }
}

/** The same but for the search, event by event: what is handed over stands, whatever comes of the rest. */
export function* proofSteps(payload: ProvePayload, report: Report, signal: StopSignal): Generator<EventProof, ProofSummary> {
  const opened = openProof(payload, report, signal);
  try {
    return yield* stepsOf(opened, payload.only, report, signal);
  } finally {
    opened.strip.close();
  }
}

/** Makes the small pictures of a reference, where they are not kept already, so that several threads can work from them. */
export function prepareProof({ reference, cache }: ProofBasis, report: Report, signal: StopSignal): void {
  LumaStrip.of(reference, cache, report, signal).close();
}

function* stepsOf(
  against: Against,
  only: readonly string[] | null,
  report: Report,
  signal: StopSignal,
): Generator<EventProof, ProofSummary> {
  const began = performance.now();
  const wanted = only && new Set(only);
  const all = against.conform.layers.flatMap((l) => l.shots.map((shot) => ({ shot, track: l.name })));
  const chosen = all.filter(({ shot }) => !wanted || wanted.has(shot.event.key));
  const strangers: string[] = [];
  const problems: FileFault[] = [];
  let framesCompared = 0;
  for (const [index, { shot, track }] of chosen.entries()) {
    stopIfAsked(signal);
    report({ done: index, total: chosen.length, what: `Event ${shot.event.number}` });
    const proof = proveOrSay(against, shot, track, problems);
    framesCompared += proof.framesCompared;
    if (proof.findings.some((f) => f.kind === 'wrong-picture')) strangers.push(proof.event);
    yield proof;
  }
  report({ done: chosen.length, total: chosen.length, what: '' });
  const { area, referenceStart } = against;
  return {
    framesCompared,
    seconds: (performance.now() - began) / 1000,
    area: { left: area.left / GRID.width, top: area.top / GRID.height, right: area.right / GRID.width, bottom: area.bottom / GRID.height },
    referenceStart,
    strangers,
    problems,
  };
}

/** An original that cannot be read leaves its own event unchecked, and no other. */
function proveOrSay(against: Against, shot: Shot, track: string, problems: FileFault[]): EventProof {
  try {
    return proveShot(against, shot, track);
  } catch (error) {
    if (!isFaultOfFile(error)) throw error;
    problems.push({ path: shot.original?.path ?? '', message: error.message });
    return { ...nothingProved(shot, track), findings: [{ kind: 'cannot-tell', why: error.message }] };
  }
}

const nothingProved = ({ event }: Shot, track: string): EventProof => ({
  event: event.key,
  number: event.number,
  track,
  verdict: 'unchecked',
  score: null,
  bestOffset: null,
  bestScore: null,
  trace: [],
  framesCompared: 0,
  findings: [],
});

function proveShot(against: Against, shot: Shot, track: string): EventProof {
  const { event, original } = shot;
  const { conform, strip, referenceStart, frame } = against;
  const empty = nothingProved(shot, track);
  const alone = comparable(against, shot);
  const why = reasonNotToCheck(shot, alone.length);
  if (why) return { ...empty, findings: why };

  const area = withoutTitles(conform, alone, against.area);
  const references = new Map(alone.map((n) => [n, prepare(strip.frame(n - referenceStart), area)]));
  const source = loadSource(original as Original, shot, alone, area, frame);
  const sampled = sampledOf(alone);
  const samples = sampled.map((n): Sample => ({ reference: references.get(n) as Float32Array, sourceFrame: sourceFrameAt(shot, n) }));
  const still = (original as Original).kind === 'still' || event.retime.kind === 'freeze';
  const alignment = align(samples, (n) => source.prepared(n));
  if (!alignment) return { ...empty, verdict: 'differs', findings: [{ kind: 'picture-missing' }] };

  const trace: (number | null)[] = [];
  for (let n = event.record.in; n < event.record.out; n++) {
    const reference = references.get(n);
    const picture = reference ? source.prepared(sourceFrameAt(shot, n)) : null;
    trace.push(reference && picture ? round(correlate(reference, picture)) : null);
  }
  const detail = sharperDetail(
    sampled,
    (n) => strip.frame(n - referenceStart),
    (n) => source.luma(sourceFrameAt(shot, n)),
    area,
  );
  let { verdict, findings } = (original as Original).kind === 'still' ? judgeStill(alignment.atZero, detail) : judge(alignment, detail);
  if (still && findings.some((f) => f.kind === 'cannot-tell') && alignment.atZero >= LINES.same)
    ({ verdict, findings } = { verdict: 'same', findings: [] });
  if (verdict !== 'same' && !findings.some((f) => f.kind === 'slipped')) {
    const reframed = reframing(shot, sampled, strip, referenceStart, source, area);
    if (reframed) {
      verdict = 'differs';
      findings = [reframed];
    }
  }
  // Where it lies elsewhere, what is missing here says nothing.
  const absent = alone.filter((n) => source.luma(sourceFrameAt(shot, n)) === null).length;
  if (absent > 0 && !findings.some((f) => f.kind === 'slipped' || f.kind === 'wrong-picture')) {
    verdict = 'differs';
    findings = [{ kind: 'picture-missing', frames: absent }, ...findings];
  }
  return {
    ...empty,
    verdict,
    findings,
    trace,
    score: round(alignment.atZero),
    bestOffset: alignment.best.offset,
    bestScore: round(alignment.best.score),
    framesCompared: trace.filter((t) => t !== null).length,
  };
}

const round = (n: number) => Math.round(n * 10000) / 10000;

/** The detail of reference or source, whichever has more, in the middle of what was sampled of each. */
function sharperDetail(
  sampled: readonly Frames[],
  reference: (n: Frames) => Uint8Array,
  source: (n: Frames) => Uint8Array | null,
  area: Area,
): number {
  const middle = (pictures: (Uint8Array | null)[]) => {
    const details = pictures.flatMap((p) => (p ? [detailOf(p, area)] : [])).sort((a, b) => a - b);
    return details[details.length >> 1] ?? 0;
  };
  return Math.max(middle(sampled.map(reference)), middle(sampled.map(source)));
}

function reasonNotToCheck(shot: Shot, framesToCompare: number): Finding[] | null {
  if (shot.exempt && !shot.original) return [];
  if (!shot.original) return [cannotTell('not-paired')];
  if (framesToCompare === 0) return [cannotTell('covered')];
  return null;
}

interface LoadedSource {
  prepared(frame: Frames): Float32Array | null;
  luma(frame: Frames): Uint8Array | null;
}

/** A shot as it is laid at its first frame; one that moves on the way is compared as it begins. */
const partOf = (shot: Shot): Part => ({
  shot,
  layer: 0,
  sourceFrame: shot.sourceStart,
  pose: poseAt(shot.event.placement, 0),
  side: 'alone',
  join: null,
  share: 1,
});

/** Decodes once what the event may need, REACH to each side, small. */
function loadSource(original: Original, shot: Shot, alone: readonly Frames[], area: Area, frame: Frame): LoadedSource {
  const needed = alone.map((n) => sourceFrameAt(shot, n));
  const lowest = original.kind === 'still' ? 0 : Math.min(...needed) - REACH;
  const highest = original.kind === 'still' ? 0 : Math.max(...needed) + REACH;
  const raw = new Map<Frames, Uint8Array>();
  readPartLuma(partOf(shot), frame, GRID, Math.max(0, lowest), highest + 1, (luma, number) => {
    raw.set(number, luma.slice());
    return undefined;
  });
  const made = new Map<Frames, Float32Array>();
  return {
    luma: (n) => raw.get(n) ?? null,
    prepared(n) {
      const known = made.get(n);
      if (known) return known;
      const luma = raw.get(n);
      if (!luma) return null;
      const prepared = prepare(luma, area);
      made.set(n, prepared);
      return prepared;
    },
  };
}

/** Tries whether an enlargement explains the difference: found on the middle frame, confirmed on two others. */
function reframing(
  shot: Shot,
  sampled: readonly Frames[],
  strip: LumaStrip,
  referenceStart: Frames,
  source: LoadedSource,
  area: Area,
): Finding | null {
  const scores: number[] = [];
  let first: ReturnType<typeof findReframe> | null = null;
  for (const share of [0.5, 0.15, 0.85]) {
    const n = sampled[Math.floor(sampled.length * share)];
    const luma = n === undefined ? null : source.luma(sourceFrameAt(shot, n));
    if (n === undefined || !luma) return null;
    const found = findReframe(strip.frame(n - referenceStart), luma, area);
    first ??= found;
    if (Math.abs(found.scale - first.scale) > 0.06) return null;
    scores.push(found.score);
  }
  if (!first || first.scale < 1.02 || scores.some((s) => s < LINES.same)) return null;
  return { kind: 'reframed', scale: round(first.scale), x: round(first.x), y: round(first.y), rotation: 0 };
}
