import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { type Decision, decisionSchema, isAboutEvent, isAboutOriginal, movedDecision, settle, settledFor } from '.';

const NEUTRAL = { slope: [1, 1, 1], offset: [0, 0, 0], power: [1, 1, 1], saturation: 1 } as const;
const grade = { ...NEUTRAL, slope: [...NEUTRAL.slope], offset: [...NEUTRAL.offset], power: [...NEUTRAL.power] } as Extract<
  Decision,
  { kind: 'grade' }
>['cdl'];
const A = '/mnt/CARD/A001C001.mov';
const B = '/mnt/CARD/A001C002.mov';

/** One of each kind. */
const ALL: Decision[] = [
  { kind: 'correct', original: A, reel: 'B7' },
  { kind: 'correct-folder', folder: '/mnt/CARD/DAY1', shift: '+10' },
  { kind: 'proxy', original: A, of: B },
  { kind: 'proxy', original: A, of: null },
  { kind: 'join', original: A, parts: [B] },
  { kind: 'pair', event: 'V1/1', original: A, sourceStartFrame: 3 },
  { kind: 'unpair', event: 'V1/1' },
  { kind: 'slip', event: 'V1/1', frames: -2 },
  { kind: 'exempt', event: 'V1/1', exempt: true },
  { kind: 'carry', event: 'V1/1', from: 'other.xml', carried: { reel: 'A001' } },
  { kind: 'grade', event: 'V1/1', cdl: grade },
];

describe('a decision', () => {
  it('is about an event of a cut, or about originals and then holds for every cut', () => {
    for (const d of ALL) expect(isAboutEvent(d)).toBe(!isAboutOriginal(d));
    expect(ALL.filter(isAboutOriginal).map((d) => d.kind)).toEqual(['correct', 'correct-folder', 'proxy', 'proxy', 'join']);
  });
  it('comes out of the log as it went in', () => {
    for (const d of ALL) expect(decisionSchema.parse(JSON.parse(JSON.stringify(d)))).toEqual(d);
  });
  it('with numbers or words that cannot be is refused', () => {
    const refused = (d: object) => expect(decisionSchema.safeParse(d).success).toBe(false);
    refused({ kind: 'correct', original: A, start: -1 });
    refused({ kind: 'correct', original: A, rate: 'fast' });
    refused({ kind: 'correct-folder', folder: '/mnt/CARD', shift: 'an hour' });
    refused({ kind: 'join', original: '', parts: [] });
    refused({ kind: 'grade', event: 'V1/1', cdl: { ...NEUTRAL, slope: [-1, 1, 1] } });
  });
  it('follows a volume that moved, in every path it names', () => {
    const moves = [{ from: '/mnt/CARD', to: '/media/new' }];
    for (const d of ALL) {
      const moved = JSON.stringify(movedDecision(d, moves));
      expect(moved).not.toContain('/mnt/CARD');
      expect(moved.replaceAll('/media/new', '/mnt/CARD')).toBe(JSON.stringify(d));
      expect(movedDecision(d, [])).toBe(d);
    }
  });
});

describe('what stands for an event', () => {
  it('is its last pair with the slips made since: a new pair lets earlier slips go', () => {
    const slip = (frames: number): Decision => ({ kind: 'slip', event: 'V1/1', frames });
    const pair = (original: string): Decision => ({ kind: 'pair', event: 'V1/1', original, sourceStartFrame: 0 });
    fc.assert(
      fc.property(fc.array(fc.integer({ min: -50, max: 50 })), fc.array(fc.integer({ min: -50, max: 50 })), (before, after) => {
        const settled = settledFor(settle([pair(A), ...before.map(slip), pair(B), ...after.map(slip)]), 'V1/1');
        expect(settled.pair?.original).toBe(B);
        expect(settled.slip).toBe(after.reduce((a, b) => a + b, 0));
      }),
    );
  });
  it('is nothing for an event of which nothing was decided, and decisions about originals settle none', () => {
    expect(settle(ALL.filter(isAboutOriginal)).size).toBe(0);
    expect(settledFor(settle([]), 'V1/9')).toEqual({ pair: null, slip: 0, exempt: null, grade: undefined, carried: null });
  });
});
