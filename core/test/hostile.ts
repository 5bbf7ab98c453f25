import { strToU8, zipSync } from 'fflate';

/** Files made to take a reader long or fill its memory, about `size` bytes each, by the format whose reader gets them. */
export interface Hostile {
  readonly name: string;
  readonly format: 'edl' | 'xmeml' | 'otio' | 'table';
  readonly bytes: Uint8Array;
}

const EVENT = '001  A001     V     C        01:00:00:00 01:00:02:00 10:00:00:00 10:00:02:00\n';
const filled = (unit: string, size: number, before = '', after = '') =>
  before + unit.repeat(Math.max(1, Math.floor((size - before.length - after.length) / unit.length))) + after;

const edls = (size: number): Record<string, string> => ({
  'a grade of digits': filled('1', size, `${EVENT}* ASC_SOP (`),
  'a grade of brackets': filled('(', size, `${EVENT}* ASC_SOP `),
  'a grade of blanks': filled(' ', size, `${EVENT}* ASC_SOP (1 1 1)`, 'x'),
  'reels replaced again and again': filled('REEL a ', size, `${EVENT}* `),
  'replaced by blanks': filled(' ', size, `${EVENT}* REEL a`, ' REPLACED BY b c'),
  'lines of one letter': filled('a\n', size),
  'lines of one digit': filled('1\n', size),
  'comments of one letter': filled('*a\n', size, EVENT),
  'one line of blanks': filled(' ', size, EVENT, 'x'),
  'blank lines': filled('\n', size, '', 'x'),
  'a name that ends in blanks': filled(' ', size, `${EVENT}* FROM CLIP NAME: a`, 'b'),
  'headings of capitals': filled('A', size, `${EVENT}* `, ' : x'),
  'colons and no more': filled(':', size, `${EVENT}* `),
  'timecodes in one line': filled('01:00:00:00 ', size),
  'half timecodes': filled('00:', size),
  'one long reel': filled('R ', size, '001 ', ' V C 01:00:00:00 01:00:02:00 10:00:00:00 10:00:02:00'),
  'one long number': filled('0', size, '', '  A001 V C 01:00:00:00 01:00:02:00 10:00:00:00 10:00:02:00'),
  'one long channel': filled('A1', size, '001 A001 ', ' C 01:00:00:00 01:00:02:00 10:00:00:00 10:00:02:00'),
  'drop and no frame': filled(' ', size, 'FCM: DROP', 'x'),
  'speeds without events': filled('M2 A 1 01:00:00:00\n', size),
  'speeds of blanks': filled(' ', size, `${EVENT}M2 A001`, '1 x'),
  'events of no length': filled(EVENT.replace('10:00:02:00', '10:00:00:00'), size),
  'events in one place': filled(EVENT, size),
  'dissolves without end': filled(`${EVENT.replace('10:00:02:00', '10:00:00:00')}${EVENT.replace(' C   ', ' D 1')}`, size),
  markers: filled('* LOC: 01:00:00:00 RED x\n', size, EVENT),
  titles: filled('TITLE: x\n', size),
});

const document = (inside: string) =>
  `<?xml version="1.0"?><xmeml version="5"><sequence id="s"><name>x</name><rate><timebase>24</timebase></rate><media><video><track>${inside}</track></video></media></sequence></xmeml>`;
const clip = '<clipitem><name>a</name><start>0</start><end>9</end><in>0</in><out>9</out></clipitem>';
const nest = (id: string) => `<clipitem><name>n</name><start>0</start><end>9</end><in>0</in><out>9</out><sequence id="${id}"/></clipitem>`;
const around = (unit: string, size: number, before = '', after = '') => document(filled(unit, size - 200, before, after));
const xmls = (size: number): Record<string, string> => ({
  'items in one place': around(clip, size),
  'items of nothing': around('<clipitem/>', size),
  'elements in one another': `${'<a>'.repeat(size / 3)}`,
  'attributes without end': around('a="" ', size, '<clipitem ', '/>'),
  'names of one element': around('a', size, '<clipitem><name>', '</name></clipitem>'),
  'numbers without end': around('9', size, '<clipitem><start>', '</start></clipitem>'),
  'fades to black': around('<transitionitem><start>0</start><end>9</end></transitionitem>', size),
  'keys of motion': around(
    '<keyframe><when>1</when><value>1</value></keyframe>',
    size,
    `${clip.replace('</clipitem>', '')}<filter><effect><effectid>basic</effectid><parameter><parameterid>scale</parameterid>`,
    '</parameter></effect></filter></clipitem>',
  ),
  'keys of speed': around(
    '<keyframe><when>1</when><value>1</value></keyframe>',
    size,
    `${clip.replace('</clipitem>', '')}<filter><effect><effectid>timeremap</effectid><parameter><parameterid>variablespeed</parameterid><value>1</value></parameter><parameter><parameterid>graphdict</parameterid>`,
    '</parameter></effect></filter></clipitem>',
  ),
  effects: around('<filter><effect><name>x</name></effect></filter>', size, clip.replace('</clipitem>', ''), '</clipitem>'),
  links: around('<link><linkclipref>a</linkclipref></link>', size, clip.replace('</clipitem>', ''), '</clipitem>'),
  'markers of the cut': document(clip).replace('<media>', `${filled('<marker><in>1</in></marker>', size)}<media>`),
  'a cut that shows itself': around(nest('s'), size),
  'entities that hold each other': `<!DOCTYPE x [<!ENTITY a "${'x'.repeat(99)}">${Array.from({ length: 20 }, (_, i) => `<!ENTITY b${i} "&a;&a;&a;">`).join('')}]>${document(filled('&b19;', size - 3000))}`,
  'one comment': around('-a', size, '<!-- ', ' -->'),
  tracks: document(`${clip}</track>${filled('<track></track>', size)}<track>`),
  sequences: `<xmeml>${filled('<sequence><name>a</name></sequence>', size)}</xmeml>`,
});
/** Fifteen levels of cuts that each show the next one ten times: 10^15 events. */
export const NESTED_LEVELS = `<xmeml>${Array.from({ length: 15 }, (_, n) => `<sequence id="l${n}"><name>l</name><rate><timebase>24</timebase></rate><media><video><track>${nest(`l${n + 1}`).repeat(10)}</track></video></media></sequence>`).join('')}</xmeml>`;

