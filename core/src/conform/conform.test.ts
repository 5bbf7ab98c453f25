import { describe, expect, it } from 'vitest';
import { conformOf, dissolve, event, list, original } from '../../test/make';
import type { Decision } from '../decisions';
import { FILLING, type Placement } from '../edit';
import { RATES } from '../time';
import {
  framesAlone,
  laidByTimecode,
  layOf,
  layOfPart,
  neededFrames,
  newPicture,
  partsOf,
  pictureAt,
  poseAt,
  referencePart,
  shotOf,
  withTransitionsAtStart,
} from '.';

const clip = original('/v/A001C001.mov');
const other = original('/v/A002C001.mov', { reel: 'A002' });
const pairTo = (key: string, path: string, sourceStartFrame: number): Decision => ({
  kind: 'pair',
  event: key,
  original: path,
  sourceStartFrame,
});
const parts = (conform: ReturnType<typeof conformOf>, n: number) => partsOf(pictureAt(conform, n));

describe('a conform', () => {
  const cut = list([event('V1/1', 0, 48, 1010), event('V1/2', 48, 24, 1000, { reel: 'A002', transitionIn: dissolve(12) })]);
  const conform = conformOf(cut, [clip, other], [pairTo('V1/1', clip.path, 10), pairTo('V1/2', other.path, 0)]);

  it('shows the paired frame', () => {
    expect(parts(conform, 5)).toMatchObject([{ sourceFrame: 15, side: 'alone', share: 1 }]);
  });
  it('mixes both sides under a dissolve, from nearly nothing to nearly all: (k + 1)/(N + 1)', () => {
    const [leaving, incoming] = parts(conform, 48);
    expect(leaving).toMatchObject({ sourceFrame: 58, side: 'leaving' });
    expect(incoming).toMatchObject({ sourceFrame: 0, side: 'incoming' });
    expect(incoming?.share).toBeCloseTo(1 / 13, 12);
    expect(parts(conform, 59)[1]?.share).toBeCloseTo(12 / 13, 12);
    expect(parts(conform, 60)).toHaveLength(1);
  });
  it('a dissolve turned round in time is the same dissolve', () => {
    const shares = Array.from({ length: 12 }, (_, k) => parts(conform, 48 + k)[1]?.share ?? 0);
    for (let k = 0; k < 12; k++) expect((shares[k] ?? 0) + (shares[11 - k] ?? 0)).toBeCloseTo(1, 12);
  });
  it('needs the tail of a dissolve from the outgoing original', () => {
    const shot = shotOf(conform, 'V1/1');
    expect(shot?.tail).toBe(12);
    expect(shot && neededFrames(shot, 0)?.wanted).toEqual({ in: 10, out: 70 });
  });
  it('gives fewer handles where the original ends', () => {
    const shot = shotOf(conform, 'V1/2');
    expect(shot && neededFrames(shot, 24)).toEqual({ wanted: { in: -24, out: 48 }, given: { in: 0, out: 48 } });
  });
  it('counts only frames where a shot stands alone', () => {
    const shot = shotOf(conform, 'V1/2');
    expect(shot && framesAlone(conform, shot)).toEqual([60, 61, 62, 63, 64, 65, 66, 67, 68, 69, 70, 71]);
  });
  it('is black where nothing stands', () => {
    expect(parts(conform, 200)).toEqual([]);
  });
  it('fills the same picture again and again without taking memory', () => {
    const picture = newPicture();
    const [first] = partsOf(pictureAt(conform, 5, picture));
    const [second] = partsOf(pictureAt(conform, 6, picture));
    expect(second).toBe(first);
    expect(second?.sourceFrame).toBe(16);
  });
  it('does not edit the list it was made from', () => {
    const before = structuredClone(cut);
    conformOf(cut, [clip], [pairTo('V1/1', clip.path, 3), { kind: 'roll', event: 'V1/2', frames: 4 }]);
    expect(cut).toEqual(before);
  });
  it('has the frame that the list or a person states, else that of its first original', () => {
    expect(conform.frame.raster).toEqual({ width: 1920, height: 1080 });
    const stated = { ...cut, framing: { raster: { width: 2048, height: 858 }, pixelAspect: null, fields: null } };
    expect(conformOf(stated, [clip]).frame).toEqual({ raster: { width: 2048, height: 858 }, pixelAspect: 1 });
  });
});

