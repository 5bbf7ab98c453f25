import { describe, expect, it } from 'vitest';
import { formatTimecode, RATES, type Rate } from '../../time';
import { lossesIn } from '../losses';
import { formatOfName, type ListFormat } from '../registry';
import { readXmeml, writeXmeml } from '.';

/** What systems in use write beyond the plainest form (common practice; the format's published description, from memory). */
const rate = (base: number, ntsc = false) => `<rate><timebase>${base}</timebase><ntsc>${ntsc ? 'TRUE' : 'FALSE'}</ntsc></rate>`;
const media = (track: string, sound = '') => `<media><video>${track}</video><audio>${sound}</audio></media>`;
const sequence = (inside: string, own = rate(24), timecode = '') =>
  `<xmeml version="5"><sequence><name>CUT</name>${own}${timecode}${inside}</sequence></xmeml>`;
const file = (id: string, start: number, more = '') =>
  `<file id="${id}"><name>${id}.mov</name><pathurl>file:///cards/${id}.mov</pathurl>${rate(24)}${more}<timecode>${rate(24)}<frame>${start}</frame><displayformat>NDF</displayformat></timecode></file>`;
const item = (id: string, [start, end]: [number, number], [from, to]: [number, number], more = file(id, 1000)) =>
  `<clipitem id="${id}"><name>${id}</name>${rate(24)}<start>${start}</start><end>${end}</end><in>${from}</in><out>${to}</out>${more}</clipitem>`;
const join = (start: number, end: number, effect: string, alignment = 'center') =>
  `<transitionitem><start>${start}</start><end>${end}</end><alignment>${alignment}</alignment><effect>${effect}</effect></transitionitem>`;
const picture = (text: string) => readXmeml(text).tracks.filter((t) => t.kind === 'picture');
const codes = (text: string) => readXmeml(text).notices.map((n) => n.code);
const format = (name: string) => formatOfName(name) as ListFormat;

describe('the timecode of a sequence', () => {
  const clip = media(`<track>${item('one', [0, 24], [0, 24])}</track>`);
  const start = (own: string, timecode: string, at: Rate) => {
    const list = readXmeml(sequence(clip, own, `<timecode>${timecode}</timecode>`));
    return [
      list.rate,
      formatTimecode(list.start ?? -1, list.rate),
      list.rate.num === at.num,
      list.notices.some((n) => n.code === 'labels-disagree'),
    ];
  };
  it('that counts at a rate of its own keeps its label: 50 counted as 25, 59.94 as drop-frame at 29.97', () => {
    expect(start(rate(50), `${rate(25)}<frame>90000</frame><displayformat>NDF</displayformat>`, RATES['50'])).toEqual([
      RATES['50'],
      '01:00:00:00',
      true,
      false,
    ]);
    // 107 892 frames are an hour of drop-frame at 29.97 (SMPTE ST 12-1).
    expect(start(rate(60, true), `${rate(30, true)}<frame>107892</frame><displayformat>DF</displayformat>`, RATES['59.94df'])).toEqual([
      RATES['59.94df'],
      '01:00:00;00',
      true,
      false,
    ]);
  });
  it('may count at the rate of the sequence in spite of its own: its text decides', () => {
    expect(start(rate(50), `${rate(25)}<string>01:00:00:00</string><frame>180000</frame>`, RATES['50'])).toEqual([
      RATES['50'],
      '01:00:00:00',
      true,
      false,
    ]);
  });
  it('counts drop-frame where only its text says so, by a semicolon', () => {
    expect(start(rate(30, true), `${rate(30, true)}<string>01:00:00;00</string>`, RATES['29.97df'])).toEqual([
      RATES['29.97df'],
      '01:00:00;00',
      true,
      false,
    ]);
  });
  it('that says two things is told, and the count is taken', () => {
    expect(start(rate(24), `${rate(24)}<string>02:00:00:00</string><frame>86400</frame>`, RATES['24'])).toEqual([
      RATES['24'],
      '01:00:00:00',
      true,
      true,
    ]);
  });
});

