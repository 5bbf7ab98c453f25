import { describe, expect, it } from 'vitest';
import { bytesOf } from '../../../test/make';
import { frameAt, runOf } from '../../conform';
import { formatTimecode, RATES, type Rate } from '../../time';
import { formatOfName } from '../registry';
import { readXmeml, writeXmeml } from '.';

/**
 * `start` and `end` count at the sequence's rate, `in` and `out` at the clip item's, neither at the file's (the format's
 * published description, from memory): the source position is that time carried exactly to the file's rate.
 */
const rate = (base: number | string, ntsc = false) => `<rate><timebase>${base}</timebase><ntsc>${ntsc ? 'TRUE' : 'FALSE'}</ntsc></rate>`;
interface Given {
  sequence?: string;
  item?: string;
  file?: string;
  edges?: readonly [number | string, number | string];
  used?: readonly [number | string, number | string];
  more?: string;
  timecode?: string;
}
const xml = ({ sequence = rate(24), item = rate(24), file = rate(24), edges = [0, 48], used = [0, 48], more = '', timecode = '' }: Given) =>
  `<xmeml version="5"><sequence><name>CUT</name>${sequence}<media><video><track><clipitem id="c"><name>one</name>${item}<start>${edges[0]}</start><end>${edges[1]}</end><in>${used[0]}</in><out>${used[1]}</out><file id="f"><name>A001C001.mov</name>${file}${timecode}</file>${more}</clipitem></track></video></media></sequence></xmeml>`;
const read = (given: Given) => {
  const list = readXmeml(xml(given));
  const event = list.tracks[0]?.events[0];
  return { list, event, codes: list.notices.map((n) => n.code) };
};
const label = (at: number | undefined, r: Rate) => formatTimecode(at ?? -1, r);

describe('a source is counted at the rate of its file', () => {
  it('frame 1000 of an item at 24 is 00:00:41:16 of a file at 25', () => {
    const { event, codes } = read({ file: rate(25), used: [1000, 1048] });
    expect(label(event?.source.in, RATES['25'])).toBe('00:00:41:16');
    expect(event?.sourceRate).toEqual(RATES['25']);
    expect(codes).toEqual(['rates-carried']);
  });
  it('and every frame after it by the same time, floored once', () => {
    const { list, event } = read({ file: rate(25), used: [1000, 1048] });
    if (!event) throw new Error('no event');
    const run = runOf(event, list.rate);
    const shown = Array.from({ length: 48 }, (_, n) => event.source.in + frameAt(run, n));
    // Two seconds of 24 pass over two frames of 25, each where a whole second is full (worked by hand: 1008 / 24 s is frame 1050).
    const passed = [1049, 1074];
    expect(shown).toEqual(Array.from({ length: 50 }, (_, i) => 1041 + i).filter((frame) => !passed.includes(frame)));
  });
  it('a clip of 29.97 in a cut of 23.976 keeps its place', () => {
    // 30 000 frames of 29.97 are 1001 seconds, and so are 24 000 of 23.976.
    const { event } = read({ sequence: rate(24, true), item: rate(24, true), file: rate(30, true), used: [24_000, 24_048] });
    expect(event?.source).toEqual({ in: 30_000, out: 30_060 });
  });
  it('120 frames of 59.94 over 48 of 23.976 are 120 frames of source', () => {
    const fast = rate(60, true);
    const { event, codes } = read({ sequence: rate(24, true), item: fast, file: fast, used: [600, 720] });
    expect(event?.source).toEqual({ in: 600, out: 720 });
    expect(codes).toEqual(['rates-carried']);
  });
  it('its timecode may be counted slower than its frames: the label stays', () => {
    const timecode = `<timecode>${rate(25)}<frame>90000</frame></timecode>`;
    const { event } = read({ sequence: rate(25), item: rate(25), file: rate(50), used: [10, 58], timecode });
    expect(label(event?.source.in, RATES['50'])).toBe('01:00:00:20');
  });
  it('stated a second time in ticks it is checked, and what disagrees is told', () => {
    // 254 016 000 000 ticks a second.
    const ticks = (seconds: number) => `<systemTicksIn>${seconds * 254_016_000_000}</systemTicksIn>`;
    expect(read({ used: [240, 288], more: ticks(10) }).codes).toEqual([]);
    const wrong = read({ used: [240, 288], more: ticks(9.6) });
    expect([wrong.codes, wrong.event?.source.in]).toEqual([['positions-disagree'], 240]);
  });
  it('is told where it is longer than its record without a speed', () => {
    expect(read({ used: [0, 96] }).codes).toEqual(['length-differs']);
    expect(read({ used: [0, 49] }).codes).toEqual([]);
  });
});

it('read at another rate, all that counts as the cut does is read so: every count and the label of each file stay', () => {
  const text = xml({ used: [10, 58], timecode: `<timecode>${rate(24)}<frame>86400</frame></timecode>` });
  const list = readXmeml(text, { rate: RATES['25'] });
  const [event] = list.tracks[0]?.events ?? [];
  expect(list.notices).toEqual([]);
  expect([event?.sourceRate, event?.record, label(event?.source.in, RATES['25'])]).toEqual([
    RATES['25'],
    { in: 0, out: 48 },
    '01:00:00:10',
  ]);
});

