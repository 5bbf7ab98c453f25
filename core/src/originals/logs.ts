import Papa from 'papaparse';
import { formatTimecode, parseTimecode } from '../time';
import type { Said } from './claims';
import type { Correction } from './corrections';
import type { Original } from './model';
import { looseReel, withoutExtension } from './names';
import { fits, plain } from './sidecars';

/** What a clip log may say, each in a column of its own. */
export const LOG_FIELDS = ['clip', 'timecode', 'rate', 'reel', 'scene', 'take', 'notes'] as const;
export type LogField = (typeof LOG_FIELDS)[number];
/** Which heading each field stands under. */
export type LogMapping = Partial<Record<LogField, string>>;

/** What a row of a clip log is about, and what it says. */
export interface LogRow {
  /** The clip's file or clip name, without folders and extension, lower case. */
  readonly clip: string;
  /** The name as the log has it. */
  readonly called: string;
  readonly said: readonly Said[];
  readonly notes: string;
}

/** A clip log as a table. */
export interface LogTable {
  readonly headings: readonly string[];
  readonly rows: readonly Readonly<Record<string, string>>[];
}

/** Reads a log as a table with headings; commas, tabs or semicolons between its cells. */
export function readLogTable(text: string): LogTable {
  const { data, meta } = Papa.parse<Record<string, string>>(text.replace(/^\uFEFF/, ''), { header: true, skipEmptyLines: 'greedy' });
  return { headings: meta.fields ?? [], rows: data };
}

/** The columns that a log's headings suggest. */
export function guessLogMapping(headings: readonly string[]): LogMapping {
  const known: Record<LogField, readonly string[]> = {
    clip: ['filename', 'file', 'clipname', 'clip', 'name', 'sourcefile'],
    timecode: ['start', 'starttc', 'starttimecode', 'tcstart', 'tcin', 'in', 'timecode', 'tc'],
    rate: ['fps', 'framerate', 'rate'],
    reel: ['reel', 'reelname', 'tape', 'roll', 'card'],
    scene: ['scene', 'scenename', 'scenenumber'],
    take: ['take', 'takenumber'],
    notes: ['notes', 'note', 'comment', 'comments', 'remarks'],
  };
  return Object.fromEntries(
    LOG_FIELDS.flatMap((field) => {
      const heading = known[field].map((k) => headings.find((h) => plain(h) === k)).find((h) => h !== undefined);
      return heading === undefined ? [] : [[field, heading]];
    }),
  );
}

/** True when a mapping names the clip and something that is said of it. */
export const saysSomething = ({ clip, timecode, reel, scene, take, notes }: LogMapping): boolean =>
  clip !== undefined && [timecode, reel, scene && take, notes].some((column) => column !== undefined);

/** What a clip log says, one row a clip, by the columns its headings suggest or those given. Empty when they say nothing of any clip. */
export const readClipLog = (text: string, origin: string, mapping?: LogMapping): readonly LogRow[] =>
  readWholeLog(text, origin, mapping).log;

function rowsOf({ rows }: LogTable, origin: string, columns: LogMapping): LogRow[] {
  const { clip } = columns;
  if (!clip || !saysSomething(columns)) return [];
  return rows.flatMap((cells): LogRow[] => {
    const cell = (field: LogField) => (columns[field] === undefined ? '' : (cells[columns[field]] ?? '').trim());
    const name = cell('clip');
    if (name === '') return [];
    const said = (['timecode', 'rate', 'reel', 'scene', 'take'] as const).flatMap((field): Said[] => {
      const value = cell(field);
      return fits(field, value) ? [{ field, value, origin }] : [];
    });
    return [{ clip: withoutExtension(name.split(/[/\\]/).at(-1) ?? name).toLowerCase(), called: name, said, notes: cell('notes') }];
  });
}

/** What a log comes to when it is held against the originals. */
export interface LogHeld {
  /** What would be set, one clip each; with what it is now. */
  readonly corrections: readonly { readonly word: Correction; readonly original: Original; readonly says: string; readonly now: string }[];
  readonly notes: readonly { readonly path: string; readonly note: string }[];
  /** Rows whose clip is already taken to be what they say. */
  readonly agreeing: number;
  /** Clips of the log that are on no volume. */
  readonly unmatched: readonly string[];
  /** Clips of the log by whose name several originals are called; nothing is set for them. */
  readonly ambiguous: readonly string[];
}

