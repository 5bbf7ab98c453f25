import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { content, listOf, piece } from '../../../test/lists';
import { dissolve, event, list } from '../../../test/make';
import { RATES } from '../../time';
import { lossesIn } from '../losses';
import { formatOfName, recogniseList } from '../registry';
import { readXmeml, writeXmeml } from '.';

const RATE = '<rate><timebase>24</timebase><ntsc>TRUE</ntsc></rate>';
const file = (id: string, start: number) =>
  `<file id="${id}"><name>A001C001.mov</name><pathurl>file://localhost/cards/A001%20left/A001C001.mov</pathurl>${RATE}<timecode>${RATE}<frame>${start}</frame><displayformat>NDF</displayformat><reel><name>A001</name></reel></timecode></file>`;
const item = (name: string, start: number, end: number, from: number, to: number, more = '<file id="f1"/>') =>
  `<clipitem id="${name}"><name>${name}</name>${RATE}<start>${start}</start><end>${end}</end><in>${from}</in><out>${to}</out>${more}</clipitem>`;
const sequence = (track: string, name = 'CUT') =>
  `<sequence><name>${name}</name>${RATE}<timecode>${RATE}<string>01:00:00:00</string><frame>86400</frame><displayformat>NDF</displayformat></timecode><media><video><track>${track}</track></video></media></sequence>`;
const document = (...sequences: string[]) => `<?xml version="1.0"?><!DOCTYPE xmeml><xmeml version="5">${sequences.join('')}</xmeml>`;
const read = (track: string) => readXmeml(document(sequence(track)));
const events = (track: string) => read(track).tracks[0]?.events ?? [];

describe('a clip item', () => {
  it('adds its in point to the timecode of its file, described once and referred to by id', () => {
    const found = events(item('one', 0, 24, 10, 34, file('f1', 1000)) + item('two', 24, 48, 50, 74));
    expect(found.map((e) => [e.reel, e.fileName, e.source, e.record])).toEqual([
      ['A001', 'A001C001.mov', { in: 1010, out: 1034 }, { in: 86_400, out: 86_424 }],
      ['A001', 'A001C001.mov', { in: 1050, out: 1074 }, { in: 86_424, out: 86_448 }],
    ]);
    expect(found[0]?.sourceRate).toEqual(RATES['23.976']);
  });
  it('may be switched off', () => {
    expect(events(item('one', 0, 24, 0, 24, `<enabled>FALSE</enabled>${file('f1', 0)}`))[0]?.enabled).toBe(false);
  });
  it('carries speed, reverse, size and position', () => {
    const parameter = (id: string, value: string) => `<parameter><parameterid>${id}</parameterid><value>${value}</value></parameter>`;
    const filter = (id: string, inside: string) => `<filter><effect><effectid>${id}</effectid>${inside}</effect></filter>`;
    const [found] = events(
      item(
        'one',
        0,
        24,
        0,
        48,
        file('f1', 0) +
          filter('timeremap', parameter('speed', '200') + parameter('reverse', 'TRUE')) +
          filter('basic', parameter('scale', '125') + parameter('center', '<horiz>0.06</horiz><vert>-0.05</vert>')),
      ),
    );
    expect(found).toMatchObject({
      retime: { kind: 'constant', speed: -2 },
      source: { in: 0, out: 48 },
      placement: { scale: 1.25, x: 0.06, y: -0.05, rotation: 0 },
    });
  });
});

describe('the -1 convention at transitions', () => {
  const join = (start: number, end: number, alignment: string) =>
    `<transitionitem><start>${start}</start><end>${end}</end><alignment>${alignment}</alignment><effect><name>Cross Dissolve</name></effect></transitionitem>`;
  it('centred: both clips run under the whole transition, and the cut is in its middle', () => {
    const [first, second] = events(item('one', 0, -1, 0, 30, file('f1', 1000)) + join(18, 30, 'center') + item('two', -1, 60, 100, 142));
    expect(first).toMatchObject({ record: { in: 86_400, out: 86_424 }, source: { in: 1000, out: 1024 } });
    expect(second).toMatchObject({
      record: { in: 86_424, out: 86_460 },
      source: { in: 1106, out: 1142 },
      transitionIn: { before: 6, duration: 12, from: 'previous' },
    });
  });
  it('starting at the cut', () => {
    const [first, second] = events(item('one', 0, -1, 0, 30, file('f1', 1000)) + join(18, 30, 'start') + item('two', -1, 60, 100, 142));
    expect(first?.record.out).toBe(86_418);
    expect(second).toMatchObject({ record: { in: 86_418, out: 86_460 }, source: { in: 1100 }, transitionIn: { before: 0, duration: 12 } });
  });
  it('out of black at the head, and into it at the tail', () => {
    const found = events(join(0, 12, 'start-black') + item('one', -1, -1, 0, 48, file('f1', 1000)) + join(36, 48, 'end-black'));
    expect(found.map((e) => [e.kind, e.transitionIn?.from, e.record])).toEqual([
      ['clip', 'black', { in: 86_400, out: 86_436 }],
      ['black', 'previous', { in: 86_436, out: 86_448 }],
    ]);
  });
});

