/** What a column of a table can hold. */
export const FIELDS = [
  'number',
  'track',
  'reel',
  'clipName',
  'fileName',
  'sourceIn',
  'sourceOut',
  'recordIn',
  'recordOut',
  'speed',
  'notes',
] as const;
export type Field = (typeof FIELDS)[number];

/** Which column, by its heading, holds which field. */
export type ColumnMapping = Partial<Record<Field, string>>;

/** Headings in common use, compared without case, separators and the word "timecode". */
const HEADINGS: Record<Field, readonly string[]> = {
  number: ['event', 'number', 'no', '#', 'eventnumber'],
  track: ['track', 'layer', 'channel', 'channels'],
  reel: ['reel', 'tape', 'roll', 'reelname', 'card'],
  clipName: ['clip', 'clipname', 'name', 'shot'],
  fileName: ['file', 'filename', 'sourcefile', 'original'],
  sourceIn: ['sourcein', 'srcin', 'sourcestart', 'srcstart', 'in', 'start'],
  sourceOut: ['sourceout', 'srcout', 'sourceend', 'srcend', 'out', 'end'],
  recordIn: ['recordin', 'recin', 'recordstart', 'cutin'],
  recordOut: ['recordout', 'recout', 'recordend', 'cutout'],
  speed: ['speed', 'speedpercent', 'speed%'],
  notes: ['note', 'notes', 'comment', 'comments'],
};

const plain = (heading: string) =>
  heading
    .toLowerCase()
    .replace(/timecode|\btc\b/g, '')
    .replace(/[\s_./()-]+/g, '');

/** The mapping that a table's headings suggest; a person may correct it. */
export function guessMapping(headings: readonly string[]): ColumnMapping {
  const byName = new Map<string, string>();
  for (const heading of headings) {
    const name = heading.length <= LONGEST_HEADING ? plain(heading) : '';
    if (!byName.has(name)) byName.set(name, heading);
  }
  const mapping: ColumnMapping = {};
  const taken = new Set<string>();
  for (const field of FIELDS) {
    const found = HEADINGS[field].map((known) => byName.get(known)).find((h) => h !== undefined && !taken.has(h));
    if (found === undefined) continue;
    mapping[field] = found;
    taken.add(found);
  }
  return mapping;
}

const LONGEST_HEADING = 60;

/**
 * True when the first lines of a text are rows of one table: the same separator as often in each, and
 * at least three columns. Quoted cells may hold the separator, so a row that has more is one too.
 */
export function looksLikeTable(head: string): boolean {
  const rows = head.split(/\r\n|\r|\n/, 6).filter((l) => l.trim() !== '');
  return [',', ';', '\t'].some((separator) => {
    const counts = rows.map((row) => row.split(separator).length);
    return rows.length >= 2 && (counts[0] ?? 0) >= 3 && counts.every((n) => n >= (counts[0] ?? 0) && n <= (counts[0] ?? 0) + 8);
  });
}

/** What a table must have to be a list: where each event's source begins and ends. */
export const isList = (mapping: ColumnMapping): boolean => mapping.sourceIn !== undefined && mapping.sourceOut !== undefined;
