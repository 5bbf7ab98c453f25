import Papa from 'papaparse';
import { saidIn } from '../../csv';
import {
  canBeSpeed,
  type EditList,
  EMPTY_LIST,
  type ListEvent,
  NATURAL,
  newEvent,
  type Retime,
  type Severity,
  speedOf,
  type Track,
} from '../../edit';
import {
  canDropFrames,
  decimalOf,
  type FrameRange,
  type Frames,
  formatRate,
  fraction,
  fractionOf,
  isDropLabel,
  lengthOf,
  magnitude,
  over,
  RATES,
  type Rate,
  range,
  readTimecode,
} from '../../time';
import type { Sentence } from '../../words';
import { recordsInOrder, sourceBetween } from '../midnight';
import { allTold, noticeLog, tell } from '../notices';
import { type ListOptions, unreadableList } from '../options';
import { beyondName, fileNameOfUrl } from '../paths';
import { type ColumnMapping, guessMapping, isList } from './columns';
import { TABLE_WORDS } from './wording';

/**
 * Reads a list from a table with headings, separated by commas, semicolons or tabs (RFC 4180
 * quoting). Rows without record timecode are laid end to end. Columns that hold nothing we know are
 * kept as notes, `Heading: value`. Never throws on content.
 */
export function readTable(text: string, options: ListOptions = {}): EditList {
  const plain = text.replace(/^\uFEFF/, '');
  const [headings = []] = Papa.parse<string[]>(plain, { skipEmptyLines: 'greedy', preview: 1 }).data;
  if (headings.length > MOST_COLUMNS)
    return unreadableList('table', TABLE_WORDS.tooWide({ headings: headings.length, most: MOST_COLUMNS }));
  const rows = Papa.parse<string[]>(plain, { skipEmptyLines: 'greedy' }).data.slice(1);
  const columns = options.columns ?? guessMapping(headings);
  if (!isList(columns)) return unreadableList('table', TABLE_WORDS.noSource({ headings: headings.slice(0, 12).join(', ') }));
  const places = new Map<keyof ColumnMapping, number>();
  for (const [field, heading] of Object.entries(columns)) places.set(field as keyof ColumnMapping, headings.indexOf(heading));
  const cellOf: CellOf = (cells, field) => saidIn(cells[places.get(field) ?? -1] ?? '').trim();
  const counts = (field: keyof ColumnMapping) => rows.some((cells) => isDropLabel(cellOf(cells, field)));
  const given = options.rate ?? (counts('recordIn') ? RATES['29.97df'] : RATES['24']);
  const rate = counts('recordIn') && canDropFrames(given) ? { ...given, dropFrame: true } : given;
  const dropsInSources = counts('sourceIn') && canDropFrames(given);
  const log = noticeLog();
  const say = (severity: Severity, code: string, row: number, said: Sentence) =>
    tell(log, { severity, code, place: { line: row + 2 }, event: null, ...said });
  if (!options.rate)
    tell(log, {
      severity: 'changed',
      code: 'rate-assumed',
      place: null,
      event: null,
      ...TABLE_WORDS.rateAssumed({ rate: formatRate(rate) }),
    });
  const known = new Set(places.values());
  const records = recordSpans(rows, cellOf, rate);
  const tracks = new Map<string, ListEvent[]>();
  rows.forEach((cells, row) => {
    const cell = (field: keyof ColumnMapping) => cellOf(cells, field);
    // Where any source says drop-frame, each says it for itself.
    const sourceRate = dropsInSources ? { ...given, dropFrame: isDropLabel(cell('sourceIn')) } : rate;
    const [from, to] = [frames(cell('sourceIn'), sourceRate), frames(cell('sourceOut'), sourceRate)];
    if (from === null || to === null || to === from) {
      say(
        'unreadable',
        'broken-row',
        row,
        TABLE_WORDS.brokenRow({ row: row + 2, sourceIn: cell('sourceIn'), sourceOut: cell('sourceOut') }),
      );
      return;
    }
    const track = trackName(cell('track'));
    const events = tracks.get(track) ?? [];
    tracks.set(track, events);
    const span = records[row] ?? null;
    const stated = retimeOf(cell('speed'));
    if (stated === null) say('changed', 'speed', row, TABLE_WORDS.speed({ row: row + 2, speed: cell('speed') }));
    const pace = stated?.kind === 'constant' ? Math.max(1, Math.abs(decimalOf(stated.speed))) : 1;
    const { source, backwards } = sourceBetween(from, to, span ? Math.ceil(lengthOf(span) * pace) : Math.abs(to - from), sourceRate);
    const retime = stated ?? NATURAL;
    if (backwards && speedOf(retime) > 0) {
      say('changed', 'source-backwards', row, TABLE_WORDS.sourceBackwards({ row: row + 2, forward: retime.kind !== 'natural' }));
    }
    const recordIn = span?.in ?? events.at(-1)?.record.out ?? 0;
    const record = span && span.out > span.in ? span : { in: recordIn, out: recordIn + recordLength(lengthOf(source), retime) };
    if (span && span.out < span.in) {
      say('unreadable', 'record-backwards', row, TABLE_WORDS.recordBackwards({ row: row + 2 }));
      return;
    }
    const odd = [
      ...[cell('sourceIn'), cell('sourceOut')].map((label) => readTimecode(label, sourceRate)),
      ...[cell('recordIn'), cell('recordOut')].map((label) => readTimecode(label, rate)),
    ].some((read) => read?.impossible);
    if (odd) say('changed', 'timecode-impossible', row, TABLE_WORDS.impossible({ row: row + 2, rate: formatRate(rate) }));
    const asked = recordLength(lengthOf(source), retime);
    // Under a speed a table may name one frame more than is passed over.
    if (span && retime.kind !== 'freeze' && Math.abs(asked - lengthOf(record)) > (retime.kind === 'natural' ? 0 : 1))
      say(
        'changed',
        'length-differs',
        row,
        TABLE_WORDS.lengthDiffers({ row: row + 2, source: lengthOf(source), record: lengthOf(record) }),
      );
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
        sourceRate,
        source,
        sourceLabels: `${cell('sourceIn')} ${cell('sourceOut')}`,
        record,
        retime: backwards && retime.kind === 'natural' ? REVERSE : retime,
        notes: notesOf(cells, headings, known, cell('notes')),
        line: row + 2,
      }),
    );
  });
  return {
    ...EMPTY_LIST,
    format: 'table',
    framing: options.raster ? { raster: options.raster, pixelAspect: null, fields: null } : null,
    rate,
    tracks: [...tracks].sort(([a], [b]) => order(a) - order(b)).map(([name, events]) => numbered(name, events)),
    notices: allTold(log),
  };
}