describe('a transition centred on the cut', () => {
  const centred = { ...dissolve(12), before: 6 };
  const cut = list([event('V1/1', 0, 48, 1010), event('V1/2', 48, 24, 1050, { transitionIn: centred })]);
  const conform = conformOf(cut, [clip], [pairTo('V1/1', clip.path, 10), pairTo('V1/2', clip.path, 50)]);
  const at = (n: number) => parts(conform, n).map((p) => [p.shot.event.key, p.sourceFrame, Number(p.share.toFixed(3))]);
  it('begins before it and ends after it, both sides running on', () => {
    expect(at(41)).toEqual([['V1/1', 51, 1]]);
    expect(at(42)).toEqual([
      ['V1/1', 52, 0.077],
      ['V1/2', 44, 0.077],
    ]);
    expect(at(53)).toEqual([
      ['V1/1', 63, 0.923],
      ['V1/2', 55, 0.923],
    ]);
    expect(at(54)).toEqual([['V1/2', 56, 1]]);
  });
  it('needs frames before the source in of the incoming, and half its length after the outgoing', () => {
    const needs = (key: string) => {
      const shot = shotOf(conform, key);
      return shot && neededFrames(shot, 0)?.wanted;
    };
    expect(needs('V1/1')).toEqual({ in: 10, out: 64 });
    expect(needs('V1/2')).toEqual({ in: 44, out: 74 });
  });
  it('shows the same frames when it is rewritten to begin at its event', () => {
    const same = conformOf(withTransitionsAtStart(cut), [clip], [pairTo('V1/1', clip.path, 10), pairTo('V1/2', clip.path, 50)]);
    for (let n = 0; n < 72; n++)
      expect(parts(same, n).map((p) => [p.sourceFrame, p.share])).toEqual(parts(conform, n).map((p) => [p.sourceFrame, p.share]));
  });
  it('may begin after the cut: until then what leaves goes on', () => {
    const late = list([event('V1/1', 0, 20, 1000), event('V1/2', 20, 30, 1040, { transitionIn: { ...dissolve(10), before: -5 } })]);
    const made = conformOf(late, [clip], [pairTo('V1/1', clip.path, 0), pairTo('V1/2', clip.path, 40)]);
    expect(parts(made, 22)).toMatchObject([{ sourceFrame: 22, side: 'alone' }]);
    expect(parts(made, 25)).toMatchObject([
      { sourceFrame: 25, side: 'leaving' },
      { sourceFrame: 45, side: 'incoming' },
    ]);
    expect(parts(made, 35)).toMatchObject([{ sourceFrame: 55, side: 'alone' }]);
  });
});

it('what the editor switched off is not in the picture and needs no original', () => {
  const cut = list([event('V1/1', 0, 20, 1000)], [event('V2/1', 5, 5, 1000, { enabled: false })]);
  const conform = conformOf(cut, [clip], [pairTo('V1/1', clip.path, 0)]);
  expect(parts(conform, 6).map((p) => p.shot.event.key)).toEqual(['V1/1']);
});

describe('layers', () => {
  const inset: Placement = { ...FILLING, scaleX: 0.5, scaleY: 0.5, x: 0.2 };
  const cut = list(
    [event('V1/1', 0, 48, 1000)],
    [
      event('V2/1', 10, 10, 1000, { reel: 'A002' }),
      event('V2/2', 24, 4, 1000, { reel: 'A002', placement: inset }),
      event('V2/3', 30, 5, 0, { kind: 'title' }),
    ],
  );
  const pairs = [pairTo('V1/1', clip.path, 0), pairTo('V2/1', other.path, 0), pairTo('V2/2', other.path, 0)];
  const conform = conformOf(cut, [clip, other], pairs);
  const alone = (key: string) => {
    const shot = shotOf(conform, key);
    return shot ? framesAlone(conform, shot) : [];
  };
  it('all have their part; a full one stands alone and hides what is below, an inset does not', () => {
    expect(parts(conform, 12).map((p) => p.shot.event.key)).toEqual(['V1/1', 'V2/1']);
    expect(alone('V2/1')).toHaveLength(10);
    expect(alone('V2/2')).toEqual([]);
    expect(alone('V1/1')).toEqual(expect.not.arrayContaining([12, 25]));
  });
  it('a title lies over the picture below it, which still counts as alone', () => {
    expect(parts(conform, 31).map((p) => p.shot.drawn)).toEqual(['picture', 'title']);
    expect(alone('V1/1')).toContain(31);
  });
  it('a movie baked for a title takes its place', () => {
    const bake: Decision = { kind: 'bake', event: 'V2/3', bake: { original: other.path, sourceStartFrame: 7 } };
    expect(parts(conformOf(cut, [clip, other], [...pairs, bake]), 32)[1]).toMatchObject({ sourceFrame: 9, shot: { drawn: 'picture' } });
  });
});

describe('rates that differ', () => {
  const archive = original('/v/H1.mov', { rate: RATES['25'] });
  it('are run by the rate of the original that is paired, not by that of the list', () => {
    const conform = conformOf(list([event('V1/1', 0, 48, 1000)]), [archive], [pairTo('V1/1', archive.path, 0)]);
    expect([0, 24, 47].map((n) => parts(conform, n)[0]?.sourceFrame)).toEqual([0, 25, 48]);
  });
});

