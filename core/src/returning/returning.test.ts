import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { conformOf, dissolve, event, list, original } from '../../test/make';
import { compile } from '../conform';
import { applyDecisions, type Decision } from '../decisions';
import { LIST_FORMATS, readEdl, readList, writeEdl } from '../lists';
import { fractionOf, RATES } from '../time';
import { checkReturn, lookAsStranger, pairsTable, planReturn, portableName, relinkedList, sameFile, templateFault, USUAL_RETURN } from '.';

const clip = original('/v/A001C001.mov');
const pairTo = (id: string, frame: number, path = clip.path): Decision => ({
  kind: 'pair',
  event: id,
  original: path,
  sourceStartFrame: frame,
});
const options = { ...USUAL_RETURN, title: 'BACK' };
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
  it('is named after a template, whatever two of one name a file system would take for one', () => {
    const cut = list([event('V1/1', 0, 20, 1000), event('V1/2', 20, 20, 1050)]);
    const pairs = [pairTo('V1/1', 0), pairTo('V1/2', 50)];
    const named = (template: string) =>
      planReturn(decided(cut, pairs), compile(decided(cut, pairs), [clip]), { ...options, template }).clips.map((c) => c.fileName);
    expect(named('{event}_{source}')).toEqual(['001_A001C001.mov', '002_A001C001.mov']);
    expect(named('{reel} {clip}')).toEqual(['A001_A001C001_001.mov', 'A001_A001C001_002.mov']);
    expect([templateFault('{source}'), templateFault('{event}-{reel}')]).toEqual([null, null]);
    expect(templateFault('{scene}')).toContain('{scene} is not known here');
    expect(templateFault('clip')).toContain('All clips would have one name');
    expect(templateFault('{source')).toContain('brace');
  });
  it.each([
    ['Tür 7/8: "Süd"?', 'Tür_7_8_Süd_'],
    ['  塩の年  ', '_塩の年_'],
    ['con', '_con'],
    ['..', 'clip'],
    ['a.', 'a'],
    ['nul.7', '_nul.7'],
    [`${'a'.repeat(199)}.b`, 'a'.repeat(199)],
    ['Cafe\u0301', 'Café'],
  ])('named %s is %s on every file system (names that Windows and POSIX refuse: from memory)', (asked, is) => {
    expect(portableName(asked)).toBe(is);
  });
  it('has a name that file systems can hold, and keep apart', () => {
    fc.assert(
      fc.property(fc.string({ unit: 'grapheme', maxLength: 300 }), (asked) => {
        const name = portableName(asked);
        expect(new TextEncoder().encode(name).length).toBeLessThanOrEqual(200);
        expect(name).not.toMatch(/[<>:"/\\|?*\s]|^\.|[. ]$|^$/);
        expect(portableName(name)).toBe(name);
      }),
    );
    expect([sameFile('Tür', 'TU\u0308R'), sameFile('Tür', 'Tor')]).toEqual([true, false]);
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

describe('a stranger who reads a returned list and finds its clips', () => {
  const cut = list([
    event('V1/1', 0, 20, 1040),
    event('V1/2', 20, 20, 1000, { transitionIn: dissolve(8) }),
    event('V1/3', 40, 20, 1020, { retime: { kind: 'constant', speed: fractionOf(-1) } }),
  ]);
  const made = plan(cut, [pairTo('V1/1', 40), pairTo('V1/2', 0), pairTo('V1/3', 20)]);
  const clips = made.clips.map(({ fileName, start, given, reel }) =>
    original(`/back/${fileName}`, { start, frames: given.out - given.in, reel }),
  );
  const formats = LIST_FORMATS.filter((f) => f.hasTransitions);
  const told = (format: (typeof formats)[number], text: ((list: string) => string) | null = null, scanned = clips) => {
    const whole = format.write(made.list);
    const bytes = text ? new TextEncoder().encode(text(new TextDecoder().decode(whole))) : whole;
    const back = readList(bytes, { rate: RATES['24'] });
    if (!back) throw new Error('a list that was written cannot be read');
    return lookAsStranger('BACK', back, scanned, format.asLaid(made.list), made.clips).map((p) => p.message);
  };
  it.each(formats)('is led from $title to each clip, at its frame', (format) => {
    expect(told(format)).toEqual([]);
  });
  const edl = formats.find((f) => f.extensions[0] === 'edl') as (typeof formats)[number];
  it('is told of a source that is a frame aside, an event at another time, a name that leads elsewhere, and a clip that is not there', () => {
    // 1040 is 00:00:43:08 at 24 frames a second.
    expect(told(edl, (t) => t.replace('00:00:43:08 00:00:44:04', '00:00:43:09 00:00:44:05'))).toEqual([
      'begins at frame 13 of A001C001_001.mov at event 001, not at 12',
    ]);
    expect(told(edl, (t) => t.replace('00:00:00:00 00:00:00:20', '00:00:00:00 00:00:00:19'))[0]).toMatch(
      /^has no event 001 from 00:00:00:00/,
    );
    expect(told(edl, (t) => t.replaceAll('A001C001_001', 'A001C001_003'))[0]).toMatch(/^leads to /);
    expect(told(edl, null, clips.slice(1))).toEqual(['leads to no clip of the return at event 001']);
  });
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
