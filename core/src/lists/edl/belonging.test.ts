import { describe, expect, it } from 'vitest';
import { event, list } from '../../../test/make';
import { formatTimecode, fractionOf, NATURAL, RATES } from '../..';
import type { EditList, ListEvent } from '../../edit';
import { lossesIn } from '../losses';
import { formatOfName } from '../registry';
import { readEdl, writeEdl } from '.';

/** To which event each line belongs. Common practice where nothing else is named. */
const at24 = { rate: RATES['24'] };
const read = (...lines: string[]) => readEdl(['TITLE: CUT', 'FCM: NON-DROP FRAME', ...lines].join('\n'), at24);
const events = (cut: EditList) => cut.tracks[0]?.events ?? [];
const codes = (cut: EditList) => cut.notices.map((n) => n.code);
const named = (cut: EditList) => events(cut).map((e) => [e.number, e.clipName]);

const tc = (seconds: number, hour: number) => formatTimecode((hour * 3600 + seconds) * 24, RATES['24']);
/** Event n: two seconds of reel A00n at hour n, at 2n seconds of hour 10. */
const cut = (n: number, reel = `A00${n}`) =>
  `00${n}  ${reel.padEnd(8)} V     C        ${tc(0, n)} ${tc(2, n)} ${tc(2 * n, 10)} ${tc(2 * n + 2, 10)}`;
const dissolve = (n: number, from = `A00${n - 1}`, reel = `A00${n}`, duration = '012') => [
  `00${n}  ${from.padEnd(8)} V     C        ${tc(2, n - 1)} ${tc(2, n - 1)} ${tc(2 * n, 10)} ${tc(2 * n, 10)}`,
  `00${n}  ${reel.padEnd(8)} V     D    ${duration} ${tc(0, n)} ${tc(2, n)} ${tc(2 * n, 10)} ${tc(2 * n + 2, 10)}`,
];

describe('a comment belongs to the event line above it, whether that was read or not', () => {
  const grade = ['* ASC_SOP (2 2 2)(0 0 0)(1 1 1)', '* ASC_SAT 0.5'];
  const broken: Record<string, string> = {
    'a broken timecode': cut(2).replace(tc(0, 2), '02:00:xx:00'),
    'a record that runs backwards': cut(2).replace(tc(6, 10), tc(2, 10)),
    'no length on the record': cut(2).replace(tc(6, 10), tc(4, 10)),
  };
  for (const [what, line] of Object.entries(broken))
    it(`with ${what}`, () => {
      const found = read(cut(1), '* FROM CLIP NAME: ONE', line, '* FROM CLIP NAME: TWO', '* SOURCE FILE: two.mov', ...grade, cut(3));
      expect(events(found).map((e) => [e.clipName, e.fileName, e.cdl])).toEqual([
        ['ONE', '', null],
        ['', '', null],
      ]);
      // Nothing is lost: what was said of the event stays with the list.
      expect(found.notes).toContain('Event 002, left out: FROM CLIP NAME: TWO');
      expect(found.notices.some((n) => n.severity === 'lost' || n.severity === 'unreadable')).toBe(true);
    });
  it('and its speed is never that of the event before', () => {
    const found = read(cut(1), cut(2).replace(tc(6, 10), tc(2, 10)), `M2   A002   048.0   ${tc(0, 2)}`);
    expect(events(found)[0]?.retime).toEqual(NATURAL);
    expect(codes(found)).toContain('motion-without-event');
  });
  it('unless names stand before their events throughout the list', () => {
    const found = read('* FROM CLIP NAME: ONE', cut(1), '* FROM CLIP NAME: TWO', cut(2), '* FROM CLIP NAME: THREE', cut(3));
    expect(named(found)).toEqual([
      ['001', 'ONE'],
      ['002', 'TWO'],
      ['003', 'THREE'],
    ]);
    expect(codes(found)).toEqual(['names-first']);
    const notAll = read('* FROM CLIP NAME: STRAY', cut(1), '* FROM CLIP NAME: ONE', cut(2), '* FROM CLIP NAME: TWO');
    expect(named(notAll)).toEqual([
      ['001', 'ONE'],
      ['002', 'TWO'],
    ]);
  });
  it("where names stand first, also with a broken event among them, and what stands behind the last is the list's", () => {
    const broken = cut(2).replace(tc(0, 2), '02:00:xx:00');
    const grade = '* ASC_SOP (2 2 2)(0 0 0)(1 1 1)';
    const found = read(
      '* FROM CLIP NAME: ONE',
      cut(1),
      '* FROM CLIP NAME: TWO',
      grade,
      broken,
      '* FROM CLIP NAME: THREE',
      cut(3),
      '* CHECK THE EDGE',
    );
    expect(events(found).map((e) => [e.clipName, e.cdl])).toEqual([
      ['ONE', null],
      ['THREE', null],
    ]);
    expect(found.notes).toEqual(['CHECK THE EDGE', 'Event 002, left out: FROM CLIP NAME: TWO', `Event 002, left out: ${grade.slice(2)}`]);
  });
  it('without its asterisk too', () => {
    expect(named(read(cut(1), 'FROM CLIP NAME: ONE', cut(2), '  FROM CLIP NAME:  TWO'))).toEqual([
      ['001', 'ONE'],
      ['002', 'TWO'],
    ]);
  });
});

