import type { Original, Transition } from '@gemello/core';
import type { Shown, Truth } from './faults';
import { type Join, passageOf, patternAt, transitionOf } from './joins';
import { numbersFrom } from './plates';
import type { Take } from './sources';
import type { Stock } from './stock';

/** One event of a cut with what was done to it. */
export interface Planned {
  readonly take: number;
  readonly from: number;
  readonly length: number;
  readonly listedSpeed: number;
  readonly listedTransition: Transition | null;
  readonly shown: Shown;
  readonly truth: Truth;
  /** Frames by which its cut lies later in the reference. */
  readonly moved: number;
  /** How the reference goes over into it; null for a cut. */
  readonly join: Join | null;
  /** Frames over which it fades out at its end. */
  readonly leaves: number;
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
  'wipe',
  'fade',
  'keyed speed',
  'fade out',
] as const;

/** Plans a cut: one event of each `every` has one fault. */
export function plan(stock: Stock, events: number, seed: number, every = 2): Planned[] {
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
      join: null,
      leaves: 0,
      fault: 'none',
    };
    if (i % every !== every - 1) {
      // Some clean events have speeds and transitions that the list knows of.
      if (planned.at(-1)?.leaves) planned.push(base);
      else if (i % 8 === 2) planned.push({ ...base, ...asListed({ kind: 'dissolve', frames: 16 }) });
      else if (i % 16 === 4)
        planned.push({ ...base, ...asListed({ kind: 'wipe', frames: whole(12, 20), pattern: patternAt(whole(0, 99)) }) });
      else if (i % 16 === 12) planned.push({ ...base, ...asListed({ kind: 'fade', frames: whole(10, 18) }) });
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
      case 'keyed speed': {
        const [one, other] = [
          [0.4, 1.6],
          [1.5, 0.5],
          [0.5, 1.25],
        ][whole(0, 2)] as [number, number];
        const turn = Math.round(base.length / 2);
        const frames = (k: number) => (k < turn ? one * k : one * turn + other * (k - turn));
        const measured = frames(base.length - 1) / (base.length - 1);
        return {
          ...base,
          fault: kind,
          shown: { ...plain, sourceAt: (k) => from + frames(k) },
          truth: { kind: 'speed-differs', expected: 1, measured, keys: [] },
        };
      }
      case 'transition-differs': {
        const choice = whole(0, 2);
        const dissolve = (frames: number): Join | null => (frames === 0 ? null : { kind: 'dissolve', frames });
        const [listed, real] = [choice === 0 ? 0 : 24, choice === 0 ? whole(8, 20) : choice === 1 ? 0 : 12];
        return { ...base, fault: kind, ...otherwise(dissolve(listed), dissolve(real)) };
      }
      case 'wipe': {
        const [frames, one] = [whole(12, 20), whole(0, 99)];
        const wipe: Join = { kind: 'wipe', frames, pattern: patternAt(one) };
        const other: Join = { kind: 'wipe', frames, pattern: patternAt(one + whole(1, 4)) };
        const dissolve: Join = { kind: 'dissolve', frames };
        const [listed, real] = (
          [
            [dissolve, wipe],
            [null, wipe],
            [wipe, dissolve],
            [wipe, other],
          ] as const
        )[whole(0, 3)] as [Join | null, Join];
        return { ...base, fault: kind, ...otherwise(listed, real) };
      }
      case 'fade': {
        const frames = whole(10, 20);
        const fade = (n: number): Join => ({ kind: 'fade', frames: n });
        const [listed, real] = (
          [
            [null, fade(frames)],
            [fade(24), fade(12)],
            [fade(frames), null],
          ] as const
        )[whole(0, 2)] as [Join | null, Join | null];
        return { ...base, fault: kind, ...otherwise(listed, real) };
      }
      case 'fade out': {
        const leaves = whole(8, 16);
        const measured = { type: 'dissolve', durationFrames: leaves, offsetFrames: -leaves, wipeCode: null, to: 'black' } as const;
        return { ...base, fault: kind, leaves, truth: { kind: 'transition-differs', expected: null, measured } };
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

/** A transition that the list has as the reference shows it. */
const asListed = (join: Join) => ({ listedTransition: transitionOf(join), join });

/** A transition that the reference shows otherwise than the list has it. */
const otherwise = (listed: Join | null, real: Join | null) => ({
  listedTransition: listed && transitionOf(listed),
  join: real,
  truth: { kind: 'transition-differs', expected: listed && passageOf(listed), measured: real && passageOf(real) } as const,
});
