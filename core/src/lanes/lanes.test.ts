import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { dissolve, event, list, original } from '../../test/make';
import { compile } from '../conform';
import { applyDecisions, type Decision } from '../decisions';
import { pictureEvents } from '../edit';
import { GRIPS, nearestMark, seenAt, sourceLeft, tryGrip } from '.';

/** Two shots of a clip of 100 frames that begins at frame 1000 of its timecode: 20..40 of it, then 60..80, then 0..20. */
const clip = original('/v/a.mov');
const delivered = list([event('a/1', 0, 20, 1020), event('a/2', 20, 20, 1060, { transitionIn: dissolve(6) }), event('a/3', 50, 20, 1000)]);
const paired = pictureEvents(delivered).map(
  ({ key, source }): Decision => ({ kind: 'pair', event: key, original: clip.path, sourceStartFrame: source.in - 1000, rate: clip.rate }),
);
const cut = applyDecisions(delivered, paired).list;
const room = () => clip.frames;
const moved = (grip: (typeof GRIPS)[number], key: string, by: number) => tryGrip(cut, grip, [key], by, room);

describe('a grip that is moved', () => {
  it('slips the source: more frames are later in the original (TRADE.md: what must be added to the source in)', () => {
    const { decisions, changed } = moved('source', 'a/1', 3);
    expect(decisions).toEqual([{ kind: 'slip', event: 'a/1', original: clip.path, sourceStartFrame: 23 }]);
    expect(changed.get('a/1')?.record).toEqual({ in: 0, out: 20 });
  });
  it('rolls the cut: the one gets longer by what the other gets shorter', () => {
    const { changed } = moved('cut', 'a/2', 4);
    expect(changed.get('a/1')?.record).toEqual({ in: 0, out: 24 });
    expect(changed.get('a/2')?.record).toEqual({ in: 24, out: 40 });
    expect(changed.has('a/3')).toBe(false);
  });
  it('goes as far as it can and says why no further', () => {
    // 20 frames and a dissolve of 6 after them are used from frame 20 on: 54 are left.
    expect(moved('source', 'a/1', 90)).toMatchObject({ by: 54, refused: 'source-ends' });
    expect(moved('event', 'a/3', -15)).toMatchObject({ by: -10, refused: 'overlap' });
    expect(moved('head', 'a/1', 40)).toMatchObject({ by: 19, refused: 'too-short' });
    expect(moved('cut', 'a/3', 2)).toMatchObject({ by: 0, refused: 'no-cut-there', decisions: [] });
    expect(tryGrip(applyDecisions(delivered, []).list, 'source', ['a/1'], 1, room)).toMatchObject({ refused: 'not-paired' });
  });
  it('changes a dissolve at either end, makes one over the cut, and takes it away', () => {
    const join = (grip: 'join' | 'join-in' | 'join-out', key: string, by: number) => {
      const [decision] = moved(grip, key, by).decisions;
      return decision?.kind === 'transition' ? decision.transition : undefined;
    };
    expect(join('join-out', 'a/2', 4)).toMatchObject({ duration: 10, before: 0 });
    expect(join('join-in', 'a/2', -4)).toMatchObject({ duration: 10, before: 4 });
    expect(join('join', 'a/2', -6)).toBeNull();
    const plain = applyDecisions(delivered, [...paired, { kind: 'transition', event: 'a/2', transition: null }]).list;
    expect(tryGrip(plain, 'join', ['a/2'], 8, room).decisions).toEqual([
      { kind: 'transition', event: 'a/2', transition: { ...dissolve(8), before: 4 } },
    ]);
  });
  it('moves several events together, the last of them first', () => {
    const { changed, by } = tryGrip(cut, 'event', ['a/1', 'a/2'], 10, room);
    expect(by).toBe(10);
    expect([changed.get('a/1')?.record.in, changed.get('a/2')?.record.in]).toEqual([10, 30]);
  });
  it('is put on another layer where there is room, on the way there too, and as near to it as it finds room', () => {
    const above = { name: 'V2', kind: 'picture' as const, events: [event('b/1', 30, 20, 1000)] };
    const two = applyDecisions({ ...delivered, tracks: [...delivered.tracks, above] }, paired).list;
    const lift = (key: string, by: number, layer = 'V2') => tryGrip(two, 'event', [key], by, room, layer);
    expect(lift('a/1', 0)).toMatchObject({ by: 0, layer: 'V2', refused: null, decisions: [{ kind: 'layer', event: 'a/1', layer: 'V2' }] });
    expect(lift('a/1', 0).changed.has('a/1')).toBe(true);
    // V1 has no room for it there.
    expect(lift('a/1', 8)).toMatchObject({ by: 8, layer: 'V2', refused: null });
    expect(lift('a/1', 14)).toMatchObject({ by: 10, layer: 'V2', refused: 'overlap' });
    expect(lift('a/2', 0)).toMatchObject({ by: 0, layer: null, refused: 'overlap', decisions: [] });
    expect(lift('b/1', 0, 'V2')).toMatchObject({ by: 0, layer: null, decisions: [] });
    expect(lift('a/1', 0, 'V9')).toMatchObject({ layer: null, refused: 'no-such-layer' });
    const then = applyDecisions({ ...delivered, tracks: [...delivered.tracks, above] }, [...paired, ...lift('a/1', 8).decisions], room);
    expect(then.refused).toEqual([]);
    expect(then.list.tracks.map((t) => t.events.map((e) => [e.key, e.record.in]))).toEqual([
      [
        ['a/2', 20],
        ['a/3', 50],
      ],
      [
        ['a/1', 8],
        ['b/1', 30],
      ],
    ]);
  });
  it('touches nothing further off', () => {
    const row = Array.from({ length: 7 }, (_, i) =>
      event(`r/${i}`, i * 10, 10, 1000 + i * 10, { transitionIn: i > 0 ? dissolve(2) : null }),
    );
    const long = applyDecisions(list(row), []).list;
    expect([...tryGrip(long, 'cut', ['r/5'], 1, room).changed.keys()].sort()).toEqual(['r/4', 'r/5']);
  });
  it('comes to what deciding it comes to', () => {
    fc.assert(
      fc.property(fc.constantFrom(...GRIPS), fc.constantFrom('a/1', 'a/2', 'a/3'), fc.integer({ min: -30, max: 30 }), (grip, key, by) => {
        const tried = tryGrip(cut, grip, [key], by, room);
        const then = applyDecisions(delivered, [...paired, ...tried.decisions], room);
        expect(then.refused).toEqual([]);
        for (const e of pictureEvents(then.list)) {
          const here = tried.changed.get(e.key) ?? pictureEvents(cut).find((was) => was.key === e.key);
          expect(e).toEqual(here);
        }
        expect(Math.abs(tried.by)).toBeLessThanOrEqual(Math.abs(by));
      }),
    );
  });
});

