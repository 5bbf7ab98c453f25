import { describe, expect, it } from 'vitest';
import { dissolve, event, original, standing } from '../../test/make';
import { acceptPairs, applyDecisions, type Decision } from '../decisions';
import { NATURAL } from '../edit';
import type { Original } from '../originals';
import { RATES } from '../time';
import { countStates, evidenceOf, evidenceText, type PairingWish, pair, resultOf, rulesSchema } from '.';

const decided = (cut: ReturnType<typeof standing>, decisions: readonly Decision[]) => applyDecisions(cut, decisions).list;
const clip = original('/v/A001C001.mov');
const at = (source: number, more = {}) => standing([event('V1/1', 0, 20, source, more)]);
const first = (cut: ReturnType<typeof standing>, originals: Original[], rules = {}) => {
  const [found] = pair(cut, originals, { rules: rulesSchema.parse(rules) });
  if (!found) throw new Error('no pairing');
  return found;
};

describe('a match is not a link', () => {
  it('one candidate that meets the rules is proposed, and paired only when accepted', () => {
    const cut = at(1010);
    const found = pair(cut, [clip]);
    expect(found[0]).toMatchObject({ state: 'proposed', accepted: false });
    expect(pair(decided(cut, acceptPairs(found, 'unambiguous')), [clip])[0]).toMatchObject({ state: 'paired', accepted: true });
  });
  it('the source frame counts from 0 in the file', () => {
    expect(first(at(1010), [clip]).chosen?.sourceStartFrame).toBe(10);
  });
});

describe('states', () => {
  it('contested: two exports of one shot; the larger raster comes first (common practice)', () => {
    const small = original('/v/exports/A001C001.mov', { raster: { width: 640, height: 360 } });
    const found = first(at(1010), [small, clip]);
    expect(found.state).toBe('contested');
    expect(found.contenders.map((c) => c.original.path)).toEqual([clip.path, small.path]);
    expect(acceptPairs([found], 'unambiguous')).toEqual([]);
    expect(acceptPairs([found], 'best')).toMatchObject([{ original: clip.path }]);
  });
  it('short: says how many frames are missing at head and tail', () => {
    expect(first(at(1090), [clip])).toMatchObject({ state: 'short', chosen: { length: { missingHead: 0, missingTail: 10 } } });
    expect(first(at(995), [clip])).toMatchObject({ state: 'short', chosen: { length: { missingHead: 5, missingTail: 0 } } });
  });
  it('short: numbered frames that are missing inside count, where the event asks for them', () => {
    const frames = original('/v/A001C001/A001C001.0001.dpx', { kind: 'frames', clipName: 'A001C001', gaps: [{ in: 15, out: 18 }] });
    expect(first(at(1010), [frames])).toMatchObject({
      state: 'short',
      chosen: { length: { missingHead: 0, missingTail: 0, missingInside: 3 } },
    });
    expect(first(at(1018), [frames])).toMatchObject({ state: 'proposed', chosen: { length: { missingInside: 0 } } });
  });
  it('short: a dissolve needs its tail frames from the outgoing original', () => {
    const cut = standing([event('V1/1', 0, 20, 1075), event('V1/2', 20, 20, 1000, { transitionIn: dissolve(12) })]);
    expect(pair(cut, [clip])[0]).toMatchObject({ state: 'short', chosen: { length: { missingTail: 7 } } });
  });
  it('unpaired: nothing has its reel or name', () => {
    expect(first(at(1010, { reel: 'Z9', clipName: 'Z9', fileName: '' }), [clip]).state).toBe('unpaired');
  });
  it('away: accepted, but its file is not here now', () => {
    const cut = at(1010);
    const accepted = acceptPairs(pair(cut, [clip]), 'unambiguous');
    expect(pair(decided(cut, accepted), [])[0]).toMatchObject({ state: 'away', acceptedPath: clip.path });
  });
  it('exempt: black, titles and generators need no original', () => {
    for (const kind of ['black', 'title', 'generator', 'bars'] as const) expect(first(at(0, { kind }), [clip]).state).toBe('exempt');
  });
  it('are counted', () => {
    expect(countStates(pair(at(1010), [clip]))).toMatchObject({ proposed: 1, paired: 0 });
  });
});