/** The text of one cell of a row, by what it holds; empty where the table has no such column. */
type CellOf = (cells: readonly string[], field: keyof ColumnMapping) => string;

/** Wider tables are no lists. */
const MOST_COLUMNS = 1000;

const NONE: readonly never[] = [];

const REVERSE: Retime = { kind: 'constant', speed: fraction(-1) };

/** Layers from the bottom up, then sound. */
const order = (track: string): number => (track.startsWith('A') ? 10_000 : 0) + Number(track.slice(1));

/**
 * The record of each row that states where it begins; where labels begin anew at midnight, what follows counts on. A row
 * that does not say where it ends has a span of no length.
 */
function recordSpans(rows: readonly (readonly string[])[], cellOf: CellOf, rate: Rate): (FrameRange | undefined)[] {
  const spans: (FrameRange | undefined)[] = [];
  const stated: { row: number; span: FrameRange }[] = [];
  rows.forEach((cells, row) => {
    const cell = (field: 'recordIn' | 'recordOut') => frames(cellOf(cells, field), rate);
    const begins = cell('recordIn');
    if (begins !== null) stated.push({ row, span: range(begins, cell('recordOut') ?? begins) });
  });
  const inOrder = recordsInOrder(
    stated.map((s) => s.span),
    rate,
  );
  stated.forEach(({ row }, i) => {
    spans[row] = inOrder[i];
  });
  return spans;
}

const frames = (text: string, rate: Rate): Frames | null => {
  if (/^\d{1,9}$/.test(text)) return Number(text);
  const read = readTimecode(text, rate);
  return read && read.frames >= 0 ? read.frames : null;
};

const trackName = (text: string): string =>
  /^[VA]\d+$/i.test(text) ? text.toUpperCase() : /^\d+$/.test(text) ? `V${text}` : /^A/i.test(text) ? 'A1' : 'V1';

/** Percent, with or without its sign; 0 is a freeze, below 0 a reverse; null when it is no number. */
function retimeOf(text: string): Retime | null {
  if (text === '') return NATURAL;
  const written = text.replace(/\s*%$/, '');
  const percent = /^[+-]?(?:\d+\.?\d*|\.\d+)$/.test(written) ? Number(written) : Number.NaN;
  if (!canBeSpeed(percent / 100)) return null;
  if (percent === 100) return NATURAL;
  return percent === 0 ? { kind: 'freeze' } : { kind: 'constant', speed: over(fractionOf(percent), fraction(100)) };
}

/** How long a source lasts on the record at a speed where the table does not say. */
function recordLength(source: Frames, retime: Retime): Frames {
  if (retime.kind !== 'constant') return source;
  return Math.max(1, Math.round(decimalOf(over(fraction(source), magnitude(retime.speed)))));
}

function notesOf(cells: readonly string[], headings: readonly string[], known: ReadonlySet<number>, note: string): readonly string[] {
  if (note === '' && cells.length <= known.size) return NONE;
  const notes = note.split(/\r\n|\r|\n/).filter((n) => n.trim() !== '');
  cells.forEach((value, i) => {
    if (!known.has(i) && value.trim() !== '') notes.push(`${headings[i] ?? `Column ${i + 1}`}: ${saidIn(value).trim()}`);
  });
  return notes;
}

/** The events of a track in record order, each with its place for a key. */
function numbered(name: string, events: readonly ListEvent[]): Track {
  const inOrder = [...events].sort((a, b) => a.record.in - b.record.in);
  inOrder.forEach((event: { -readonly [K in 'key']: ListEvent[K] }, i) => {
    event.key = `${name}/${i + 1}`;
  });
  return { name, kind: name.startsWith('A') ? 'sound' : 'picture', events: inOrder };
}

/** The headings of a table and its first rows, for a person who says which column is which. */
export function tableHead(text: string): { headings: string[]; sample: string[][] } {
  const parsed = Papa.parse<string[]>(text.replace(/^\uFEFF/, ''), { skipEmptyLines: 'greedy', preview: 4 });
  const [headings = [], ...sample] = parsed.data;
  return { headings, sample };
}
