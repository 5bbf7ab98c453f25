import { describe, expect, it } from 'vitest';
import { original } from '../../test/make';
import { scene } from '../../test/scenes';
import { applyDecisions } from '../decisions';
import type { Original } from '../originals';
import { AS_IT_IS, type Laid, type Luma, PRINTED, printOf, warped, wholeMask } from '../proof';
import { RATES } from '../time';
import {
  describeShots,
  type FoundPlace,
  findShot,
  type Library,
  rebuilt,
  rebuiltText,
  runTogether,
  type SeenShot,
  shotsBetween,
  withJoin,
  withoutMiddles,
  withoutWeak,
} from '.';

const FRAMES = 160;
const clips = [2, 5, 8].map((take) => ({ take, clip: original(`/v/A00${take}C001.mov`, { reel: `A00${take}`, frames: FRAMES }) }));
const [one, two] = [(clips[0] as { clip: Original }).clip, (clips[1] as { clip: Original }).clip];
const takeOf = (clip: Original) => clips.find((c) => c.clip.path === clip.path)?.take ?? 0;
const printed = new Map<string, Int8Array>();
const library: Library = {
  originals: clips.map((c) => c.clip),
  prints(clip) {
    const known =
      printed.get(clip.path) ??
      Int8Array.from(Array.from({ length: Math.ceil(FRAMES / PRINTED) }, (_, i) => [...printOf(scene(takeOf(clip), i * PRINTED))]).flat());
    printed.set(clip.path, known);
    return known;
  },
  frame: (clip, n) => (n >= 0 && n < FRAMES ? scene(takeOf(clip), n) : null),
};
/** As a reference has it: another grade, rounded. */
const graded = (luma: Luma): Luma => Uint8Array.from(luma, (v) => 24 + v * 0.8);
const lost = (from: number, until: number): SeenShot => ({ from, until, is: 'lost', found: null, others: [], join: null });
const find = (picture: (n: number) => Luma, frames = 40) =>
  findShot(lost(0, frames), { rate: RATES['24'], picture: (n) => (n < frames ? graded(picture(n)) : null), mask: wholeMask() }, library);

describe('a shot of a reference, among all originals', () => {
  it('is found to the frame', () => {
    expect(find((n) => scene(5, 61 + n))).toMatchObject([{ is: 'found', found: { original: { reel: 'A005' }, source: 61, speed: 1 } }]);
  });
  it.each([2, 0.5, -1])('is found at speed %s', (speed) => {
    const [shot] = find((n) => scene(8, Math.floor(100 + speed * (n - 20))));
    expect(shot?.found).toMatchObject({ original: { reel: 'A008' } });
    expect(shot?.found?.speed).toBeCloseTo(speed, 1);
    expect(Math.abs((shot?.found?.source ?? 0) - (100 - speed * 20))).toBeLessThanOrEqual(1);
  });
  it.each<Partial<Laid>>([{ flip: 'horizontal' }, { scale: 1.3, x: 0.05, y: -0.04 }])('is found where it is laid as %o', (laid) => {
    const [shot] = find((n) => warped(scene(2, 50 + n), { ...AS_IT_IS, ...laid }));
    expect(shot?.found).toMatchObject({ original: { reel: 'A002' }, source: 50, laid: { flip: laid.flip ?? '' } });
    expect(shot?.found?.laid.scale).toBeCloseTo(laid.scale ?? 1, 1);
  });
  it('of another rate runs by real time, and what is cut from it begins where that has come to (25 in a cut of 24)', () => {
    const archive = original('/v/H193C001.mov', { reel: 'H193', frames: FRAMES, rate: RATES['25'], clock: RATES['25'] });
    const other: Library = { ...library, originals: [archive], prints: () => library.prints(two), frame: (_, n) => library.frame(two, n) };
    const picture = (n: number) => (n < 60 ? graded(scene(5, 20 + Math.floor((n * 25) / 24))) : null);
    const [shot] = findShot(lost(0, 60), { rate: RATES['24'], picture, mask: wholeMask() }, other);
    expect(shot?.found).toMatchObject({ speed: 1, source: 20 });
    const [, moved] = shot ? withJoin(lost(-10, 0), shot, 48, null) : [];
    expect(moved?.found?.source).toBe(20 + 50);
  });
  it('that is in none of them stays lost', () => {
    expect(find((n) => scene(11, 40 + n))).toMatchObject([{ is: 'lost', found: null }]);
  });
  it('in which a cut was missed is parted there', () => {
    const shots = runTogether(find((n) => (n < 36 ? scene(2, 30 + n) : scene(8, 70 + n)), 80));
    expect(shots.map((s) => s.found?.original.reel)).toEqual(['A002', 'A008']);
    expect(Math.abs((shots[1]?.from ?? 0) - 36)).toBeLessThanOrEqual(4);
  });
});

