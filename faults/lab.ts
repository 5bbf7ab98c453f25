import { existsSync, mkdirSync, renameSync, rmSync } from 'node:fs';
import path from 'node:path';
import {
  applyDecisions,
  type Decision,
  EMPTY_LIST,
  type EventProof,
  type Finding,
  formatTimecode,
  fraction,
  newEvent,
  type Original,
  RATES,
  type Transition,
} from '@gemello/core';
import { type MediaThreads, probeMovie, proveAbreast } from '@gemello/media';
import { CODING, type Degradation, degraded, LEADER, leader } from './degrade';
import { drawn, type Shown, type Truth, tells } from './faults';
import { newPlate, numbersFrom, type Plate, writePlates } from './plates';
import { RASTER, type Take } from './sources';

/** Originals on disk, made once. */
export interface Stock {
  readonly takes: readonly Take[];
  readonly originals: readonly Original[];
}

export async function stockOf(takes: readonly Take[], folder: string): Promise<Stock> {
  mkdirSync(folder, { recursive: true });
  const originals: Original[] = [];
  for (const [i, take] of takes.entries()) {
    const file = path.join(folder, `${take.name}.mov`);
    if (!existsSync(file)) {
      await writePlates(
        `${file}.part.mov`,
        take.plates,
        ['-c:v', 'mjpeg', '-q:v', '3', '-pix_fmt', 'yuvj420p'],
        formatTimecode(86_400 * (i + 1), RATES['24']),
      );
      renameSync(`${file}.part.mov`, file);
    }
    originals.push(probeMovie(file));
  }
  return { takes, originals };
}

/** One event of a cut with what was done to it. */
interface Planned {
  readonly take: number;
  readonly from: number;
  readonly length: number;
  readonly listedSpeed: number;
  readonly listedTransition: Transition | null;
  readonly shown: Shown;
  readonly truth: Truth;
  /** Frames by which its cut lies later in the reference. */
  readonly moved: number;
  /** Frames of a dissolve into it in the reference. */
  readonly dissolve: number;
  readonly fault: string;
}

const KINDS = [
  'slipped',
  'cut-moved',
  'wrong-picture',
  'reframed',
  'mirrored',
  'speed-differs',
  'transition-differs',
  'layer-missing',
  'picture-missing',
  'slipped far',
] as const;