it('a fade to black comes back as it was', () => {
  const black = event('V1/2', 20, 12, 0, { kind: 'black', reel: 'BL', clipName: '', fileName: '', transitionIn: dissolve(12), number: '' });
  const made = list([event('V1/1', 0, 20, 100, { number: '' }), black]);
  expect(content(readXmeml(writeXmeml(made))).tracks).toEqual(content(made).tracks);
});

it('several sequences: the first is read, the others are named', () => {
  const found = readXmeml(document(sequence(item('one', 0, 24, 0, 24, file('f1', 0)), 'A'), sequence('', 'B')));
  expect(found.title).toBe('A');
  expect(found.notices).toMatchObject([{ code: 'several-sequences', message: expect.stringContaining('"B"') }]);
});

describe('hostile XML', () => {
  it('never expands entities it declares, and fetches nothing', () => {
    const bomb = `<?xml version="1.0"?><!DOCTYPE xmeml [<!ENTITY a "aaaaaaaaaa"><!ENTITY b "&a;&a;&a;&a;&a;&a;&a;&a;"><!ENTITY x SYSTEM "file:///etc/passwd">]><xmeml version="5">${sequence(item('&b;&x;', 0, 24, 0, 24, file('f1', 0)))}</xmeml>`;
    expect(readXmeml(bomb).tracks[0]?.events[0]?.clipName).toBe('&b;&x;');
  });
  it('reads the five entities and character numbers', () => {
    expect(events(item('a &amp; b &#252; &#x1F300;', 0, 24, 0, 24, file('f1', 0)))[0]?.clipName).toBe('a & b ü 🌀');
  });
  it('never throws, whatever is cut off or changed', () => {
    const whole = document(sequence(item('one', 0, 24, 10, 34, file('f1', 1000)) + item('two', 24, 48, 50, 74)));
    for (let i = 0; i < whole.length; i += 3) {
      expect(readXmeml(whole.slice(0, i)).format).toBe('xmeml');
      expect(readXmeml(`${whole.slice(0, i)}<${whole.slice(i + 1)}`).format).toBe('xmeml');
    }
    fc.assert(fc.property(fc.string(), (s) => readXmeml(`<xmeml>${s}</xmeml>`).format === 'xmeml'));
  });
});

/** What this format has no place for is not asked back. */
const carried = (made: ReturnType<typeof listOf>) => {
  const { tracks, ...rest } = content(made);
  return {
    ...rest,
    tracks: tracks.map((t) => ({
      ...t,
      events: t.events.map((e) => ({
        ...e,
        number: '',
        cdl: null,
        notes: [],
        retime: e.retime.kind === 'constant' ? { ...e.retime, speed: Number(e.retime.speed.toFixed(9)) } : e.retime,
        markers: e.markers.map((m) => ({ ...m, colour: null })),
      })),
    })),
  };
};

it('what was written reads back equal, but for what the format has no place for', () => {
  fc.assert(
    fc.property(fc.array(piece, { minLength: 1, maxLength: 8 }), fc.constantFrom(0 as const, 1 as const), (pieces, before) => {
      const made = listOf(
        pieces.map((p) => ({ ...p, start: p.start + 100, clipName: p.clipName.trim() })),
        before,
      );
      expect(carried(readXmeml(writeXmeml(made)))).toEqual(carried(made));
    }),
  );
});

describe('what a format cannot carry is told before it is written', () => {
  const cdl = { slope: [1, 1, 1], offset: [0, 0, 0], power: [1, 1, 1], saturation: 2 } as const;
  const made = list([
    event('V1/1', 0, 20, 0, { cdl }),
    event('V1/2', 20, 20, 0, { placement: { scale: 2, x: 0, y: 0, rotation: 0 }, transitionIn: { ...dissolve(4), type: 'key' } }),
  ]);
  const codes = (name: string) => lossesIn(made, formatOfName(name) as NonNullable<ReturnType<typeof formatOfName>>).map((n) => n.code);
  it('by format', () => {
    expect(codes('a.edl')).toEqual(['cannot-carry-placement']);
    expect(codes('a.xml')).toEqual(['cannot-carry-keys', 'cannot-carry-cdl', 'cannot-carry-numbers']);
    expect(codes('a.otio')).toEqual(['cannot-carry-placement']);
  });
});

it('a list is known by its content, not its extension', () => {
  expect(recogniseList(document(sequence('')))?.name).toBe('xmeml');
  expect(recogniseList('{"OTIO_SCHEMA": "Timeline.1"}')?.name).toBe('otio');
  expect(recogniseList('TITLE: X\n')?.name).toBe('edl');
  expect(recogniseList('Dear editor')).toBeNull();
});