describe('of a dissolve, each side has its own', () => {
  it('file and grade, once the sides are named', () => {
    const found = read(
      cut(1),
      ...dissolve(2),
      '* FROM CLIP NAME: ONE',
      '* FROM FILE: one.mov',
      '* ASC_SOP (2 2 2)(0 0 0)(1 1 1)',
      '* TO CLIP NAME: TWO',
      '* TO FILE: two.mov',
      '* ASC_SOP (3 3 3)(0 0 0)(1 1 1)',
    );
    expect(events(found).map((e) => [e.clipName, e.fileName, e.cdl?.slope[0]])).toEqual([
      ['ONE', 'one.mov', 2],
      ['TWO', 'two.mov', 3],
    ]);
  });
  it('a name of the outgoing clip alone is the incoming one from black, and the outgoing one else', () => {
    expect(named(read(...dissolve(1, 'BL'), '* FROM CLIP NAME: ONE'))).toEqual([['001', 'ONE']]);
    expect(named(read(cut(1), ...dissolve(2), '* FROM CLIP NAME: ONE'))).toEqual([
      ['001', 'ONE'],
      ['002', ''],
    ]);
    expect(named(read(cut(1), '* FROM CLIP NAME: ONE', ...dissolve(2), '* FROM CLIP NAME: TWO'))[1]).toEqual(['002', 'TWO']);
  });
  it('what contradicts the outgoing event itself is said, and the event stands', () => {
    const found = read(cut(1), '* FROM CLIP NAME: ONE', ...dissolve(2), '* FROM CLIP NAME: ELSE', '* TO CLIP NAME: TWO');
    expect(named(found)[0]).toEqual(['001', 'ONE']);
    expect(codes(found)).toContain('outgoing-differs');
    expect(codes(read(cut(1), ...dissolve(2, 'B999')))).toContain('outgoing-differs');
  });
  it('without a length it is a cut, and no event is lost', () => {
    const found = read(cut(1), ...dissolve(2, 'A001', 'A002', '000'));
    expect(events(found).map((e) => e.transitionIn)).toEqual([null, null]);
    expect(codes(found)).toEqual(['transition-without-length']);
  });
  it('out of nothing comes from black, and says so', () => {
    const found = read(...dissolve(2));
    expect(events(found)[0]?.transitionIn?.from).toBe('black');
    expect(codes(found)).toContain('transition-from-nothing');
  });
});

describe('an M2 line speaks of the side whose reel and source in it names', () => {
  const speeds = (...lines: string[]) =>
    events(read(cut(1, 'A001'), ...dissolve(2, 'A001', 'A001'), ...lines)).map((e) =>
      e.retime.kind === 'constant' ? e.retime.speed.num : 0,
    );
  it('when both reels are equal, the source in decides', () => {
    expect(speeds(`M2   A001   048.0   ${tc(0, 1)}`)).toEqual([2, 0]);
    expect(speeds(`M2   A001   048.0   ${tc(0, 2)}`)).toEqual([0, 2]);
    // The first line of a dissolve names the outgoing source where the dissolve begins.
    expect(speeds(`M2   A001   048.0   ${tc(2, 1)}`)).toEqual([2, 0]);
    expect(speeds(`M2   A001   048.0   ${tc(0, 1)}`, `M2   A001   072.0   ${tc(0, 2)}`)).toEqual([2, 3]);
  });
  it('and decides which way a source runs whose out stands before its in', () => {
    const back = cut(1).replace(`${tc(0, 1)} ${tc(2, 1)}`, `${tc(2, 1)} ${tc(0, 1)}`);
    const said = (...lines: string[]) => read(back, ...lines).notices.map((n) => n.message.replace(/.*; /, ''));
    expect(said()).toEqual(['it was read as running in reverse.']);
    expect(said(`M2   A001   -024.0   ${tc(2, 1)}`)).toEqual([]);
    expect(said(`M2   A001   048.0   ${tc(2, 1)}`)[0]).toContain('runs forward, which was taken');
  });
  it('two that disagree are said', () => {
    expect(codes(read(cut(1), `M2 A001 048.0 ${tc(0, 1)}`, `M2 A001 072.0 ${tc(0, 1)}`))).toContain('speed-twice');
  });
});

