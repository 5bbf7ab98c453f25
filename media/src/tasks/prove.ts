import {
  agreement,
  type Box,
  cannotTell,
  comparable,
  contains,
  type EventPictures,
  type EventProof,
  type Explanation,
  type Finding,
  FOUND,
  type Frames,
  framesAlone,
  GRID,
  judge,
  type Layer,
  layerBox,
  meanOf,
  type Shot,
  sourceFrameAt,
  spread,
} from '@gemello/core';
import { isFaultOfFile } from '../plain';
import { type Against, openProof, orNull, type ProofBasis, type ReferenceLaid } from './against';
import { cutBefore, endOf } from './edges';
import { explained, isBlackInReference, type Looker, looker } from './looked';
import { proveMixed } from './mixed';
import { type FileFault, inSteps, type Report, type StopSignal, stopIfAsked } from './task';

export interface ProvePayload extends ProofBasis {
  /** Only these events are proved; null for all. */
  readonly only: readonly string[] | null;
  /** How the reference lies, where that was found before. */
  readonly laid?: ReferenceLaid;
}

/** What the proof of some events comes to beside them. */
export interface ProofSummary {
  readonly framesCompared: number;
  /** Originals that could not be read, and why; all else was proved. */
  readonly problems: readonly FileFault[];
}

/**
 * Compares events with the reference, frame by frame, through the one time map, event by event: what is handed over stands,
 * whatever comes of the rest. Originals and reference are only read.
 */
export function* proofSteps(payload: ProvePayload, report: Report, signal: StopSignal): Generator<EventProof, ProofSummary> {
  const { step, within } = inSteps(report);
  const opened = openProof(payload, within, signal, payload.laid);
  try {
    return yield* stepsOf(opened, payload.only, step, signal);
  } finally {
    opened.close();
  }
}

/** Makes the small pictures of a reference, where they are not kept already, and finds how it lies, so that several threads can work from that. */
export function prepareProof(basis: ProofBasis, report: Report, signal: StopSignal): ReferenceLaid {
  const opened = openProof(basis, report, signal);
  opened.close();
  return opened.laid;
}

function* stepsOf(
  against: Against,
  only: readonly string[] | null,
  report: Report,
  signal: StopSignal,
): Generator<EventProof, ProofSummary> {
  const wanted = only && new Set(only);
  const all = against.conform.layers.flatMap((layer) => layer.shots.map((shot) => ({ shot, layer })));
  const chosen = worstFirst(
    against,
    all.filter(({ shot }) => !wanted || wanted.has(shot.event.key)),
  );
  const problems: FileFault[] = [];
  const looked = looker(against);
  let framesCompared = 0;
  for (const [index, { shot, layer }] of chosen.entries()) {
    stopIfAsked(signal);
    report({ done: index, total: chosen.length, what: `Event ${shot.event.number}` });
    const proof = proveOrSay(looked, shot, layer, problems);
    framesCompared += proof.framesCompared;
    yield proof;
  }
  report({ done: chosen.length, total: chosen.length, what: '' });
  return { framesCompared, problems };
}

/** Pictures by which events are put in order. */
const GLANCED = 3;

/** Events in the order in which they are looked at: those first that agree least at a glance, so that what is wrong is known soon. */
function worstFirst<T extends { readonly shot: Shot }>({ conform, reference, sources, laid }: Against, all: readonly T[]): T[] {
  const glance = ({ shot }: T): number => {
    if (!shot.original) return Number.POSITIVE_INFINITY;
    const values = spread(framesAlone(conform, shot), GLANCED).map((n) => {
      const [r, s] = [reference(n), orNull(() => sources.luma(shot, sourceFrameAt(shot, n), n))];
      return r && s ? agreement(comparable(r, laid.mask), comparable(s, laid.mask)) : 0;
    });
    return values.length > 0 ? Math.min(...values) : 0;
  };
  return all
    .map((one) => ({ one, value: glance(one) }))
    .sort((a, b) => a.value - b.value)
    .map(({ one }) => one);
}