const otioOf = (items: string, more = '') =>
  `{"OTIO_SCHEMA":"Timeline.1","tracks":{"OTIO_SCHEMA":"Stack.1","children":[{"OTIO_SCHEMA":"Track.1","kind":"Video"${more},"children":[${items}]}]}}`;
const span =
  '{"OTIO_SCHEMA":"TimeRange.1","start_time":{"OTIO_SCHEMA":"RationalTime.1","rate":24,"value":0},"duration":{"OTIO_SCHEMA":"RationalTime.1","rate":24,"value":9}}';
const listed = (unit: string, size: number) =>
  Array(Math.max(1, Math.floor(size / (unit.length + 1))))
    .fill(unit)
    .join(',');
const otios = (size: number): Record<string, string> => ({
  clips: otioOf(listed(`{"OTIO_SCHEMA":"Clip.2","source_range":${span}}`, size)),
  'clips without a range': otioOf(listed('{"OTIO_SCHEMA":"Clip.2"}', size)),
  'empty objects': otioOf(listed('{}', size)),
  gaps: otioOf(listed(`{"OTIO_SCHEMA":"Gap.1","source_range":${span}}`, size)),
  transitions: otioOf(listed('{"OTIO_SCHEMA":"Transition.1"}', size)),
  'arrays in one another': '['.repeat(size),
  'stacks in one another': `${filled('{"OTIO_SCHEMA":"Stack.1","children":[', size / 2)}${filled(']}', size / 2)}`,
  'tracks in a stack': `{"OTIO_SCHEMA":"Stack.1","children":[${listed('{"OTIO_SCHEMA":"Track.1"}', size)}]}`,
  'numbers that are none': otioOf('', `,"metadata":{"a":[${listed('NaN', size)}]}`),
  'warps of one clip': otioOf(
    `{"OTIO_SCHEMA":"Clip.2","source_range":${span},"effects":[${listed('{"OTIO_SCHEMA":"LinearTimeWarp.1","time_scalar":1.001}', size)}]}`,
  ),
  'markers of one clip': otioOf(
    `{"OTIO_SCHEMA":"Clip.2","source_range":${span},"markers":[${listed(`{"OTIO_SCHEMA":"Marker.2","marked_range":${span}}`, size)}]}`,
  ),
  'markers of a gap': otioOf(
    `{"OTIO_SCHEMA":"Gap.1","source_range":${span},"markers":[${listed(`{"OTIO_SCHEMA":"Marker.2","marked_range":${span}}`, size)}]}`,
  ),
  'timelines in a collection': `{"OTIO_SCHEMA":"SerializableCollection.1","children":[${listed(otioOf(''), size)}]}`,
  'lines of nothing': filled('\n', size, '{"OTIO_SCHEMA":', '1}'),
  'quotes and backslashes': filled('\\\\', size, '{"OTIO_SCHEMA":"', '"}'),
});

const tables = (size: number): Record<string, string> => ({
  'rows of nothing': filled(',,,\n', size, 'Reel,Source in,Source out,Track\n'),
  'rows that are broken': filled('A,x,y,V\n', size, 'Reel,Source in,Source out,Track\n'),
  'columns without end': filled('a,', size, 'Reel,Source in,Source out,', '\nA,0,9'),
  'headings of one name': filled('reel,', size, 'Source in,Source out,', '\n0,9'),
  'an open quote': filled('a', size, 'Reel,Source in,Source out\n"'),
  'one long cell': filled('0', size, 'Reel,Source in,Source out\nA,', ',9'),
  'many tracks': filled('A,0,9,V7\n', size, 'Reel,Source in,Source out,Track\n'),
  separators: filled(',', size),
});

export function hostileFiles(size: number): Hostile[] {
  const named = (format: Hostile['format'], texts: Record<string, string>) =>
    Object.entries(texts).map(([name, text]): Hostile => ({ name, format, bytes: new TextEncoder().encode(text) }));
  return [
    ...named('edl', edls(size)),
    ...named('xmeml', xmls(size)),
    ...named('otio', otios(size)),
    ...named('table', tables(size)),
    { name: 'levels of nested cuts', format: 'xmeml', bytes: strToU8(NESTED_LEVELS) },
    { name: 'an archive that unpacks without end', format: 'otio', bytes: zipSync({ 'content.otio': new Uint8Array(size * 64).fill(32) }) },
  ];
}
