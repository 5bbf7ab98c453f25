import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { dissolve, event, list, original } from '../../test/make';
import type { Decision } from '../decisions';
import { NATURAL, type Retime, withTransitionsAtStart } from '../edit';
import { compile, framesAlone, neededFrames, pictureAt, shotOf, sourceFrameAt, sourceOffset, sourceSpan } from '.';

const clip = original('/v/A001C001.mov');
const other = original('/v/A002C001.mov', { reel: 'A002' });
const pairTo = (id: string, path: string, sourceStartFrame: number): Decision => ({
  kind: 'pair',
  event: id,
  original: path,
  sourceStartFrame,
});
const run = (retime: Retime, length: number, source: number) =>
  Array.from({ length }, (_, k) => sourceOffset(retime, { in: 0, out: source }, k));

describe('the time map', () => {
  it('runs one for one at natural speed', () => {
    expect(run(NATURAL, 4, 4)).toEqual([0, 1, 2, 3]);
  });
  it('skips frames when fast and repeats them when slow', () => {
    expect(run({ kind: 'constant', speed: 2 }, 4, 8)).toEqual([0, 2, 4, 6]);
    expect(run({ kind: 'constant', speed: 0.5 }, 6, 3)).toEqual([0, 0, 1, 1, 2, 2]);
  });
  it('starts a reverse on the last frame of the source span (common practice)', () => {
    expect(run({ kind: 'constant', speed: -1 }, 4, 4)).toEqual([3, 2, 1, 0]);
  });
  it('holds the first frame of a freeze', () => {
    expect(run({ kind: 'freeze' }, 3, 3)).toEqual([0, 0, 0]);
  });
  it('does not fall a frame short through rounding: ten frames at 1.1 reach frame 11', () => {
    expect(sourceOffset({ kind: 'constant', speed: 1.1 }, { in: 0, out: 11 }, 10)).toBe(11);
    for (let tenths = 1; tenths <= 40; tenths++)
      expect(sourceOffset({ kind: 'constant', speed: tenths / 10 }, { in: 0, out: 99 }, 100)).toBe(tenths * 10);
  });
  it('covers exactly the span it names, whatever the speed', () => {
    fc.assert(
      fc.property(
        fc.integer({ min: -480, max: 480 }).filter((n) => n !== 0),
        fc.integer({ min: 1, max: 200 }),
        (fps, length) => {
          const retime: Retime = { kind: 'constant', speed: fps / 24 };
          const e = event('V1/1', 0, length, 0, { retime, source: { in: 0, out: Math.ceil(length * Math.abs(fps / 24)) } });
          const shown = Array.from({ length }, (_, k) => sourceOffset(retime, e.source, k));
          expect(sourceSpan(e)).toEqual({ in: Math.min(...shown), out: Math.max(...shown) + 1 });
        },
      ),
    );
  });
});

describe('a conform', () => {
  const cut = list([event('V1/1', 0, 48, 1010), event('V1/2', 48, 24, 1000, { reel: 'A002', transitionIn: dissolve(12) })]);
  const conform = compile(cut, [clip, other], [pairTo('V1/1', clip.path, 10), pairTo('V1/2', other.path, 0)]);

  it('shows the paired frame', () => {
    expect(pictureAt(conform, 5)).toMatchObject([{ sourceFrame: 15, share: 1 }]);
  });
  it('mixes both sides under a dissolve, from nearly nothing to nearly all', () => {
    const [leaving, incoming] = pictureAt(conform, 48);
    expect([leaving?.sourceFrame, leaving?.share]).toEqual([58, 1]);
    expect(incoming?.sourceFrame).toBe(0);
    expect(incoming?.share).toBeCloseTo(1 / 13);
    expect(pictureAt(conform, 59)[1]?.share).toBeCloseTo(12 / 13);
    expect(pictureAt(conform, 60)).toHaveLength(1);
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
    expect(pictureAt(conform, 200)).toEqual([]);
  });
  it('does not edit the list it was made from', () => {
    const before = structuredClone(cut);
    compile(cut, [clip], [{ kind: 'slip', event: 'V1/1', frames: 9 }]);
    expect(cut).toEqual(before);
  });
});

