import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { event } from '../../test/make';
import { type ListEvent, NATURAL, type Retime } from '../edit';
import { type Frames, floorDivide, fraction, fractionOf, RATES, type Rate } from '../time';
import { atRecordIn, frameAt, framesUnder, offsetsOf, type Run, rateRatio, ratesRun, runOf, sourceSpan, spanOf, trimmed } from '.';

const AT24 = RATES['24'];
const constant = (num: number, den = 1): Retime => ({ kind: 'constant', speed: fraction(num, den) });
const timed = (retime: Retime, length: Frames, source: Frames, more: Partial<ListEvent> = {}) =>
  event('V1/1', 0, length, 0, { retime, source: { in: 0, out: source }, ...more });
const shown = (run: Run, length: number, from = 0) => Array.from({ length }, (_, k) => frameAt(run, from + k));
const run = (retime: Retime, length: number, source: number) => shown(runOf(timed(retime, length, source), AT24), length);

/** Speeds as people set them, in hundredths of a percent, of both directions. */
const speeds = fc
  .integer({ min: -40_000, max: 40_000 })
  .filter((n) => n !== 0)
  .map((n) => constant(n, 10_000));
const retimes = fc.oneof(fc.constant(NATURAL), fc.constant<Retime>({ kind: 'freeze' }), speeds, speeds);

describe('the one law: source position = source in + offset x speed x rate ratio, exact, floored once', () => {
  it('runs one for one at natural speed', () => {
    expect(run(NATURAL, 4, 4)).toEqual([0, 1, 2, 3]);
  });
  it('skips frames when fast and repeats them when slow', () => {
    expect(run(constant(2), 4, 8)).toEqual([0, 2, 4, 6]);
    expect(run(constant(1, 2), 6, 3)).toEqual([0, 0, 1, 1, 2, 2]);
  });
  it('a reverse begins on the last frame of its span and mirrors the forward run (common practice)', () => {
    expect(run(constant(-1), 4, 4)).toEqual([3, 2, 1, 0]);
    expect(run(constant(-1, 2), 6, 3)).toEqual([2, 2, 1, 1, 0, 0]);
  });
  it('a freeze holds its first frame', () => {
    expect(run({ kind: 'freeze' }, 3, 3)).toEqual([0, 0, 0]);
  });
  it('no rounding adds up: a thousand frames at 110 % reach frame 1 100, an hour at 1/3 its third', () => {
    expect(frameAt(runOf(timed(constant(11, 10), 1000, 1100), AT24), 1000)).toBe(1100);
    expect(frameAt(runOf(timed(constant(1, 3), 86_400, 28_800), AT24), 86_400)).toBe(28_800);
    expect(frameAt(runOf(timed({ kind: 'constant', speed: fractionOf(0.333333333333) }, 86_400, 28_800), AT24), 86_400)).toBe(28_800);
  });
  it('is the exact quotient at any speed, rate and offset, reckoned here in whole numbers of any size', () => {
    const rates = fc.constantFrom<Rate>(AT24, RATES['25'], RATES['23.976'], RATES['29.97'], RATES['59.94']);
    fc.assert(
      fc.property(speeds, rates, rates, fc.integer({ min: -100_000, max: 10_000_000 }), (retime, source, record, n) => {
        const speed = (retime as Extract<Retime, { kind: 'constant' }>).speed;
        const made = runOf(timed(retime, 100, 500, { sourceRate: source, rateMode: 'real-time' }), record);
        const [top, bottom] = [
          BigInt(n) * BigInt(Math.abs(speed.num)) * BigInt(source.num) * BigInt(record.den),
          BigInt(speed.den) * BigInt(source.den) * BigInt(record.num),
        ];
        const whole = top / bottom - (top < 0n && top % bottom !== 0n ? 1n : 0n);
        expect(frameAt(made, n)).toBe(speed.num > 0 ? Number(whole) : 499 - Number(whole));
      }),
    );
  });
  it('keyed, runs evenly between its keys', () => {
    const keys = [
      { record: 0, source: 0 },
      { record: 10, source: 10 },
      { record: 20, source: 40 },
      { record: 30, source: 10 },
    ];
    const made = runOf(timed({ kind: 'keyed', keys }, 30, 40), AT24);
    expect([0, 5, 10, 11, 19, 20, 21, 30].map((n) => frameAt(made, n))).toEqual([0, 5, 10, 13, 37, 40, 37, 10]);
    expect(spanOf(made, 0, 30)).toEqual({ in: 0, out: 41 });
  });
});