describe('the file of an item', () => {
  const stated = `<duration>2400</duration>`;
  const raster = '<media><video><samplecharacteristics><width>3840</width><height>2160</height></samplecharacteristics></video></media>';
  const text = sequence(
    media(
      `<track>${item('a', [0, 24], [100, 124], file('a', 86_400, stated + raster))}${item('b', [24, 48], [300, 324], '<file id="a"/>')}</track>`,
    ),
  );
  it('keeps its start, length and raster on the way out, and is described once', () => {
    const list = readXmeml(text);
    expect(list.tracks[0]?.events.map((e) => [e.source.in, e.file])).toEqual(
      [86_500, 86_700].map((first) => [first, { first: 86_400, frames: 2400, raster: { width: 3840, height: 2160 } }]),
    );
    const written = writeXmeml(list);
    expect(written.match(/<file id="[^"]*">/g)).toHaveLength(1);
    expect(written.match(/<file [^>]*\/>/g)).toHaveLength(1);
    expect(written).toContain('<duration>2400</duration>');
    expect(written).toContain('<width>3840</width>');
    expect([...written.matchAll(/<in>(\d+)<\/in>/g)].map((m) => Number(m[1]))).toEqual([100, 300]);
    expect(readXmeml(written).tracks).toMatchObject(
      list.tracks.map((t) => ({ events: t.events.map(({ source, file: f }) => ({ source, file: f })) })),
    );
  });
  it('whose text names another frame than its count is told', () => {
    const odd = file('a', 1000).replace('<frame>', '<string>00:00:40:00</string><frame>');
    expect(codes(sequence(media(`<track>${item('a', [0, 24], [0, 24], odd)}</track>`)))).toContain('labels-disagree');
  });
  it('of a subclip is counted from where that begins in it', () => {
    const sub = `<subclipinfo><startoffset>240</startoffset><endoffset>0</endoffset></subclipinfo>${file('a', 1000)}`;
    expect(picture(sequence(media(`<track>${item('a', [0, 24], [10, 34], sub)}</track>`)))[0]?.events[0]?.source).toEqual({
      in: 1250,
      out: 1274,
    });
  });
});

describe('a transition between items that state their edges as numbers', () => {
  const dissolve = '<name>Cross Dissolve</name><effectid>Cross Dissolve</effectid><wipecode>0</wipecode>';
  it.each([
    ['both at the cut', 24, 24],
    ['both drawn out over it', 30, 18],
    ['the first at -1', -1, 24],
    ['the second at -1', 24, -1],
  ])('is a dissolve, and not black: %s', (_, end, start) => {
    const out = end === -1 ? 30 : end;
    const into = start === -1 ? 18 : start;
    const text = sequence(
      media(`<track>${item('a', [0, end], [0, out])}${join(18, 30, dissolve)}${item('b', [start, 60], [into + 100, 160])}</track>`),
    );
    const events = picture(text)[0]?.events ?? [];
    const cut = start === 18 ? 18 : 24;
    expect(events.map((e) => [e.kind, e.record.in, e.record.out, e.source.in])).toEqual([
      ['clip', 0, cut, 1000],
      ['clip', cut, 60, 1000 + cut + 100],
    ]);
    expect(events[1]?.transitionIn).toMatchObject({ type: 'dissolve', before: cut - 18, duration: 12, from: 'previous' });
  });
  it.each([
    ['an iris', '<name>Oval Iris</name><effectcategory>Iris</effectcategory><wipecode>119</wipecode>', 'wipe', '119'],
    ['a push', '<name>Push</name><effectcategory>Slide</effectcategory><wipecode>23</wipecode>', 'wipe', '023'],
    ['an edge wipe', '<name>Edge Wipe</name><effectcategory>Wipe</effectcategory><wipecode>1</wipecode>', 'wipe', '001'],
    ['a dissolve', '<name>Cross Dissolve</name><effectcategory>Dissolve</effectcategory><wipecode>0</wipecode>', 'dissolve', null],
  ])('is told by its code and not by its name: %s', (_, effect, type, wipeCode) => {
    const text = sequence(media(`<track>${item('a', [0, -1], [0, 30])}${join(18, 30, effect)}${item('b', [-1, 60], [100, 142])}</track>`));
    expect(picture(text)[0]?.events[1]?.transitionIn).toMatchObject({ type, wipeCode });
  });
  it('that is called a wipe and has no code is told', () => {
    const text = sequence(
      media(`<track>${item('a', [0, -1], [0, 30])}${join(18, 30, '<name>Wipe</name>')}${item('b', [-1, 60], [100, 142])}</track>`),
    );
    expect(codes(text)).toContain('no-wipe-code');
  });
});

describe('a title', () => {
  const words = '<parameter><parameterid>str</parameterid><name>Text</name><value>THE SALT\nYEAR</value></parameter>';
  const size = '<parameter><parameterid>fontsize</parameterid><name>Size</name><value>48</value></parameter>';
  const title = `<generatoritem id="t"><name>Text</name>${rate(24)}<start>0</start><end>24</end><in>0</in><out>24</out><effect><name>Text</name><effectid>Text</effectid><effectcategory>Text</effectcategory><effecttype>generator</effecttype>${words}${size}</effect></generatoritem>`;
  const list = readXmeml(sequence(media(`<track>${title}</track>`)));
  it('has its own words, beside its name', () => {
    expect(list.tracks[0]?.events[0]).toMatchObject({ kind: 'title', clipName: 'Text', notes: ['Text: THE SALT / YEAR'] });
  });
  it('goes out as it came in the same format, and with its words in another', () => {
    expect(writeXmeml(list)).toContain('<value>THE SALT\nYEAR</value>');
    expect(writeXmeml(list)).toContain('<value>48</value>');
    expect(writeXmeml({ ...list, format: 'otio' })).toContain('<value>THE SALT / YEAR</value>');
    expect(readXmeml(writeXmeml({ ...list, format: 'otio' })).tracks[0]?.events[0]?.notes).toEqual(['Text: THE SALT / YEAR']);
    expect(new TextDecoder().decode(format('a.edl').write(list))).toContain('Text: THE SALT / YEAR');
  });
});

describe('a filter that no conform carries', () => {
  const filter =
    '<filter><enabled>TRUE</enabled><effect><name>Haze</name><effectid>haze</effectid><effecttype>filter</effecttype><parameter><parameterid>amount</parameterid><value>7 &lt; 8</value></parameter></effect></filter>';
  const level = '<filter><effect><name>Gain</name><effectid>gain</effectid><effecttype>audio</effecttype></effect></filter>';
  const text = sequence(
    media(
      `<track>${item('a', [0, 24], [0, 24], file('a', 1000) + filter)}</track>`,
      `<track>${item('s', [0, 24], [0, 24], file('s', 1000) + level)}</track>`,
    ),
  );
  const list = readXmeml(text);
  it('goes out unchanged in the same format', () => {
    const written = writeXmeml(list);
    expect(written).toContain(filter);
    expect(written).toContain(level);
    expect(lossesIn(list, format('a.xml')).map((n) => n.code)).not.toContain('cannot-carry-effects');
  });
  it.each(['a.edl', 'a.otio', 'a.csv', 'a.aaf'])('is told by name in %s', (name) => {
    const said = lossesIn(list, format(name)).find((n) => n.code === 'cannot-carry-effects');
    expect([said?.severity, said?.message]).toEqual(['lost', expect.stringContaining('"Haze" on 1 event, "Gain" on 1 event')]);
  });
});

it('an empty track keeps its number', () => {
  const text = sequence(media(`<track></track><track>${item('a', [0, 24], [0, 24])}</track>`));
  expect(readXmeml(text).tracks.map((t) => [t.name, t.events.length])).toEqual([
    ['V1', 0],
    ['V2', 1],
  ]);
  expect(readXmeml(writeXmeml(readXmeml(text))).tracks.map((t) => t.name)).toEqual(['V1', 'V2']);
});

it.each(['a.edl', 'a.csv'])('what is switched off does not come alive in %s: it is left out and told', (name) => {
  const off = item('b', [24, 48], [0, 24], `<enabled>FALSE</enabled>${file('b', 1000)}`);
  const list = readXmeml(sequence(media(`<track>${item('a', [0, 24], [0, 24])}${off}</track>`)));
  const back = format(name).read(format(name).write(list), { rate: RATES['24'] });
  expect(back.tracks.flatMap((t) => t.events.map((e) => e.clipName))).toEqual(['a']);
  expect(lossesIn(list, format(name)).filter((n) => n.code === 'cannot-carry-switched-off')).toHaveLength(1);
});