describe('a reference', () => {
  const conform = conformOf(list([event('V1/1', 0, 48, 1000)]), [clip], [pairTo('V1/1', clip.path, 0)]);
  const { span } = conform;
  it('begins by its timecode where that covers the first frame of the cut, else with the cut', () => {
    const from = (start: number, hasTimecode = true) =>
      laidByTimecode(original('/r.mov', { start, frames: 200, hasTimecode }), conform).start;
    expect([from(span.in - 48), from(span.in + 1), from(span.in - 48, false)]).toEqual([span.in - 48, span.in, span.in]);
  });
  it('whose picture lies small in it is drawn so that it covers the frame of the cut (closed form)', () => {
    const raster = { width: 1440, height: 1080 };
    const movie = original('/r.mov', { frames: 96, raster });
    // A picture of 1152 x 648 from (72, 108) on, and 48 frames of leader.
    const lay = { start: span.in - 48, fit: { left: 72 / 1440, top: 108 / 1080, width: 0.8, height: 0.6 } };
    const part = referencePart(movie, lay, span.in);
    expect(part?.sourceFrame).toBe(48);
    if (!part) return;
    const frame = { raster: { width: 1920, height: 1080 }, pixelAspect: 1 };
    const drawn = layOfPart(part, frame, frame.raster);
    const point = (u: number, v: number) => [drawn.a * u + drawn.e, drawn.d * v + drawn.f].map((n) => Math.round(n * 1000) / 1000 + 0);
    expect([point(72, 108), point(72 + 1152, 108 + 648)]).toEqual([
      [0, 0],
      [1920, 1080],
    ]);
    expect([referencePart(movie, lay, span.in - 49), referencePart(movie, lay, span.in + 48)]).toEqual([null, null]);
  });
});

describe('where a picture lies', () => {
  const frame = { raster: { width: 1920, height: 1080 }, pixelAspect: 1 };
  const at = (placement: Partial<Placement>, picture = frame, fit = 'inside' as const, canvas = frame.raster) => {
    const lay = layOf({ ...FILLING, ...placement }, FILLING, fit, picture, frame, canvas);
    const point = (u: number, v: number) =>
      [lay.a * u + lay.c * v + lay.e, lay.b * u + lay.d * v + lay.f].map((n) => Math.round(n * 1000) / 1000 + 0);
    return [point(0, 0), point(picture.raster.width, picture.raster.height)];
  };
  const scope = { raster: { width: 2048, height: 858 }, pixelAspect: 1 };
  it('fills the frame where it has its shape, whatever its size', () => {
    expect(at({}, { raster: { width: 3840, height: 2160 }, pixelAspect: 1 })).toEqual([
      [0, 0],
      [1920, 1080],
    ]);
  });
  it('by the fit rule where it has not: inside with bars, filled by cropping, stretched, pixel for pixel', () => {
    expect(at({}, scope)).toEqual([
      [0, 137.813],
      [1920, 942.188],
    ]);
    expect(at({}, scope, 'fill' as never)[0]?.[1]).toBe(0);
    expect(at({}, scope, 'stretch' as never)).toEqual([
      [0, 0],
      [1920, 1080],
    ]);
    expect(at({}, scope, 'one-to-one' as never)[0]).toEqual([-64, 111]);
  });
  it('a picture with wide pixels is drawn out: 720 x 576 with pixels 64:45 fills 16:9 (ITU-R BT.601 raster)', () => {
    const [from, to] = at({}, { raster: { width: 720, height: 576 }, pixelAspect: 64 / 45 });
    expect([from, to]).toEqual([
      [0, 0],
      [1920, 1080],
    ]);
  });
  it('scale about the middle, position in shares of the frame, a quarter turn clockwise', () => {
    expect(at({ scaleX: 0.5, scaleY: 0.5, x: 0.25, y: -0.25 })).toEqual([
      [960, 0],
      [1920, 540],
    ]);
    expect(at({ rotation: 90 })[0]).toEqual([1500, -420]);
  });
  it('moves evenly between its keys and stands still outside them', () => {
    const keys = [
      { ...FILLING, record: 10, scaleX: 1, opacity: 0 },
      { ...FILLING, record: 20, scaleX: 2, opacity: 1 },
    ];
    const placement = { ...FILLING, keys };
    expect([0, 10, 15, 20, 99].map((n) => [poseAt(placement, n).scaleX, poseAt(placement, n).opacity])).toEqual([
      [1, 0],
      [1, 0],
      [1.5, 0.5],
      [2, 1],
      [2, 1],
    ]);
  });
});