describe('fields of an event line', () => {
  it('a missing reel does not take the event number', () => {
    const found = read(cut(1).replace('A001', '    '));
    expect(events(found).map((e) => [e.number, e.reel])).toEqual([['001', '']]);
    expect(codes(found)).toContain('no-reel');
  });
  it('numbers may end with their point', () => {
    const found = read(cut(1).replace('001 ', '1. '), '* ASC_SOP (1. 1. 1.)(.5 0. -0.)(1. 1 1)', '* ASC_SAT 1.');
    expect(events(found).map((e) => [e.number, e.cdl?.offset[0], e.cdl?.saturation])).toEqual([['1', 0.5, 1]]);
  });
  it('timecodes below zero are none', () => {
    expect(codes(read(cut(1).replace(tc(0, 1), '-00:00:00:05')))).toContain('broken-line');
  });
});

describe('drop-frame (SMPTE ST 12-1: a semicolon before the frames)', () => {
  const text = (source: string, record: string, fcm = '') =>
    `TITLE: X\n${fcm}001  A001     V     C        01:00:00${source}00 01:00:02${source}00 10:00:00${record}00 10:00:02${record}00`;
  it('without an FCM line the semicolon says it, and the rate is then known to be 29.97 or 59.94', () => {
    const found = readEdl(text(';', ';'));
    expect(found.rate).toEqual(RATES['29.97df']);
    expect(found.notices.map((n) => n.message).join()).toContain('only 29.97 and 59.94');
    expect(readEdl(text(';', ';').replace(';00 10', ';59 10')).rate).toEqual(RATES['59.94df']);
    // One hour: 107 892 frames in drop-frame, 108 000 in non-drop.
    expect(events(found)[0]?.source.in).toBe(107_892);
  });
  it('of the source alone it leaves the record', () => {
    const found = readEdl(text(';', ':'), { rate: RATES['29.97'] });
    expect([found.rate.dropFrame, events(found)[0]?.sourceRate.dropFrame]).toEqual([false, true]);
  });
  it('where it cannot be, or is contradicted, that is said', () => {
    expect(readEdl(text(';', ';'), { rate: RATES['25'] }).notices.map((n) => n.code)).toContain('drop-frame-impossible');
    const against = readEdl(text(';', ';', 'FCM: NON-DROP FRAME\n'), { rate: RATES['29.97'] });
    expect(against.rate.dropFrame).toBe(false);
    expect(against.notices.map((n) => n.code)).toContain('counting-contradicts');
  });
});

describe('midnight (labels of day begin anew, SMPTE ST 12-1)', () => {
  const day = 24 * 3600 * 24;
  const one = (source: string, record: string, n = 1) => `00${n}  A001     V     C        ${source} ${record}`;
  it('a source over it runs forward, and the other way round backwards', () => {
    const over = events(read(one('23:59:58:00 00:00:02:00', '10:00:00:00 10:00:04:00')))[0] as ListEvent;
    expect([over.source, over.retime]).toEqual([{ in: day - 48, out: day + 48 }, NATURAL]);
    const back = events(read(one('00:00:02:00 23:59:58:00', '10:00:00:00 10:00:04:00')))[0] as ListEvent;
    expect([back.source, back.retime]).toEqual([
      { in: day - 48, out: day + 48 },
      { kind: 'constant', speed: fractionOf(-1) },
    ]);
  });
  it('a record over it keeps its event, and what follows keeps its order', () => {
    const found = read(
      one('01:00:00:00 01:00:04:00', '23:59:58:00 00:00:02:00', 1),
      one('02:00:00:00 02:00:01:00', '00:00:02:00 00:00:03:00', 2),
      one('03:00:00:00 03:00:01:00', '24:00:03:00 24:00:04:00', 3),
    );
    expect(events(found).map((e) => [e.number, e.record.in - day, e.record.out - day])).toEqual([
      ['001', -48, 48],
      ['002', 48, 72],
      ['003', 72, 96],
    ]);
    expect(found.notices).toEqual([]);
    // And comes back from our own writer the same.
    expect(events(readEdl(writeEdl(found), at24)).map((e) => e.record)).toEqual(events(found).map((e) => e.record));
  });
});

describe('the writer', () => {
  it('writes no timecode below zero: a dissolve that begins before its source does begins later', () => {
    const early = list([
      event('V1/1', 0, 48, 1000),
      event('V1/2', 48, 48, 5, { transitionIn: { type: 'dissolve', duration: 24, before: 12, from: 'previous', wipeCode: null } }),
    ]);
    const text = writeEdl(early);
    expect(text).not.toMatch(/-\d\d:/);
    const [first, second] = events(readEdl(text, at24));
    const edl = formatOfName('a.edl');
    expect(edl && lossesIn(early, edl).map((n) => n.code)).toEqual(['cannot-carry-early-transitions']);
    expect([first?.record.out, second?.record.in, second?.source.in, second?.transitionIn?.duration]).toEqual([43, 43, 0, 17]);
  });
  it('puts every text on one line, and numbers what has no number', () => {
    const text = writeEdl(
      list([event('V1/2', 0, 24, 0, { clipName: 'TWO\nLINES' }), event('V1/3', 24, 24, 24, { number: '', clipName: '' })]),
    );
    expect(named(readEdl(text, at24))).toEqual([
      ['002', 'TWO LINES'],
      ['003', ''],
    ]);
  });
});