describe('rates that differ', () => {
  it('run in real time: 24 frames of a cut at 24 take 25 of a clip at 25', () => {
    const made = runOf(timed(NATURAL, 48, 50, { sourceRate: RATES['25'] }), AT24);
    expect([0, 1, 23, 24, 25, 48].map((n) => frameAt(made, n))).toEqual([0, 1, 23, 25, 26, 50]);
    expect(ratesRun(RATES['25'], AT24, 'usual')).toBe('real-time');
  });
  it('but 23.976 and 24, 29.97 and 30, 59.94 and 60 run frame for frame (common practice)', () => {
    for (const [a, b] of [
      ['23.976', '24'],
      ['29.97', '30'],
      ['60', '59.94'],
    ] as const) {
      expect(rateRatio(RATES[a], RATES[b], 'usual')).toEqual({ num: 1, den: 1 });
      expect(ratesRun(RATES[a], RATES[b], 'usual')).toBe('frame-for-frame');
    }
    expect(rateRatio(AT24, RATES['23.976'], 'real-time')).toEqual({ num: 1001, den: 1000 });
  });
  it('run as a person says', () => {
    const made = runOf(timed(NATURAL, 48, 50, { sourceRate: RATES['25'], rateMode: 'frame-for-frame' }), AT24);
    expect(frameAt(made, 48)).toBe(48);
  });
});

describe('the map backwards', () => {
  it('finds the record frames at which each source frame stands, and none where it is passed over', () => {
    fc.assert(
      fc.property(retimes, fc.integer({ min: 1, max: 120 }), (retime, length) => {
        const e = timed(retime, length, framesUnder(timed(retime, length, 1), AT24, length));
        const made = runOf(e, AT24);
        const within = { in: 0, out: length };
        for (let n = 0; n < length; n++) expect(offsetsOf(made, frameAt(made, n), within).some((r) => n >= r.in && n < r.out)).toBe(true);
        const seen = new Set(shown(made, length));
        for (let f = 0; f < 5; f++)
          if (!seen.has(f)) expect(offsetsOf(made, f, within).every((r) => r.out <= 0 || r.in >= length)).toBe(true);
      }),
    );
  });
});

describe('the frames an event needs', () => {
  it('are exactly those it shows, whatever the speed', () => {
    fc.assert(
      fc.property(retimes, fc.integer({ min: 1, max: 200 }), (retime, length) => {
        const e = timed(retime, length, framesUnder(timed(retime, length, 1), AT24, length));
        const made = runOf(e, AT24);
        const all = shown(made, length);
        expect(sourceSpan(e, made)).toEqual({ in: Math.min(...all), out: Math.max(...all) + 1 });
        if (retime.kind === 'constant') expect(Math.min(...all)).toBeGreaterThanOrEqual(0);
      }),
    );
  });
});

describe('a trim', () => {
  const lengths = fc.integer({ min: 4, max: 150 });
  it('changes no remaining picture, at any speed and either edge', () => {
    fc.assert(
      fc.property(retimes, lengths, fc.integer({ min: -30, max: 60 }), fc.integer({ min: -60, max: 30 }), (retime, length, head, tail) => {
        const e = timed(retime, length, framesUnder(timed(retime, length, 1), AT24, length));
        const [from, to] = [Math.min(head, length - 2), Math.max(length + tail, Math.min(head, length - 2) + 1)];
        const cut = trimmed(e, { in: from, out: to });
        const frames = (made: ListEvent, start: Frames) => shown(runOf(made, AT24), to - from, start).map((f) => made.source.in + f);
        expect(frames(cut, 0)).toEqual(frames(e, from));
        // And nothing changes when it is written down as lists name sources, the part of a frame kept beside.
        expect(frames(atRecordIn(cut, AT24), 0)).toEqual(frames(e, from));
      }),
    );
  });
  it('and back is the event as it was', () => {
    const e = timed(constant(1, 2), 21, 11);
    expect(trimmed(trimmed(e, { in: 3, out: 17 }), { in: 0, out: 21 })).toEqual(e);
  });
  it('names the source frames at its new edges: at half speed, 3 frames off the head leave 1 1/2', () => {
    const cut = atRecordIn(trimmed(timed(constant(1, 2), 20, 10), { in: 3, out: 20 }), AT24);
    expect(cut).toMatchObject({ source: { in: 1, out: 10 }, phase: { num: 1, den: 2 }, anchor: null });
  });
});

it('fractions: decimals are taken for the simplest that they stand for', () => {
  expect(fractionOf(1 / 3)).toEqual({ num: 1, den: 3 });
  expect(fractionOf(1.998)).toEqual({ num: 999, den: 500 });
  expect(fractionOf(-0.5)).toEqual({ num: -1, den: 2 });
  expect(fractionOf(0)).toEqual({ num: 0, den: 1 });
  fc.assert(
    fc.property(fc.integer({ min: -100_000, max: 100_000 }), fc.integer({ min: 1, max: 9_999 }), (num, den) => {
      const exact = fraction(num, den);
      expect(fractionOf(num / den)).toEqual(exact);
    }),
  );
  expect([floorDivide(-1, 2), floorDivide(-2, 2), floorDivide(3, 2)]).toEqual([-1, -1, 1]);
});