describe('beside a cut', () => {
  it('stand the last picture before it and the first after it', () => {
    const [, second] = pictureEvents(cut);
    if (!second) throw new Error('no event');
    expect(seenAt('cut', second)).toEqual([19, 20]);
    expect(seenAt('tail', second)).toEqual([39, 40]);
    expect(seenAt('source', second)).toEqual([20, 39]);
    expect(seenAt('join', second)).toEqual([20, 25]);
  });
  it('is left of the source what neither the event nor its transitions show', () => {
    const [first, second, third] = compile(cut, [clip]).layers[0]?.shots ?? [];
    if (!first || !second || !third) throw new Error('no shots');
    expect(sourceLeft(first)).toEqual({ before: 20, after: 54 });
    expect(sourceLeft(second)).toEqual({ before: 60, after: 20 });
    expect(sourceLeft(third)).toEqual({ before: 0, after: 80 });
    expect(sourceLeft({ ...third, original: null })).toBeNull();
  });
});

it('snaps to the nearest mark, and to none that is too far', () => {
  expect(nearestMark(100, [50, 97, 104], 5)).toBe(97);
  expect(nearestMark(101, [50, 97, 104], 5)).toBe(104);
  expect(nearestMark(80, [50, 97, 104], 5)).toBeNull();
  expect(nearestMark(80, [], 5)).toBeNull();
});