describe('a transition centred on the cut', () => {
  const centred = { ...dissolve(12), before: 6 };
  const cut = list([event('V1/1', 0, 48, 1010), event('V1/2', 48, 24, 1050, { transitionIn: centred })]);
  const conform = compile(cut, [clip], [pairTo('V1/1', clip.path, 10), pairTo('V1/2', clip.path, 50)]);
  const at = (n: number) => pictureAt(conform, n).map((p) => [p.shot.event.id, p.sourceFrame, Number(p.share.toFixed(3))]);
  it('begins before it and ends after it, both sides running on', () => {
    expect(at(41)).toEqual([['V1/1', 51, 1]]);
    expect(at(42)).toEqual([
      ['V1/1', 52, 1],
      ['V1/2', 44, 0.077],
    ]);
    expect(at(53)).toEqual([
      ['V1/1', 63, 1],
      ['V1/2', 55, 0.923],
    ]);
    expect(at(54)).toEqual([['V1/2', 56, 1]]);
  });
  it('needs frames before the source in of the incoming, and half its length after the outgoing', () => {
    const needs = (id: string) => {
      const shot = shotOf(conform, id);
      return shot && neededFrames(shot, 0)?.wanted;
    };
    expect(needs('V1/1')).toEqual({ in: 10, out: 64 });
    expect(needs('V1/2')).toEqual({ in: 44, out: 74 });
  });
  it('shows the same frames when it is rewritten to begin at its event', () => {
    const same = compile(withTransitionsAtStart(cut), [clip], [pairTo('V1/1', clip.path, 10), pairTo('V1/2', clip.path, 44)]);
    for (let n = 0; n < 72; n++)
      expect(pictureAt(same, n).map((p) => [p.sourceFrame, p.share])).toEqual(pictureAt(conform, n).map((p) => [p.sourceFrame, p.share]));
  });
});

it('what the editor switched off is not in the picture and needs no original', () => {
  const cut = list([event('V1/1', 0, 20, 1000)], [event('V2/1', 5, 5, 1000, { enabled: false })]);
  const conform = compile(cut, [clip], [pairTo('V1/1', clip.path, 0)]);
  expect(pictureAt(conform, 6).map((p) => p.shot.event.id)).toEqual(['V1/1']);
});

describe('layers', () => {
  const cut = list(
    [event('V1/1', 0, 48, 1000)],
    [event('V2/1', 10, 10, 1000, { reel: 'A002' }), event('V2/2', 30, 5, 0, { kind: 'title' })],
  );
  const conform = compile(cut, [clip, other], [pairTo('V1/1', clip.path, 0), pairTo('V2/1', other.path, 0)]);
  it('above hide what is below', () => {
    expect(pictureAt(conform, 12).map((p) => p.shot.original?.path)).toEqual([other.path]);
  });
  it('with a title let the picture below through', () => {
    expect(pictureAt(conform, 31).map((p) => p.shot.original?.path)).toEqual([clip.path]);
  });
});

describe('decisions', () => {
  const cut = list([event('V1/1', 0, 48, 1010)]);
  const frameOf = (...decisions: Decision[]) => {
    const shot = shotOf(compile(cut, [clip], decisions), 'V1/1');
    return shot?.original ? sourceFrameAt(shot, 0) : null;
  };
  it('a slip is added to the source in', () => {
    expect(frameOf(pairTo('V1/1', clip.path, 10), { kind: 'slip', event: 'V1/1', frames: 3 })).toBe(13);
    expect(
      frameOf(pairTo('V1/1', clip.path, 10), { kind: 'slip', event: 'V1/1', frames: 3 }, { kind: 'slip', event: 'V1/1', frames: -1 }),
    ).toBe(12);
  });
  it('a new pair lets go of slips that spoke of the old one', () => {
    expect(frameOf(pairTo('V1/1', clip.path, 10), { kind: 'slip', event: 'V1/1', frames: 3 }, pairTo('V1/1', clip.path, 20))).toBe(20);
  });
  it('an unpaired event shows nothing', () => {
    expect(frameOf()).toBeNull();
    expect(frameOf(pairTo('V1/1', clip.path, 10), { kind: 'unpair', event: 'V1/1' })).toBeNull();
  });
  it('withdrawing the last one restores what stood before', () => {
    const slips = fc.array(
      fc.integer({ min: -50, max: 50 }).map((frames): Decision => ({ kind: 'slip', event: 'V1/1', frames })),
      { minLength: 1 },
    );
    fc.assert(
      fc.property(slips, (made) => {
        const base = pairTo('V1/1', clip.path, 10);
        const before = frameOf(base, ...made.slice(0, -1));
        const last = made.at(-1) as Extract<Decision, { kind: 'slip' }>;
        expect(frameOf(base, ...made)).toBe((before ?? 0) + last.frames);
      }),
    );
  });
});