describe('numbers are numbers', () => {
  it('with a point too', () => {
    const { event, list } = read({
      sequence: rate('25.0'),
      item: rate('25.0'),
      file: rate('25.0'),
      edges: ['0.0', '48.0'],
      used: ['0.0', '48.'],
    });
    expect([list.rate, event?.source, event?.record]).toEqual([RATES['25'], { in: 0, out: 48 }, { in: 0, out: 48 }]);
  });
  it('a timebase of 29.97 is that rate', () => {
    expect(read({ sequence: rate('29.97') }).list.rate).toEqual(RATES['29.97']);
  });
});

describe('a sequence without a rate', () => {
  it('takes that of its clips, and says so', () => {
    const { list, codes } = read({ sequence: '', item: rate(25), file: rate(25) });
    expect([list.rate, codes]).toEqual([RATES['25'], ['rate-assumed']]);
  });
});

describe('stills', () => {
  it('hold the frame they name, whatever their length', () => {
    const { event } = read({ used: [100, 148], more: '<stillframe>TRUE</stillframe><stillframeoffset>30</stillframeoffset>' });
    expect([event?.retime.kind, event?.source]).toEqual(['freeze', { in: 30, out: 31 }]);
  });
  it('are files of a single frame', () => {
    const { event } = read({ used: [86_400, 86_448], timecode: '<duration>1</duration><media><video/></media>' });
    expect([event?.retime.kind, event?.source]).toEqual(['freeze', { in: 0, out: 1 }]);
  });
});

it('of a clip with several angles the active one is read, and the others are told', () => {
  const angle = (name: string, on: boolean) =>
    `<angle>${on ? '<activevideoangle>TRUE</activevideoangle>' : ''}<clip><name>${name}</name><file id="${name}"><name>${name}.mov</name></file></clip></angle>`;
  const list = readXmeml(xml({ more: `<multiclip>${angle('A', false)}${angle('B', true)}</multiclip>` }));
  expect(list.tracks[0]?.events[0]?.fileName).toBe('B.mov');
  expect(list.notices).toMatchObject([{ severity: 'changed', code: 'several-angles', event: 'V1/1' }]);
});

describe('nested cuts', () => {
  const nest = (id: string) =>
    `<clipitem><name>${id}</name><start>0</start><end>48</end><in>0</in><out>48</out><sequence id="${id}"/></clipitem>`;
  const sequence = (id: string, track: string) =>
    `<sequence id="${id}"><name>${id}</name>${rate(24)}<media><video><track>${track}</track></video></media></sequence>`;
  it('that show themselves stay closed, and say so', () => {
    const list = readXmeml(`<xmeml version="5">${sequence('s', nest('s'))}</xmeml>`);
    expect(list.notices.map((n) => [n.severity, n.code])).toContainEqual(['lost', 'nested-circle']);
  });
  it('of many levels of many items are opened so far and no further', () => {
    const level = (n: number) => sequence(`s${n}`, n === 14 ? '' : nest(`s${n + 1}`).repeat(10));
    const levels = Array.from({ length: 15 }, (_, n) => level(n)).join('');
    const list = readXmeml(`<xmeml version="5">${levels}</xmeml>`);
    expect(list.notices.some((n) => n.code === 'nested-too-many' || /nested-too-many/.test(n.code))).toBe(true);
  });
  it('counted at another rate than the cut stay closed', () => {
    const inner = sequence('s', '').replace('<track></track>', `<track>${nest('none').replace('<sequence id="none"/>', '')}</track>`);
    const outer = sequence(
      'o',
      `<clipitem><name>s</name>${rate(24)}<start>0</start><end>48</end><in>0</in><out>48</out>${inner.replace('<timebase>24', '<timebase>25')}</clipitem>`,
    );
    expect(readXmeml(`<xmeml version="5">${outer}</xmeml>`).notices.map((n) => n.code)).toContain('nested');
    expect(readXmeml(`<xmeml version="5">${outer.replace('<timebase>25', '<timebase>24')}</xmeml>`).notices.map((n) => n.code)).toContain(
      'nested-opened',
    );
  });
});

it('an empty stretch at the head keeps the label the cut begins with', () => {
  const timecode = `<timecode>${rate(24)}<frame>86400</frame><displayformat>NDF</displayformat></timecode>`;
  const text = xml({ edges: [48, 96] }).replace('<media><video><track>', `${timecode}<media><video><track>`);
  const list = readXmeml(text);
  expect([list.start, list.tracks[0]?.events[0]?.record.in]).toEqual([86_400, 86_448]);
  const again = readXmeml(writeXmeml(list));
  expect([again.start, again.tracks[0]?.events[0]?.record.in]).toEqual([86_400, 86_448]);
});

describe('what holds no event is never called clean', () => {
  const codesOf = (text: string, name: string) =>
    formatOfName(name)
      ?.read(bytesOf(text))
      .notices.map((n) => `${n.severity} ${n.code}`);
  it('in any format', () => {
    expect(codesOf('<xmeml version="5"><sequence><name>X</name></sequence></xmeml>', 'a.xml')).toContain('lost empty');
    expect(codesOf('TITLE: X\nFCM: NON-DROP FRAME\n', 'a.edl')).toContain('lost empty');
    expect(codesOf('{"OTIO_SCHEMA":"Timeline.1","tracks":{"OTIO_SCHEMA":"Stack.1","children":[]}}', 'a.otio')).toContain('lost empty');
    expect(codesOf('Reel,Source in,Source out\n', 'a.csv')).toContain('lost empty');
  });
  it('nor where all that it held fell out', () => {
    expect(codesOf(xml({ used: [48, 0] }), 'a.xml')).toEqual(['unreadable broken-item', 'lost empty']);
  });
});
