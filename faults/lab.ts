import { rmSync } from 'node:fs';
import path from 'node:path';
import {
  applyDecisions,
  type Decision,
  EMPTY_LIST,
  type EventProof,
  type Finding,
  fraction,
  newEvent,
  type Original,
  RATES,
} from '@gemello/core';
import { type MediaThreads, probeMovie, proveAbreast } from '@gemello/media';
import { CODING, type Degradation, degraded, LEADER, leader } from './degrade';
import { drawn, type Truth, tells } from './faults';
import { fading, joined } from './joins';
import { type Planned, plan } from './plan';
import { numbersFrom, type Plate, writePlates } from './plates';
import { RASTER, type Take } from './sources';
import type { Stock } from './stock';

const START = 864_000;

/** The reference of a plan, frame by frame, as its makers saw it. */
function* referenceOf(stock: Stock, planned: readonly Planned[], how: Degradation): Generator<Plate> {
  for (let n = 0; n < LEADER[how]; n++) yield leader(n, how);
  let at = 0;
  const starts = planned.map((p) => {
    const start = at;
    at += p.length;
    return start;
  });
  const pictureOf = (i: number, n: number): Plate => {
    const p = planned[i] as Planned;
    return drawn(p.shown, (stock.takes[p.shown.take] as Take).plates, n - (starts[i] as number));
  };
  for (let n = 0, i = 0; n < at; n++) {
    while (i + 1 < planned.length && n >= (starts[i + 1] as number) + (planned[i + 1] as Planned).moved) i++;
    const p = planned[i] as Planned;
    const into = n - (starts[i] as number);
    let picture = pictureOf(i, n);
    if (p.join && into >= 0 && into < p.join.frames && i > 0) picture = joined(p.join, into, pictureOf(i - 1, n), picture);
    const gone = into - (p.length - p.leaves);
    if (p.leaves > 0 && gone >= 0) picture = fading(picture, (gone + 1) / (p.leaves + 1));
    yield degraded(picture, n, how);
  }
}

function listOf(stock: Stock, planned: readonly Planned[]) {
  let at = START;
  const events = planned.map((p, i) => {
    const original = stock.originals[p.take] as Original;
    const source = { in: original.start + p.from, out: original.start + p.from + Math.round(p.length * p.listedSpeed) };
    const record = { in: at, out: at + p.length };
    at += p.length;
    return newEvent({
      key: `e${i}`,
      number: String(i + 1).padStart(3, '0'),
      reel: original.reel,
      clipName: original.clipName,
      fileName: original.fileName,
      sourceRate: RATES['24'],
      source,
      record,
      retime: p.listedSpeed === 1 ? { kind: 'natural' } : { kind: 'constant', speed: fraction(Math.round(p.listedSpeed * 100), 100) },
      transitionIn: p.listedTransition,
    });
  });
  const list = {
    ...EMPTY_LIST,
    format: 'faults',
    title: 'FAULTS',
    rate: RATES['24'],
    framing: { raster: RASTER, pixelAspect: 1, fields: null },
    tracks: [{ name: 'V1', kind: 'picture' as const, events }],
  };
  const pairs: Decision[] = planned.map((p, i) => ({
    kind: 'pair',
    event: `e${i}`,
    original: (stock.originals[p.take] as Original).path,
    sourceStartFrame: p.from,
  }));
  return applyDecisions(list, pairs).list;
}

/** What became of one event. */
export interface Outcome {
  readonly fault: string;
  readonly how: Degradation;
  readonly source: string;
  readonly kind: Take['kind'];
  readonly truth: Truth;
  readonly proof: EventProof;
  readonly right: boolean;
  /** Findings on a clean event, or of another kind than the fault. */
  readonly wrong: readonly Finding[];
  readonly cannotTell: boolean;
}

/** A cut as its maker knows it, for who finds cuts: each shot's first frame, and over how many frames it comes in. */
export interface CutTruth {
  readonly file: string;
  readonly leader: number;
  readonly marks: readonly { readonly frame: number; readonly frames: number; readonly source: string }[];
  /** Where each shot lies in its original: frames of the movie, and of the original. */
  readonly shots: readonly { readonly from: number; readonly length: number; readonly path: string; readonly source: number }[];
}

/** Makes a movie of clean shots, every fifth coming in by a dissolve. */
export async function cutMovie(stock: Stock, how: Degradation, events: number, seed: number, folder: string): Promise<CutTruth> {
  const random = numbersFrom(seed * 31 + 7);
  const lengths = [8, 12, 16, 24];
  const planned = plan(stock, events * 2, seed)
    .filter((p) => p.fault === 'none')
    .map((p, i): Planned => {
      const frames = i % 5 === 4 ? (lengths[Math.floor(random() * lengths.length)] as number) : 0;
      return { ...p, join: frames > 0 ? { kind: 'dissolve', frames } : null, shown: { ...p.shown, sourceAt: (k) => p.from + k } };
    });
  const file = path.join(folder, `cuts-${how}-${seed}.mov`);
  await writePlates(file, referenceOf(stock, planned, how), CODING[how], null);
  let at = LEADER[how];
  const marks = planned.map((p) => {
    const mark = { frame: at, frames: p.join?.frames ?? 0, source: (stock.takes[p.take] as Take).source };
    at += p.length;
    return mark;
  });
  const shots = planned.map((p, i) => ({
    from: marks[i]?.frame ?? 0,
    length: p.length,
    path: (stock.originals[p.take] as Original).path,
    source: p.from,
  }));
  return { file, leader: LEADER[how], marks: marks.slice(1), shots };
}

/** A cut with one fault in each `every` events, and its reference as a movie. */
export async function faultyCut(stock: Stock, how: Degradation, events: number, seed: number, folder: string, every = 2) {
  const planned = plan(stock, events, seed, every);
  const file = path.join(folder, `reference-${how}-${seed}.mov`);
  await writePlates(file, referenceOf(stock, planned, how), CODING[how], null);
  return { planned, file, list: listOf(stock, planned) };
}

/** Makes one reference and proves the cut against it, as the command line does. */
export async function trial(
  threads: MediaThreads,
  stock: Stock,
  how: Degradation,
  events: number,
  seed: number,
  folder: string,
): Promise<{ outcomes: Outcome[]; seconds: number; frames: number }> {
  const { planned, file, list } = await faultyCut(stock, how, events, seed, folder);
  const proofs = new Map<string, EventProof>();
  const { framesCompared, seconds } = await proveAbreast(
    threads,
    { list, originals: stock.originals, reference: probeMovie(file), cache: path.join(folder, 'cache') },
    planned.map((_, i) => `e${i}`),
    (made) => {
      for (const p of made) proofs.set(p.event, p);
    },
  );
  rmSync(file);
  const outcomes = planned.map((p, i): Outcome => {
    const proof = proofs.get(`e${i}`) as EventProof;
    const told = proof.findings.filter((f) => f.kind !== 'cannot-tell');
    const { truth } = p;
    const right = truth ? told.some((f) => tells(f, truth)) : told.length === 0;
    return {
      fault: p.fault,
      how,
      source: (stock.takes[p.take] as Take).source,
      kind: (stock.takes[p.take] as Take).kind,
      truth,
      proof,
      right,
      wrong: told.filter((f) => !truth || !tells(f, truth)),
      cannotTell: proof.findings.some((f) => f.kind === 'cannot-tell'),
    };
  });
  return { outcomes, seconds, frames: framesCompared };
}
