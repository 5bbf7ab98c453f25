import Papa from 'papaparse';
import {
  type EditList,
  EMPTY_LIST,
  type ListEvent,
  NATURAL,
  type Notice,
  newEvent,
  type Retime,
  type Severity,
  type Track,
} from '../../edit';
import { decimalOf, type Frames, fraction, fractionOf, magnitude, over, RATES, type Rate, readTimecode } from '../../time';
import { type ListOptions, unreadableList } from '../options';
import { beyondName, fileNameOfUrl } from '../paths';
import { type ColumnMapping, guessMapping, isList } from './columns';

/**
 * Reads a list from a table with headings, separated by commas, semicolons or tabs (RFC 4180
 * quoting). Rows without record timecode are laid end to end. Columns that hold nothing we know are
 * kept as notes, `Heading: value`. Never throws on content.
 */
export function readTable(text: string, options: ListOptions = {}): EditList {
  const parsed = Papa.parse<Record<string, string>>(text.replace(/^\uFEFF/, ''), { header: true, skipEmptyLines: 'greedy' });
  const headings = parsed.meta.fields ?? [];
  const columns = options.columns ?? guessMapping(headings);
  if (!isList(columns))
    return unreadableList(
      'table',
      `No column for source in and out was found among: ${headings.slice(0, 12).join(', ')}. Say which columns they are.`,
    );
  const rate = options.rate ?? RATES['24'];
  const notices: Notice[] = [];
  const say = (severity: Severity, code: string, row: number, message: string) =>
    notices.push({ severity, code, place: { line: row + 2 }, event: null, message });
  if (!options.rate)
    notices.push({
      severity: 'changed',
      code: 'rate-assumed',
      place: null,
      event: null,
      message: 'A table does not state its frame rate; 24 was assumed. Set the rate if that is wrong.',
    });
  const tracks = new Map<string, ListEvent[]>();
  parsed.data.forEach((cells, row) => {
    const cell = (field: keyof ColumnMapping) => (columns[field] === undefined ? '' : (cells[columns[field]] ?? '').trim());
    const [from, to] = [frames(cell('sourceIn'), rate), frames(cell('sourceOut'), rate)];
    if (from === null || to === null || to <= from) {
      say(
        'unreadable',
        'broken-row',
        row,
        `Row ${row + 2} has no source in and out that could be read ("${cell('sourceIn')}", "${cell('sourceOut')}"); it was left out.`,
      );
      return;
    }
    const retime = retimeOf(cell('speed'));
    if (retime === null)
      say('changed', 'speed', row, `Row ${row + 2} has a speed that is no number ("${cell('speed')}"); natural speed was taken.`);
    const track = trackName(cell('track'));
    const events = tracks.get(track) ?? [];
    tracks.set(track, events);
    const recordIn = frames(cell('recordIn'), rate) ?? events.at(-1)?.record.out ?? 0;
    const recordOut = frames(cell('recordOut'), rate) ?? recordIn + recordLength(to - from, retime ?? NATURAL);
    if (recordOut <= recordIn) {
      say('unreadable', 'record-backwards', row, `Row ${row + 2} ends on the record before it begins; it was left out.`);
      return;
    }
    const fileName = fileNameOfUrl(cell('fileName'));
    events.push(
      newEvent({
        key: '',
        number: cell('number'),
        kind: /^(BL|BLACK)$/i.test(cell('reel')) ? 'black' : 'clip',
        reel: cell('reel'),
        clipName: cell('clipName'),
        fileName,
        mediaPath: beyondName(cell('fileName'), fileName),
        sourceRate: rate,
        source: { in: from, out: to },
        sourceLabels: `${cell('sourceIn')} ${cell('sourceOut')}`,
        record: { in: recordIn, out: recordOut },
        retime: retime ?? NATURAL,
        notes: notesOf(cells, columns, cell('notes')),
        line: row + 2,
      }),
    );
  });
  return {
    ...EMPTY_LIST,
    format: 'table',
    framing: options.raster ? { raster: options.raster, pixelAspect: null, fields: null } : null,
    rate,
    tracks: [...tracks].sort(([a], [b]) => (a < b ? -1 : 1)).map(([name, events]) => numbered(name, events)),
    notices,
  };
}

const frames = (text: string, rate: Rate): Frames | null => {
  if (/^\d{1,9}$/.test(text)) return Number(text);
  return readTimecode(text, rate)?.frames ?? null;
};

const trackName = (text: string): string =>
  /^[VA]\d+$/i.test(text) ? text.toUpperCase() : /^\d+$/.test(text) ? `V${text}` : /^A/i.test(text) ? 'A1' : 'V1';

/** Percent, with or without its sign; 0 is a freeze, below 0 a reverse; null when it is no number. */
function retimeOf(text: string): Retime | null {
  if (text === '') return NATURAL;
  const percent = Number(text.replace(/\s*%$/, ''));
  if (!Number.isFinite(percent)) return null;
  if (percent === 100) return NATURAL;
  return percent === 0 ? { kind: 'freeze' } : { kind: 'constant', speed: over(fractionOf(percent), fraction(100)) };
}

/** How long a source lasts on the record at a speed where the table does not say. */
function recordLength(source: Frames, retime: Retime): Frames {
  if (retime.kind !== 'constant') return source;
  return Math.max(1, Math.round(decimalOf(over(fraction(source), magnitude(retime.speed)))));
}

function notesOf(cells: Record<string, string>, columns: ColumnMapping, note: string): string[] {
  const known = new Set(Object.values(columns));
  const others = Object.entries(cells).filter(
    ([heading, value]) => !known.has(heading) && typeof value === 'string' && value.trim() !== '',
  );
  return [...(note ? [note] : []), ...others.map(([heading, value]) => `${heading}: ${value.trim()}`)];
}

function numbered(name: string, events: readonly ListEvent[]): Track {
  const inOrder = [...events].sort((a, b) => a.record.in - b.record.in);
  return { name, kind: name.startsWith('A') ? 'sound' : 'picture', events: inOrder.map((e, i) => ({ ...e, key: `${name}/${i + 1}` })) };
}

/** The headings of a table and its first rows, for a person who says which column is which. */
export function tableHead(text: string): { headings: string[]; sample: string[][] } {
  const parsed = Papa.parse<string[]>(text.replace(/^\uFEFF/, ''), { skipEmptyLines: 'greedy', preview: 4 });
  const [headings = [], ...sample] = parsed.data;
  return { headings, sample };
}