/**
 * Holds a log's rows against the originals, by file or clip name; where several are called so, by reel
 * too. `source` names the log. Timecode is read at the original's own rate.
 */
export function holdLog(rows: readonly LogRow[], originals: readonly Original[], source: string): LogHeld {
  const byName = new Map<string, Original[]>();
  for (const o of originals)
    for (const name of new Set([withoutExtension(o.fileName).toLowerCase(), o.clipName.toLowerCase()]))
      byName.set(name, [...(byName.get(name) ?? []), o]);
  const corrections: LogHeld['corrections'][number][] = [];
  const notes: LogHeld['notes'][number][] = [];
  const unmatched: string[] = [];
  const ambiguous: string[] = [];
  let agreeing = 0;
  for (const row of rows) {
    const called = byName.get(row.clip) ?? [];
    const reel = row.said.find((s) => s.field === 'reel')?.value;
    const ofReel = reel === undefined ? [] : called.filter((o) => looseReel(o.reel) === looseReel(reel));
    const original = called.length > 1 ? (ofReel.length === 1 ? ofReel[0] : undefined) : called[0];
    if (!original) {
      (called.length > 1 ? ambiguous : unmatched).push(row.called);
      continue;
    }
    if (row.notes !== '') notes.push({ path: original.path, note: row.notes });
    const label = row.said.find((s) => s.field === 'timecode')?.value;
    const start = label === undefined ? null : parseTimecode(label, original.rate);
    const newStart = start !== null && (start !== original.start || !original.hasTimecode) ? start : undefined;
    const newReel = reel !== undefined && reel !== original.reel ? reel : undefined;
    const newSlate = slateSaid(row.said, original);
    if (newStart === undefined && newReel === undefined && newSlate === null) {
      if (row.said.length > 0) agreeing++;
      continue;
    }
    const words = (reelNow: string | undefined, slate: SlateSaid | null, frames: number | null | undefined) =>
      [
        reelNow,
        newSlate ? (slate ? `scene ${slate.scene} take ${slate.take}` : 'no scene and take') : undefined,
        frames === undefined ? undefined : frames === null ? 'no timecode' : formatTimecode(frames, original.rate),
      ]
        .filter((w) => w !== undefined)
        .join(', ');
    corrections.push({
      word: {
        kind: 'correct',
        original: original.path,
        source,
        ...(newReel === undefined ? {} : { reel: newReel }),
        ...newSlate,
        ...(newStart === undefined ? {} : { start: newStart }),
      },
      original,
      says: words(newReel, newSlate, newStart),
      now: words(
        newReel === undefined ? undefined : original.reel || 'no reel',
        slateTaken(original),
        newStart === undefined ? undefined : original.hasTimecode ? original.start : null,
      ),
    });
  }
  return { corrections, notes, agreeing, unmatched, ambiguous };
}

interface SlateSaid {
  readonly scene: string;
  readonly take: string;
}

/** The scene and take a log gives a clip; null where it gives not both, or the clip has them already. */
function slateSaid(said: readonly Said[], original: Original): SlateSaid | null {
  const [scene, take] = (['scene', 'take'] as const).map((field) => said.find((s) => s.field === field)?.value);
  if (scene === undefined || take === undefined) return null;
  const known = slateTaken(original);
  return known?.scene === scene && known.take === take ? null : { scene, take };
}

/** Scene and take of a clip as they are written where they were taken from. */
function slateTaken({ claims }: Original): SlateSaid | null {
  const [scene, take] = (['scene', 'take'] as const).map((field) => claims.find((c) => c.taken && c.field === field)?.value);
  return scene === undefined || take === undefined ? null : { scene, take };
}

/** A clip log as it was read: its headings, its first rows, how many there are, which column holds what, and what they say. */
export interface LogReading extends LogTable {
  readonly count: number;
  readonly mapping: LogMapping;
  readonly log: readonly LogRow[];
}

/** Rows that are shown so that columns can be told by what is in them. */
const SAMPLE = 5;

/** Reads a clip log with its table; `rows` are the first few. `origin` names it as a source; the columns are guessed where no mapping is given. */
export function readWholeLog(text: string, origin: string, given?: LogMapping): LogReading {
  const table = readLogTable(text);
  const { headings, rows } = table;
  const mapping = given ?? guessLogMapping(headings);
  return { headings, rows: rows.slice(0, SAMPLE), count: rows.length, mapping, log: rowsOf(table, origin, mapping) };
}