const place = (clip: Original, source: number, more: Partial<FoundPlace> = {}): FoundPlace => ({
  original: clip,
  source,
  speed: 1,
  pace: more.speed ?? 1,
  laid: AS_IT_IS,
  score: 0.9,
  range: [0, 0],
  ...more,
});
const found = (from: number, until: number, at: FoundPlace): SeenShot => ({ ...lost(from, until), is: 'found', found: at });

describe('shots that were found', () => {
  it('run together where one original runs on: that was no cut', () => {
    expect(runTogether([found(0, 30, place(one, 10)), found(30, 50, place(one, 40)), found(50, 60, place(one, 90))])).toMatchObject([
      { from: 0, until: 50, found: { source: 10 } },
      { from: 50, until: 60 },
    ]);
  });
  it('that agree little beside the others only resemble what is shown', () => {
    const shots = withoutWeak([found(0, 30, place(one, 10)), found(30, 60, place(two, 10)), found(60, 90, place(two, 0, { score: 0.5 }))]);
    expect(shots.map((s) => s.is)).toEqual(['found', 'found', 'lost']);
    expect(shots[2]?.others).toHaveLength(1);
  });
  it('take what lies between them, where that is the middle of a transition', () => {
    expect(withoutMiddles([found(0, 30, place(one, 10)), lost(30, 42), found(42, 60, place(two, 20))])).toMatchObject([
      { from: 0, until: 36 },
      { from: 36, until: 60, found: { source: 14 } },
    ]);
  });
  it('are parted in the middle of dissolves, and black where nothing is seen', () => {
    const shots = shotsBetween(
      100,
      [
        { kind: 'dissolve', frame: 30, frames: 12, score: 1 },
        { kind: 'fade-out', frame: 70, frames: 10, score: 1 },
      ],
      () => false,
    );
    expect(shots.map((s) => [s.from, s.until, s.is])).toEqual([
      [0, 36, 'lost'],
      [36, 70, 'lost'],
      [70, 100, 'black'],
    ]);
  });
});

describe('a cut that was rebuilt', () => {
  const shots = [
    found(0, 30, place(one, 10)),
    {
      ...found(30, 60, place(two, 100, { speed: -1, laid: { ...AS_IT_IS, flip: 'horizontal' } })),
      join: { type: 'dissolve', durationFrames: 8, offsetFrames: 0, wipeCode: null },
    },
    lost(60, 70),
  ];
  const { list, decisions } = rebuilt('SALT', RATES['24'], { raster: one.raster, pixelAspect: 1, fields: null }, 86_400, shots);
  it('has each shot with its source timecode, speed, mirror image and dissolve', () => {
    const events = applyDecisions(list, decisions).list.tracks[0]?.events ?? [];
    expect(events[0]).toMatchObject({ reel: 'A002', record: { in: 86_400, out: 86_430 }, source: { in: 1010, out: 1040 } });
    // A reverse names the span it uses, from its lowest frame (docs/decisions/0003).
    expect(events[1]).toMatchObject({
      reel: 'A005',
      source: { in: 1071, out: 1101 },
      retime: { kind: 'constant', speed: { num: -1, den: 1 } },
      placement: { flipX: true },
      transitionIn: { duration: 8, from: 'previous' },
    });
    expect(events[2]?.clipName).toBe('Not found 01:00:02:12');
  });
  it('says of each where it was found, how well it agrees, and what it could not tell', () => {
    const described = describeShots(list, shots, 86_400, RATES['24']);
    expect(described.summary).toEqual({ proposed: 2, contested: 0, unpaired: 1, exempt: 0 });
    expect(described.pairs[0]).toMatchObject({ state: 'proposed', sourceStartFrame: 10, recordIn: '01:00:00:00', missingTail: 0 });
    expect(described.pairs[0]?.evidence[0]?.detail).toBe('Its pictures agree with the reference by 90 %.');
    expect(rebuiltText(shots)).toBe('3 shots, 2 found in the originals; 1 in none of them');
  });
});