/** Plans a cut: one event of each `every` has one fault. */
function plan(stock: Stock, events: number, seed: number, every = 2): Planned[] {
  const random = numbersFrom(seed);
  const whole = (low: number, high: number) => low + Math.floor(random() * (high - low + 1));
  const sign = () => (random() < 0.5 ? -1 : 1);
  const planned: Planned[] = [];
  let before = -1;
  for (let i = 0; i < events; i++) {
    let take = whole(0, stock.takes.length - 1);
    while (take === before) take = whole(0, stock.takes.length - 1);
    before = take;
    const length = whole(36, 56);
    const from = whole(42, Math.max(43, (stock.takes[take] as Take).plates.length - length - 42));
    const plain: Shown = {
      take,
      sourceAt: (k) => from + k,
      pose: { scale: 1, x: 0, y: 0, rotation: 0 },
      flip: '',
      black: false,
      over: null,
    };
    const base: Planned = {
      take,
      from,
      length,
      listedSpeed: 1,
      listedTransition: null,
      shown: plain,
      truth: null,
      moved: 0,
      dissolve: 0,
      fault: 'none',
    };
    if (i % every !== every - 1) {
      // Some clean events have speeds and dissolves that the list knows of.
      if (i % 8 === 2) planned.push({ ...base, listedTransition: dissolveOf(16), dissolve: 16 });
      else if (i % 8 === 6) planned.push({ ...base, listedSpeed: 1.5, shown: { ...plain, sourceAt: (k) => from + 1.5 * k } });
      else planned.push(base);
      continue;
    }
    const kind = KINDS[Math.floor(i / every) % KINDS.length] as (typeof KINDS)[number];
    planned.push(faulty(base, plain, kind));
  }
  return planned;

  function faulty(base: Planned, plain: Shown, kind: (typeof KINDS)[number]): Planned {
    const { from, take } = base;
    switch (kind) {
      case 'slipped':
      case 'slipped far': {
        const frames = sign() * (kind === 'slipped' ? whole(1, 8) : whole(14, 40));
        return { ...base, fault: kind, shown: { ...plain, sourceAt: (k) => from + frames + k }, truth: { kind: 'slipped', frames } };
      }
      case 'cut-moved': {
        const moved = sign() * whole(1, 11);
        return { ...base, fault: kind, moved, truth: { kind: 'cut-moved', edge: 'in', frames: moved } };
      }
      case 'wrong-picture': {
        let other = whole(0, stock.takes.length - 1);
        while (stock.takes[other]?.source === stock.takes[take]?.source) other = whole(0, stock.takes.length - 1);
        const first = whole(10, (stock.takes[other] as Take).plates.length - base.length - 10);
        const path = (stock.originals[other] as Original).path;
        return {
          ...base,
          fault: kind,
          shown: { ...plain, take: other, sourceAt: (k) => first + k },
          truth: { kind: 'wrong-picture', path, sourceStartFrame: first, sourceIn: null },
        };
      }
      case 'reframed': {
        const scale = [1, 0.75, 1.08, 1.25, 1.5][whole(0, 4)] as number;
        const rotation = random() < 0.35 ? sign() * (1 + random() * 5) : 0;
        const [x, y] = [(random() - 0.5) * 0.16, (random() - 0.5) * 0.12];
        return {
          ...base,
          fault: kind,
          shown: { ...plain, pose: { scale, x, y, rotation } },
          truth: { kind: 'reframed', scale, x, y, rotation },
        };
      }
      case 'mirrored': {
        const axis = random() < 0.75 ? 'horizontal' : 'vertical';
        return { ...base, fault: kind, shown: { ...plain, flip: axis }, truth: { kind: 'mirrored', axis } };
      }
      case 'speed-differs': {
        const measured = [0.5, 0.8, 1.25, 1.6, -1, 0][whole(0, 5)] as number;
        const start = measured < 0 ? from + base.length : from;
        return {
          ...base,
          fault: kind,
          shown: { ...plain, sourceAt: (k) => start + measured * k },
          truth: { kind: 'speed-differs', expected: 1, measured },
        };
      }
      case 'transition-differs': {
        const choice = whole(0, 2);
        const listed = choice === 0 ? 0 : 24;
        const real = choice === 0 ? whole(8, 20) : choice === 1 ? 0 : 12;
        const passage = (frames: number) =>
          frames === 0 ? null : { type: 'dissolve', durationFrames: frames, offsetFrames: 0, wipeCode: null };
        return {
          ...base,
          fault: kind,
          listedTransition: listed === 0 ? null : dissolveOf(listed),
          dissolve: real,
          truth: { kind: 'transition-differs', expected: passage(listed), measured: passage(real) },
        };
      }
      case 'layer-missing': {
        const over = { x: 0.1 + random() * 0.4, y: 0.15 + random() * 0.45, width: 0.25 + random() * 0.2, height: 0.12 + random() * 0.14 };
        return { ...base, fault: kind, shown: { ...plain, over }, truth: { kind: 'layer-missing', side: 'conform', area: over } };
      }
      case 'picture-missing':
        return { ...base, fault: kind, shown: { ...plain, black: true }, truth: { kind: 'picture-missing', side: 'reference' } };
    }
  }
}

const dissolveOf = (duration: number): Transition => ({ type: 'dissolve', duration, before: 0, from: 'previous', wipeCode: null });

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
    if (p.dissolve > 0 && into >= 0 && into < p.dissolve && i > 0) {
      const share = (into + 1) / (p.dissolve + 1);
      const old = pictureOf(i - 1, n);
      const mixed = newPlate(RASTER.width, RASTER.height);
      for (let j = 0; j < mixed.data.length; j++)
        mixed.data[j] = (old.data[j] as number) * (1 - share) + (picture.data[j] as number) * share + 0.5;
      picture = mixed;
    }
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
      const dissolve = i % 5 === 4 ? (lengths[Math.floor(random() * lengths.length)] as number) : 0;
      return { ...p, dissolve, shown: { ...p.shown, sourceAt: (k) => p.from + k } };
    });
  const file = path.join(folder, `cuts-${how}-${seed}.mov`);
  await writePlates(file, referenceOf(stock, planned, how), CODING[how], null);
  let at = LEADER[how];
  const marks = planned.map((p) => {
    const mark = { frame: at, frames: p.dissolve, source: (stock.takes[p.take] as Take).source };
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
