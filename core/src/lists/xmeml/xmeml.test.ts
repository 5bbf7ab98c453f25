import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { content, listOf, piece } from '../../../test/lists';
import { bytesOf, dissolve, event, list } from '../../../test/make';
import { frameAt, runOf } from '../../conform';
import { FILLING } from '../../edit';
import { decimalOf, fractionOf, RATES } from '../../time';
import { lossesIn } from '../losses';
import { readOtio, writeOtio } from '../otio';
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
      retime: { kind: 'constant', speed: fractionOf(-2) },
      source: { in: 0, out: 48 },
      placement: { scaleX: 1.25, scaleY: 1.25, x: 0.06, y: -0.05, rotation: 0 },
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

it('several sequences: the first is read unless another is asked for, and all are named', () => {
  const text = document(sequence(item('one', 0, 24, 0, 24, file('f1', 0)), 'A'), sequence('', 'B'));
  const found = readXmeml(text);
  expect(found.title).toBe('A');
  expect(found.sequences.map((s) => [s.name, s.events])).toEqual([
    ['A', 1],
    ['B', 0],
  ]);
  expect(found.notices).toMatchObject([{ code: 'several-sequences', message: expect.stringContaining('"B"') }]);
  expect(readXmeml(text, { sequence: 1 }).title).toBe('B');
});

describe('a speed with keys', () => {
  const graph = (...keys: [number, number][]) =>
    `<filter><effect><effectid>timeremap</effectid><parameter><parameterid>variablespeed</parameterid><value>1</value></parameter><parameter><parameterid>graphdict</parameterid>${keys.map(([when, value]) => `<keyframe><when>${when}</when><value>${value}</value></keyframe>`).join('')}</parameter></effect></filter>`;
  const [found] = events(item('one', 0, 48, 0, 48, file('f1', 1000) + graph([0, 10], [24, 34], [48, 106])));
  it('runs evenly between its keys: natural for a second, then three times as fast', () => {
    expect(found).toMatchObject({ source: { in: 1010, out: 1106 }, retime: { kind: 'keyed' } });
    const at = (n: number) => (found ? found.source.in + frameAt(runOf(found, RATES['24']), n) : null);
    expect([0, 1, 23, 24, 25, 47].map(at)).toEqual([1010, 1011, 1033, 1034, 1037, 1103]);
  });
  it('comes back as it was, also where a transition begins ahead of the cut', () => {
    const keyed = event('V1/2', 24, 48, 1010, {
      number: '',
      source: { in: 1010, out: 1106 },
      transitionIn: { ...dissolve(8), before: 4 },
      retime: {
        kind: 'keyed',
        keys: [
          { record: 0, source: 0 },
          { record: 24, source: 24 },
          { record: 48, source: 96 },
        ],
      },
    });
    const made = list([event('V1/1', 0, 24, 0, { number: '' }), keyed]);
    expect(content(readXmeml(writeXmeml(made))).tracks).toEqual(content(made).tracks);
    expect(content(readOtio(writeOtio(made))).tracks).toEqual(content(made).tracks);
  });
});

describe('in and out under a speed', () => {
  const speed = (percent: number) =>
    `<filter><effect><effectid>timeremap</effectid><parameter><parameterid>speed</parameterid><value>${percent}</value></parameter></effect></filter>`;
  it('count frames of the item where they are as far apart as start and end, else frames of the file', () => {
    const [retimed] = events(item('one', 0, 24, 10, 34, file('f1', 1000) + speed(200)));
    const [plain] = events(item('one', 0, 24, 20, 68, file('f1', 1000) + speed(200)));
    expect([retimed?.source, plain?.source]).toEqual([
      { in: 1020, out: 1068 },
      { in: 1020, out: 1068 },
    ]);
  });
});

