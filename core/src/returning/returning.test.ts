import { describe, expect, it } from 'vitest';
import { conformOf, dissolve, event, list, original } from '../../test/make';
import { compile } from '../conform';
import { applyDecisions, type Decision } from '../decisions';
import { readEdl, writeEdl } from '../lists';
import { fractionOf, RATES } from '../time';
import { checkReturn, pairsTable, planReturn, relinkedList } from '.';

const clip = original('/v/A001C001.mov');
const pairTo = (id: string, frame: number, path = clip.path): Decision => ({
  kind: 'pair',
  event: id,
  original: path,
  sourceStartFrame: frame,
});
const options = { handles: 12, extension: 'mov', title: 'BACK' };
const decided = (cut: ReturnType<typeof list>, decisions: Decision[]) => applyDecisions(cut, decisions).list;
const plan = (cut: ReturnType<typeof list>, decisions: Decision[], originals = [clip], handles = 12) =>
  planReturn(decided(cut, decisions), compile(decided(cut, decisions), originals), { ...options, handles });

describe('a returned clip', () => {
  it('has handles on both sides and keeps the timecode of its source', () => {
    const { clips } = plan(list([event('V1/1', 0, 20, 1040)]), [pairTo('V1/1', 40)]);
    expect(clips).toMatchObject([
      { given: { in: 28, out: 72 }, headHandle: 12, tailHandle: 12, start: 1028, reel: 'A001', fileName: 'A001C001.mov' },
    ]);
  });
  it('has fewer where the original ends, and it is said so', () => {
    const { clips, warnings } = plan(list([event('V1/1', 0, 20, 1005)]), [pairTo('V1/1', 5)]);
    expect(clips).toMatchObject([{ given: { in: 0, out: 37 }, headHandle: 5, tailHandle: 12 }]);
    expect(warnings).toMatchObject([{ code: 'short-handles' }]);
  });
  it('holds what a dissolve takes from it after its cut point, and the handle beyond', () => {
    const cut = list([event('V1/1', 0, 20, 1040), event('V1/2', 20, 20, 1000, { transitionIn: dissolve(8) })]);
    expect(plan(cut, [pairTo('V1/1', 40)]).clips[0]?.given).toEqual({ in: 28, out: 80 });
  });
  it('of a fast shot spans all the source it runs over', () => {
    const cut = list([event('V1/1', 0, 20, 1020, { retime: { kind: 'constant', speed: fractionOf(2) }, source: { in: 1020, out: 1060 } })]);
    expect(plan(cut, [pairTo('V1/1', 20)]).clips[0]?.given).toEqual({ in: 8, out: 71 });
  });
  it('is named after its source, and by event where one source is used twice', () => {
    const cut = list([event('V1/1', 0, 20, 1000), event('V1/2', 20, 20, 1050)]);
    expect(plan(cut, [pairTo('V1/1', 0)]).clips.map((c) => c.fileName)).toEqual(['A001C001.mov']);
    expect(plan(cut, [pairTo('V1/1', 0), pairTo('V1/2', 50)]).clips.map((c) => c.fileName)).toEqual([
      'A001C001_001.mov',
      'A001C001_002.mov',
    ]);
  });
  it('lacks what is not paired, with a warning, and the list keeps what the editor had', () => {
    const made = plan(list([event('V1/1', 0, 20, 1000)]), []);
    expect(made.clips).toEqual([]);
    expect(made.warnings).toMatchObject([{ code: 'not-paired', event: 'V1/1' }]);
    expect(made.list.tracks[0]?.events[0]?.clipName).toBe('A001C001');
  });
});

describe('the returned list', () => {
  const cut = list([
    event('V1/1', 0, 20, 1040),
    event('V1/2', 20, 20, 1010, { transitionIn: dissolve(8), retime: { kind: 'constant', speed: fractionOf(-1) } }),
  ]);
  const made = plan(cut, [
    pairTo('V1/1', 40),
    pairTo('V1/2', 10),
    { kind: 'slip', event: 'V1/1', original: clip.path, sourceStartFrame: 37 },
  ]);
  const back = readEdl(writeEdl(made.list), { rate: RATES['24'] });
  it('keeps cut points, transitions and speeds, and points at the clips by reel, name and timecode', () => {
    const [first, second] = back.tracks[0]?.events ?? [];
    expect(first).toMatchObject({
      record: { in: 0, out: 20 },
      source: { in: 1037, out: 1057 },
      clipName: 'A001C001_001',
      fileName: 'A001C001_001.mov',
      reel: 'A001',
    });
    expect(second).toMatchObject({
      record: { in: 20, out: 40 },
      transitionIn: { type: 'dissolve', duration: 8 },
      retime: { speed: fractionOf(-1) },
    });
  });
  it('has a title of its own and carries no grade, because the clips do', () => {
    expect(back.title).toBe('BACK');
    expect(back.tracks[0]?.events.every((e) => e.cdl === null)).toBe(true);
  });
  it('names only frames that its clip has', () => {
    for (const e of back.tracks[0]?.events ?? []) {
      const file = made.clips.find((c) => c.fileName === e.fileName);
      expect(file && e.source.in >= file.start && e.source.out <= file.start + file.given.out - file.given.in).toBe(true);
    }
  });
});

it('a list of originals only has their reels, names and timecodes', () => {
  const cut = list([event('V1/1', 0, 20, 12, { reel: 'AX' })]);
  const made = relinkedList(cut, conformOf(cut, [clip], [pairTo('V1/1', 12)]), 'LINKED');
  expect(made.tracks[0]?.events[0]).toMatchObject({ reel: 'A001', source: { in: 1012, out: 1032 }, fileName: 'A001C001.mov' });
});

it('the table of pairs is quoted by RFC 4180', () => {
  const odd = original('/v/one, "two".mov');
  const cut = list([event('V1/1', 0, 20, 1000)]);
  const [header, row] = pairsTable(conformOf(cut, [odd], [pairTo('V1/1', 0, odd.path)])).split('\r\n');
  expect(header?.split(',')).toHaveLength(11);
  expect(row).toContain('"/v/one, ""two"".mov"');
});

describe('the check of what was written', () => {
  const made = plan(list([event('V1/1', 0, 20, 1040)]), [pairTo('V1/1', 40)]).clips;
  const good = original('/out/A001C001.mov', { start: 1028, frames: 44 });
  const problems = (file: typeof good | null) => checkReturn(made, new Map(file ? [['A001C001.mov', file]] : [])).map((p) => p.message);
  it('passes what is as planned', () => {
    expect(problems(good)).toEqual([]);
  });
  it('names each thing that came out otherwise', () => {
    expect(problems(null)).toEqual(['was not written']);
    expect(problems({ ...good, frames: 43 })).toEqual(['has 43 frames, not 44']);
    expect(problems({ ...good, start: 1029 })[0]).toContain('starts at 00:00:42:21');
    expect(problems({ ...good, reel: 'B2', rate: RATES['25'] })).toHaveLength(2);
  });
});