describe('evidence', () => {
  const results = (found: ReturnType<typeof first>) =>
    Object.fromEntries((found.chosen ? evidenceOf(found.chosen) : []).map((e) => [e.criterion, resultOf(e)]));
  it('a renamed file is found by reel and timecode', () => {
    const renamed = original('/v/untitled_7.mov');
    const found = first(at(1010), [renamed]);
    expect(found.state).toBe('proposed');
    expect(results(found)).toMatchObject({ reel: 'agrees', name: 'disagrees', timecode: 'agrees' });
  });
  it('a changed container agrees by name without its extension (TRADE.md, typical failures)', () => {
    const rewrapped = original('/v/A001C001.mxf', { reel: '' });
    expect(results(first(at(1010, { fileName: 'A001C001.mp4' }), [rewrapped]))).toMatchObject({ reel: 'unknown', name: 'agrees' });
  });
  it('the name of a proxy agrees loosely with its original', () => {
    const cut = at(1010, { clipName: 'A001C001_proxy', fileName: '', reel: 'AX' });
    expect(results(first(cut, [clip]))).toMatchObject({ name: 'loosely' });
    expect(first(cut, [clip], { name: 'exact' }).state).toBe('doubtful');
  });
  it('a list that counts from zero is doubtful, and the shift that would mend it is named', () => {
    const found = first(at(12), [clip]);
    expect(found).toMatchObject({ state: 'doubtful', chosen: { shiftFrames: 1000, sourceStartFrame: 12 } });
  });
  it('both reel and name are asked for where the rules say so', () => {
    const renamed = original('/v/untitled_7.mov');
    expect(first(at(1010), [renamed], { need: 'both' }).state).toBe('unpaired');
    expect(first(at(1010), [clip], { need: 'both' }).state).toBe('proposed');
  });
  it('the right part of a reel that is used several times is told by timecode', () => {
    const second = original('/v/A001C002.mov', { start: 2000 });
    const cut = standing([event('V1/1', 0, 20, 1010), event('V1/2', 20, 20, 2050, { clipName: 'A001C002', fileName: '' })]);
    expect(pair(cut, [clip, second]).map((p) => p.chosen?.original.path)).toEqual([clip.path, second.path]);
  });
});

describe('rates differ within a job', () => {
  const archive = original('/v/A001C001.mov', { rate: RATES['25'], start: 25 * 3600 });
  const cut = at(24 * 3600 + 24, { retime: NATURAL });
  it('by label, one second in is frame 25 of a 25 fps clip, and the evidence says how it was carried', () => {
    const found = first(cut, [archive]);
    expect(found.chosen?.sourceStartFrame).toBe(25);
    const rate = found.chosen && evidenceText(found.chosen.rate);
    expect(rate).toContain('in real time');
  });
  it('by frame count, the same number of frames from midnight', () => {
    const found = first(cut, [original('/v/A001C001.mov', { rate: RATES['25'], start: 86_400 })], { rates: 'frame-count' });
    expect(found.chosen?.sourceStartFrame).toBe(24);
  });
});

describe('timecode of day', () => {
  const day = 24 * 86_400;
  // TRADE.md, matching: cards run over midnight. 23:59:57:00 is 72 frames before it.
  const late = original('/v/A001C001.mov', { start: day - 72, frames: 200 });
  it('begins anew at midnight: a clip from 23:59:57:00 holds 00:00:00:10', () => {
    expect(first(at(10), [late])).toMatchObject({
      state: 'proposed',
      chosen: { sourceStartFrame: 82, length: { missingHead: 0, missingTail: 0 } },
    });
  });
  it('of an event that runs across midnight is whole', () => {
    expect(first(at(day - 10), [late])).toMatchObject({ state: 'proposed', chosen: { sourceStartFrame: 62 } });
  });
  it('an event that begins before the clip lacks its head, on either side of midnight', () => {
    expect(first(at(day - 80), [late])).toMatchObject({ state: 'short', chosen: { length: { missingHead: 8 } } });
  });
});

describe('what a person prefers', () => {
  const small = original('/v/exports/A001C001.mov', { raster: { width: 640, height: 360 } });
  const best = (preference: PairingWish['preference']) => pair(at(1010), [small, clip], { preference })[0]?.chosen?.original.path;
  it('comes first among equals: by raster, or by folder before that', () => {
    expect(best({ raster: 'largest', folders: [] })).toBe(clip.path);
    expect(best({ raster: 'smallest', folders: [] })).toBe(small.path);
    expect(best({ raster: 'largest', folders: ['/v/exports'] })).toBe(small.path);
  });
});

describe('what was decided about names and timecode', () => {
  it('a shift of a reel lets its events meet their originals', () => {
    const cut = at(10);
    const shifted = decided(cut, [{ kind: 'shift', scope: { of: 'reel', reel: 'A001' }, frames: 1000 }]);
    expect(first(cut, [clip]).state).toBe('doubtful');
    expect(first(shifted, [clip])).toMatchObject({ state: 'proposed', chosen: { sourceStartFrame: 10, shiftFrames: 1000 } });
  });
  it('a name pattern gives events further names', () => {
    const cut = at(1010, { reel: 'AX', clipName: 'offl_A001C001_v2', fileName: '' });
    const named = decided(cut, [{ kind: 'name-pattern', find: 'offl_*_v2', becomes: '*' }]);
    expect([first(cut, [clip]).state, first(named, [clip]).state]).toEqual(['unpaired', 'proposed']);
  });
});

it('a still needs its name only, and covers any length', () => {
  const still = original('/v/plan.png', { kind: 'still', reel: '', hasTimecode: false, start: 0, frames: 1 });
  const cut = standing([event('V1/1', 0, 500, 0, { reel: 'AX', clipName: 'plan', fileName: '' })]);
  expect(first(cut, [still])).toMatchObject({ state: 'proposed', chosen: { sourceStartFrame: 0, length: { missingTail: 0 } } });
});

it('pairs 5 000 events with 5 000 originals without comparing each with each', () => {
  const originals = Array.from({ length: 5000 }, (_, i) => original(`/v/C${i}.mov`, { reel: `R${i}` }));
  const events = originals.map((o, i) => event(`V1/${i + 1}`, i * 20, 20, 1010, { reel: o.reel, clipName: o.clipName, fileName: '' }));
  expect(countStates(pair(standing(events), originals)).proposed).toBe(5000);
});