describe('size', () => {
  const parameter = (id: string, value: number) => `<parameter><parameterid>${id}</parameterid><value>${value}</value></parameter>`;
  const filter = (id: string, ...inside: string[]) => `<filter><effect><effectid>${id}</effectid>${inside.join('')}</effect></filter>`;
  const characteristics = (width: number, height: number, more = '') =>
    `<samplecharacteristics><width>${width}</width><height>${height}</height>${more}</samplecharacteristics>`;
  const framed = (track: string) =>
    document(
      sequence(track).replace(
        '<video>',
        `<video><format>${characteristics(1920, 1080, '<pixelaspectratio>square</pixelaspectratio><fielddominance>upper</fielddominance>')}</format>`,
      ),
    );
  const large = file('f1', 0).replace('</file>', `<media><video>${characteristics(3840, 2160)}</video></media></file>`);
  const placement = (more: string) => readXmeml(framed(item('one', 0, 24, 0, 24, large + more))).tracks[0]?.events[0]?.placement;
  it('of 50 percent makes a picture of twice the raster fill the frame', () => {
    expect(placement(filter('basic', parameter('scale', 50)))).toBeNull();
    expect(placement(filter('basic', parameter('scale', 100)))).toEqual({ ...FILLING, scaleX: 2, scaleY: 2 });
  });
  it('is read with crop and opacity, in percent', () => {
    expect(placement(filter('crop', parameter('left', 10), parameter('bottom', 5)) + filter('opacity', parameter('opacity', 40)))).toEqual({
      ...FILLING,
      crop: { left: 0.1, right: 0, top: 0, bottom: 0.05 },
      opacity: 0.4,
    });
  });
  it('of the cut itself is stated: raster, pixel aspect, field order; a person may set another raster', () => {
    const text = framed(item('one', 0, 24, 0, 24, large));
    expect(readXmeml(text).framing).toEqual({ raster: { width: 1920, height: 1080 }, pixelAspect: 1, fields: 'upper-first' });
    expect(readXmeml(text, { raster: { width: 3840, height: 2160 } }).framing?.raster).toEqual({ width: 3840, height: 2160 });
    expect(readXmeml(writeXmeml(readXmeml(text))).framing).toEqual(readXmeml(text).framing);
  });
  it('goes out and comes back whole', () => {
    const crop = { left: 0.1, right: 0.2, top: 0, bottom: 0.25 };
    const made = list([
      event('V1/1', 0, 20, 0, {
        number: '',
        placement: { ...FILLING, scaleX: 1.5, scaleY: 1.5, x: 0.1, y: -0.2, rotation: 12, crop, opacity: 0.5 },
      }),
    ]);
    expect(content(readXmeml(writeXmeml(made))).tracks).toEqual(content(made).tracks);
  });
  it('that moves on the way is kept with its keys, and comes back the same', () => {
    const key = (when: number, value: number) => `<keyframe><when>${when}</when><value>${value}</value></keyframe>`;
    const moving = filter('basic', `<parameter><parameterid>scale</parameterid>${key(0, 120)}${key(20, 140)}</parameter>`);
    const found = read(item('one', 0, 24, 0, 24, file('f1', 0) + moving));
    const keys = found.tracks[0]?.events[0]?.placement?.keys.map((k) => [k.record, k.scaleX]);
    expect(keys).toEqual([
      [0, 1.2],
      [20, 1.4],
    ]);
    expect(found.notices).toEqual([]);
    expect(content(readXmeml(writeXmeml(found))).tracks).toEqual(content(found).tracks);
    const curved = readXmeml(
      document(
        sequence(
          item('one', 0, 24, 0, 24, file('f1', 0) + moving.replace('</when>', '</when><interpolation><name>bezier</name></interpolation>')),
        ),
      ),
    );
    expect(curved.notices).toMatchObject([{ severity: 'changed', code: 'curved-motion', event: 'V1/1' }]);
  });
});

describe('what belongs together', () => {
  const link = (id: string) => `<link><linkclipref>${id}</linkclipref></link>`;
  it('picture and sound are linked by event, and are again when written', () => {
    const text = document(
      sequence(item('p', 0, 24, 0, 24, file('f1', 0) + link('p') + link('s'))).replace(
        '</media></sequence>',
        `<audio><track>${item('s', 0, 24, 0, 24, `<file id="f1"/>${link('p')}${link('s')}`)}</track></audio></media></sequence>`,
      ),
    );
    const links = (found: ReturnType<typeof readXmeml>) => found.tracks.map((t) => t.events.map((e) => [e.key, ...e.linked]));
    expect(links(readXmeml(text))).toEqual([[['V1/1', 'A1/1']], [['A1/1', 'V1/1']]]);
    expect(links(readXmeml(writeXmeml(readXmeml(text))))).toEqual(links(readXmeml(text)));
  });
  it('a clip that names only its master clip takes the file from there', () => {
    const master = `<clip id="m1"><name>master</name>${file('f1', 500)}</clip>`;
    const found = readXmeml(document(`${master}${sequence(item('one', 0, 24, 0, 24, '<masterclipid>m1</masterclipid>'))}`));
    expect(found.tracks[0]?.events[0]).toMatchObject({ reel: 'A001', source: { in: 500, out: 524 } });
  });
  it('a nested sequence is opened, by its id too, with the layers it has', () => {
    const inner = sequence(`${item('x', 0, 30, 0, 30, file('f1', 1000))}${item('y', 30, 60, 0, 30)}`, 'INSERT').replace(
      '<sequence>',
      '<sequence id="n1">',
    );
    const found = readXmeml(
      document(sequence(item('INSERT', 0, 40, 10, 50, inner) + item('INSERT', 40, 50, 0, 10, '<sequence id="n1"/>'))),
    );
    expect(found.tracks[0]?.events.map((e) => [e.key, e.clipName, e.record.in - 86_400, e.source.in])).toEqual([
      ['V1/1', 'x', 0, 1010],
      ['V1/2', 'y', 20, 1000],
      ['V1/3', 'x', 40, 1000],
    ]);
    expect(found.notices.map((n) => [n.code, n.event])).toEqual([
      ['nested-opened', 'V1/1'],
      ['nested-opened', 'V1/3'],
    ]);
  });
});

