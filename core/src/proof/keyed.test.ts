import { describe, expect, it } from 'vitest';
import { scene } from '../../test/scenes';
import { mendFor } from '../mending';
import { describeFinding, type EventPictures, explain, judge, wholeMask } from '.';

const asReference = (picture: Uint8Array): Uint8Array => picture.map((v, i) => 0.72 * v + 20 + 5 * Math.sin(i * 12.9898));

/** An event of 72 frames from frame 60 of a clip of 300, as the reference shows it. */
function findingsOf(shown: (k: number) => number, more: Partial<EventPictures> = {}) {
  const p: EventPictures = {
    core: Array.from({ length: 50 }, (_, i) => i + 11),
    length: 72,
    reference: (k) => asReference(scene(1, Math.floor(shown(k)))),
    source: (n) => (n >= 0 && n < 300 ? scene(1, n) : null),
    sourceFrames: 300,
    expected: (k) => 60 + k,
    speed: 1,
    listed: 1,
    natural: 1,
    still: false,
    mask: wholeMask(),
    ...more,
  };
  const explanation = explain(p);
  if (!explanation) throw new Error('nothing to compare');
  return judge(p, explanation).findings;
}

/** A speed of half for the first 36 frames, then of one and a half. */
const ramp = (k: number): number => (k < 36 ? 60 + 0.5 * k : 78 + 1.5 * (k - 36));

// TRADE.md, proving: wrong or missing speed change. Speeds that change on the way are common practice.
describe('a speed that changes on the way', () => {
  it('is told as such, with where it changes and both speeds', () => {
    const [found, ...others] = findingsOf(ramp);
    expect(others).toEqual([]);
    expect(found).toMatchObject({ kind: 'speed-differs', expected: 1 });
    if (found?.kind !== 'speed-differs') return;
    const keys = found.keys ?? [];
    expect(keys).toHaveLength(3);
    const speed = (i: number) =>
      ((keys[i + 1]?.source ?? 0) - (keys[i]?.source ?? 0)) / ((keys[i + 1]?.record ?? 0) - (keys[i]?.record ?? 0));
    expect(Math.abs((keys[1]?.record ?? 0) - 36)).toBeLessThanOrEqual(3);
    expect(Math.abs(speed(0) - 0.5)).toBeLessThan(0.06);
    expect(Math.abs(speed(1) - 1.5)).toBeLessThan(0.06);
    expect(describeFinding(found)).toMatch(/^Speed differs: it changes on the way in the reference, .* %, then .* %; 100 % in the list$/);
  });
  it('that the list has so is no finding', () => {
    expect(findingsOf(ramp, { expected: (k) => Math.floor(ramp(k)) })).toEqual([]);
  });
  it('is not told where one speed explains the pictures', () => {
    for (const speed of [1, 0.8]) expect(findingsOf((k) => 60 + speed * k).some((f) => f.kind === 'speed-differs' && f.keys)).toBe(false);
  });
});

describe('the mend of a speed', () => {
  const of = { event: 'e', original: 'a.mov', sourceStart: 60, placement: null, shape: 16 / 9, length: 72 };
  it('leaves the picture in place at which list and reference meet', () => {
    const [found] = findingsOf((k) => 60 + 0.5 * (k + 36));
    expect(found).toMatchObject({ kind: 'speed-differs', measured: 0.5 });
    const mend = found && mendFor(found, of);
    const [decision] = mend?.decisions ?? [];
    expect(mend?.decisions).toHaveLength(1);
    expect(decision?.kind === 'speed' && Math.abs(decision.stays - 36)).toBeLessThanOrEqual(2);
  });
  it('slips the event first where they never meet', () => {
    const [found] = findingsOf((k) => 150 + 0.5 * k);
    expect(found).toMatchObject({ kind: 'speed-differs', measured: 0.5, meets: null });
    const kinds = (found && mendFor(found, of)?.decisions)?.map((d) => d.kind);
    expect(kinds).toEqual(['slip', 'speed']);
    expect(found?.kind === 'speed-differs' && Math.abs((found.aside ?? 0) - 90)).toBeLessThanOrEqual(1);
  });
});