/** An original that cannot be read leaves its own event unchecked, and no other. */
function proveOrSay(looked: Looker, shot: Shot, layer: Layer, problems: FileFault[]): EventProof {
  try {
    return proveShot(looked, shot, layer);
  } catch (error) {
    if (!isFaultOfFile(error)) throw error;
    problems.push({ path: shot.original?.path ?? '', message: error.message });
    return { ...nothingProved(shot, layer.name), findings: [{ kind: 'cannot-tell', why: error.message }] };
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

function proveShot(looked: Looker, shot: Shot, layer: Layer): EventProof {
  const empty = nothingProved(shot, layer.name);
  const { alone, where, pictures, explanation } = looked.of(shot);
  const mixed = shot.original && alone.length === 0 ? proveMixed(looked.against, shot, empty) : null;
  if (mixed) return mixed;
  const why = reasonNotToCheck(shot, alone.length);
  if (why) {
    // Black has no picture to compare, but what fades into it has.
    const cut = shot.drawn === 'black' ? cutBefore(looked, shot, layer) : null;
    return cut ? { ...empty, verdict: 'differs', findings: [cut] } : { ...empty, findings: why };
  }
  const trace = traceOf(shot, new Set(alone), pictures);
  const compared = { trace, framesCompared: trace.filter((t) => t !== null).length };
  const absent = alone.filter((n) => pictures.source(sourceFrameAt(shot, n), n - shot.event.record.in) === null).length;
  if (absent === alone.length && (explanation === null || explanation.score < FOUND))
    return { ...empty, verdict: 'differs', findings: [{ kind: 'picture-missing', side: 'conform' }] };
  if (explanation === null) return { ...empty, findings: [cannotTell('covered')] };
  const measured = {
    ...compared,
    score: explanation.asConformed === null ? null : round(explanation.asConformed),
    bestOffset: explanation.line || explanation.knots ? null : explanation.slip,
    bestScore: round(explanation.score),
  };
  // Asked first: what is left of black once it is coded may be taken for some part of a picture.
  if ((explanation.asConformed ?? 0) < FOUND && isBlackInReference(looked.of(shot)))
    return { ...empty, ...measured, verdict: 'differs', findings: [{ kind: 'picture-missing', side: 'reference' }] };
  if (explanation.score < FOUND && belowIsSeen(looked.against, shot, layer, alone, pictures)) {
    const findings: Finding[] = [{ kind: 'layer-missing', side: 'reference', area: boxOf(where) }];
    return { ...empty, ...measured, verdict: 'differs', findings };
  }
  const { verdict, findings: own } = judge(pictures, explanation);
  const findings: Finding[] = [];
  // Where it lies elsewhere, what is missing here says nothing.
  if (absent > 0 && !own.some((f) => f.kind === 'slipped' || f.kind === 'wrong-picture' || f.kind === 'speed-differs'))
    findings.push({ kind: 'picture-missing', side: 'conform', frames: absent });
  findings.push(...own);
  const cut = cutBefore(looked, shot, layer);
  const over = layerOver(pictures, explanation, seenWholeFrom(cut));
  if (over) findings.push(over);
  if (cut) findings.push(cut);
  const end = endOf(looked, shot, layer);
  if (end) findings.push(end);
  const differs = findings.some((f) => f.kind !== 'cannot-tell');
  return {
    ...empty,
    ...measured,
    verdict: differs ? 'differs' : verdict,
    findings: differs ? findings.filter((f) => f.kind !== 'cannot-tell') : findings,
  };
}

const round = (n: number) => Math.round(n * 10000) / 10000;

function reasonNotToCheck(shot: Shot, framesToCompare: number): Finding[] | null {
  if (shot.exempt && !shot.original) return [];
  if (!shot.original) return [cannotTell('not-paired')];
  if (framesToCompare === 0) return [cannotTell('covered')];
  return null;
}

/** Agreement as conformed, frame by frame. */
function traceOf({ event }: Shot, alone: ReadonlySet<Frames>, { reference, source, expected, mask }: EventPictures): (number | null)[] {
  const trace: (number | null)[] = [];
  for (let n = event.record.in; n < event.record.out; n++) {
    const offset = n - event.record.in;
    const [r, s] = alone.has(n) ? [reference(offset), source(expected(offset), offset)] : [null, null];
    trace.push(r && s ? round(agreement(comparable(r, mask), comparable(s, mask))) : null);
  }
  return trace;
}

/** What a mask leaves of the frame, as a box; the whole of it without one. */
function boxOf(where: Uint8Array | null): Box {
  let [left, top, right, bottom] = where ? [GRID.width, GRID.height, 0, 0] : [0, 0, GRID.width, GRID.height];
  where?.forEach((seen, i) => {
    if (!seen) return;
    const [x, y] = [i % GRID.width, Math.floor(i / GRID.width)];
    [left, top, right, bottom] = [Math.min(left, x), Math.min(top, y), Math.max(right, x + 1), Math.max(bottom, y + 1)];
  });
  return { x: left / GRID.width, y: top / GRID.height, width: (right - left) / GRID.width, height: (bottom - top) / GRID.height };
}

/** True where the reference shows, in place of a shot, what the conform has below it: its layer is not in the reference. */
function belowIsSeen(
  { conform, sources }: Against,
  shot: Shot,
  layer: Layer,
  alone: readonly Frames[],
  { reference, mask }: EventPictures,
): boolean {
  const below = conform.layers.slice(0, conform.layers.indexOf(layer)).flatMap((l) => l.shots);
  const scores = spread(alone, 9).flatMap((n) => {
    const under = below.findLast((s) => s.original && contains(s.event.record, n));
    const [r, s] = [reference(n - shot.event.record.in), under ? sources.luma(under, sourceFrameAt(under, n), n) : null];
    return r && s ? [agreement(comparable(r, mask), comparable(s, mask))] : [];
  });
  return scores.length > 0 && meanOf(scores) >= FOUND;
}

/** The offset from which on an event is seen whole in the reference, by what was told of its cut. */
function seenWholeFrom(cut: Finding | null): Frames {
  if (cut?.kind === 'cut-moved') return Math.max(0, cut.frames);
  if (cut?.kind !== 'transition-differs' || !cut.measured) return 0;
  return cut.measured.offsetFrames + cut.measured.durationFrames + 1;
}

/** What lies over the picture in the reference alone, where that shows the event whole. */
function layerOver(pictures: EventPictures, explanation: Explanation, from: Frames): Finding | null {
  if (explanation.score < FOUND) return null;
  const pairs = spread(
    pictures.core.filter((k) => k >= from),
    10,
  ).flatMap((k) => {
    const [r, s] = [pictures.reference(k), explained({ pictures, explanation }, k)];
    return r && s ? [{ r, s }] : [];
  });
  const area = layerBox(
    pairs.map((p) => p.r),
    pairs.map((p) => p.s),
    pictures.mask,
  );
  return area && { kind: 'layer-missing', side: 'conform', area };
}