it('a sequence read at another rate keeps its counts and its first label', () => {
  const found = readXmeml(document(sequence(item('one', 0, 24, 10, 34, file('f1', 1000)))), { rate: RATES['25'] });
  expect(found).toMatchObject({
    rate: RATES['25'],
    // The file begins at 00:00:41:16, frame 1000 of 24 and 1041 of 25; ten frames on from there.
    tracks: [{ events: [{ record: { in: 90_000, out: 90_024 }, source: { in: 1051, out: 1075 }, sourceRate: RATES['25'] }] }],
  });
});

describe('places in the file', () => {
  it('every event knows its line', () => {
    const text = document(sequence(item('one', 0, 24, 0, 24, file('f1', 0)) + item('two', 24, 48, 0, 24))).replaceAll(
      '<clipitem',
      '\n<clipitem',
    );
    expect(readXmeml(text).tracks[0]?.events.map((e) => e.line)).toEqual([2, 3]);
  });
  it('a file that is not whole says which line is at fault', () => {
    const text = document(sequence(item('one', 0, 24, 0, 24, file('f1', 0)))).replaceAll('<clipitem', '\n<clipitem');
    expect(readXmeml(text.replace('</clipitem>', '')).notices).toMatchObject([{ severity: 'unreadable', place: { line: 2 } }]);
  });
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
const carried = (made: ReturnType<typeof listOf>, partFrames = false) => {
  const { tracks, ...rest } = content(made);
  return {
    ...rest,
    tracks: tracks.map((t) => ({
      ...t,
      events: t.events.map((e) => ({
        ...e,
        file: null,
        number: '',
        cdl: null,
        notes: [],
        retime: e.retime.kind === 'constant' ? { ...e.retime, speed: Number(decimalOf(e.retime.speed).toFixed(9)) } : e.retime,
        markers: e.markers.map((m) => ({ ...m, colour: null })),
        // Where it was told that a source begins on a part of a frame, that part is rounded.
        ...(partFrames ? { source: null, phase: null } : {}),
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
      const told = lossesIn(made, formatOfName('a.xml') as NonNullable<ReturnType<typeof formatOfName>>).some(
        (n) => n.code === 'cannot-carry-part-frames',
      );
      expect(carried(readXmeml(writeXmeml(made)), told)).toEqual(carried(made, told));
    }),
  );
});

describe('what a format cannot carry is told before it is written', () => {
  const cdl = { slope: [1, 1, 1], offset: [0, 0, 0], power: [1, 1, 1], saturation: 2 } as const;
  const made = list([
    event('V1/1', 0, 20, 0, { cdl }),
    event('V1/2', 20, 20, 0, { placement: { ...FILLING, scaleX: 2, scaleY: 2 }, transitionIn: { ...dissolve(4), type: 'key' } }),
  ]);
  const codes = (name: string) => lossesIn(made, formatOfName(name) as NonNullable<ReturnType<typeof formatOfName>>).map((n) => n.code);
  it('by format', () => {
    expect(codes('a.edl')).toEqual(['cannot-carry-placement']);
    expect(codes('a.xml')).toEqual(['cannot-carry-keys', 'cannot-carry-cdl']);
    expect(codes('a.otio')).toEqual([]);
  });
});

it('a list is known by its content, not its extension', () => {
  expect(recogniseList(bytesOf(document(sequence(''))))?.name).toBe('xmeml');
  expect(recogniseList(bytesOf('{"OTIO_SCHEMA": "Timeline.1"}'))?.name).toBe('otio');
  expect(recogniseList(bytesOf('TITLE: X\n'))?.name).toBe('edl');
  expect(recogniseList(bytesOf('Dear editor'))).toBeNull();
});
