import { LOG_FIELDS, type LogMapping, type OriginalDescription } from '@gemello/core';
import { z } from 'zod';
import { type Column, columnReader, lengthOfColumn, type Packed, packColumn } from './packed';
import { told } from './told';

/** Largest clip log, in characters. */
const LARGEST_LOG = 32e6;

/** What a person looks for among the originals. Every facet that has values lets only those through. */
export const FACETS = ['volume', 'folder', 'reel', 'rate', 'raster', 'codec', 'kind', 'warning', 'tag', 'use', 'state'] as const;
export type Facet = (typeof FACETS)[number];

export const filterSchema = z.object({
  words: z.string().max(500),
  facets: z.partialRecord(z.enum(FACETS), z.array(z.string().max(1000)).max(1000)),
});
export type OriginalFilter = z.infer<typeof filterSchema>;

export const saveFilterSchema = z.object({ name: z.string().trim().min(1, 'Give the filter a name.').max(80), data: filterSchema });
export const remarkSchema = z.object({
  paths: z.array(z.string().min(1)).min(1).max(100_000),
  /** Tags to put on and to take off; the others stay. */
  add: z.array(z.string().trim().min(1).max(40)).max(40).default([]),
  remove: z.array(z.string().trim().min(1).max(40)).max(40).default([]),
  /** Null leaves notes as they are. */
  note: z.string().max(4000).nullable().default(null),
  /** The note that the new one was written over; where another has come meanwhile, it is not replaced. */
  was: z.string().optional(),
});
export type Remark = z.input<typeof remarkSchema>;
/** A clip log: one that lies on a volume, by its path, or one that was brought along, as text. */
export const logSchema = z.object({
  name: z.string().trim().min(1).max(200),
  path: z.string().min(1).nullable().default(null),
  text: z.string().max(LARGEST_LOG, 'The log is larger than 32 MB.').nullable().default(null),
  /** Null: as its headings suggest. */
  mapping: z.partialRecord(z.enum(LOG_FIELDS), z.string()).nullable().default(null),
  /** False only shows what it would come to. */
  take: z.boolean().default(false),
});
export type LogRequest = z.input<typeof logSchema>;

/** A clip log laid open: its columns, what each is taken for, and what it would set. */
export const logViewSchema = z.object({
  headings: z.array(z.string()).readonly(),
  /** The first rows, as they are. */
  sample: z.array(z.record(z.string(), z.string())).readonly(),
  rows: z.number(),
  mapping: told<LogMapping>(),
  changes: z
    .array(
      z.object({
        path: z.string(),
        clipName: z.string(),
        now: z.string(),
        says: z.string(),
      }),
    )
    .readonly(),
  notes: z.number(),
  agreeing: z.number(),
  unmatched: z.array(z.string()).readonly(),
  ambiguous: z.array(z.string()).readonly(),
});
export type LogView = z.infer<typeof logViewSchema>;

export const renameSchema = z.object({ name: z.string().trim().min(1, 'Give the volume a name.').max(120) });
export const rehomeSchema = z.object({ as: z.string().min(1) });

/** A part of an original that the cut uses: frames of the file from 0, out exclusive. */
export const usedSpanSchema = z.object({
  id: z.string(),
  number: z.string(),
  from: z.number(),
  to: z.number(),
});
export type UsedSpan = z.infer<typeof usedSpanSchema>;

/** An original as the table shows it. */
export type OriginalRow = Omit<OriginalView, 'claims' | 'checksums' | 'grades' | 'measured' | 'sidecars' | 'sound' | 'pieces'>;

/** What of a row changes with decisions and remarks; the rest only with what is on the volumes. */
const CHANGING = ['usedBy', 'tags', 'note'] as const satisfies readonly (keyof OriginalRow)[];

/**
 * The rows of the table as they are sent: column by column, each path as its folder, for it ends with the
 * file's name. In two parts, since a hundred thousand rows take long to pack and most of it stands.
 */
export function packOriginals(rows: readonly OriginalRow[], part: 'standing' | 'changing'): Packed {
  const [first] = rows;
  if (!first) return {};
  const columns: Record<string, Column> = {};
  for (const field of Object.keys(first) as (keyof OriginalRow)[]) {
    if ((CHANGING as readonly string[]).includes(field) !== (part === 'changing')) continue;
    if (field === 'path') columns.parent = packColumn(rows.map((row) => row.path.slice(0, row.path.length - row.fileName.length)));
    else columns[field] = packColumn(rows.map((row) => row[field]));
  }
  return columns;
}

/** The rows again, in their order. Each is written out at once: fields that are set one by one make objects ten times as slow. */
export function unpackOriginals(packed: Packed): OriginalRow[] {
  const read = <K extends keyof OriginalRow>(field: K) => columnReader<OriginalRow[K]>(packed[field]);
  const parent = columnReader<string>(packed.parent);
  const kind = read('kind');
  const reel = read('reel');
  const clipName = read('clipName');
  const fileName = read('fileName');
  const timecodeIn = read('timecodeIn');
  const timecodeOut = read('timecodeOut');
  const start = read('start');
  const frames = read('frames');
  const rate = read('rate');
  const raster = read('raster');
  const pixelAspect = read('pixelAspect');
  const codec = read('codec');
  const files = read('files');
  const bytes = read('bytes');
  const warnings = read('warnings');
  const volume = read('volume');
  const folder = read('folder');
  const here = read('here');
  const look = read('look');
  const usedBy = read('usedBy');
  const tags = read('tags');
  const note = read('note');
  const proxyOf = read('proxyOf');
  const proxies = read('proxies');
  return Array.from({ length: lengthOfColumn(packed.parent) }, (_, i) => ({
    path: parent(i) + fileName(i),
    kind: kind(i),
    reel: reel(i),
    clipName: clipName(i),
    fileName: fileName(i),
    timecodeIn: timecodeIn(i),
    timecodeOut: timecodeOut(i),
    start: start(i),
    frames: frames(i),
    rate: rate(i),
    raster: raster(i),
    pixelAspect: pixelAspect(i),
    codec: codec(i),
    files: files(i),
    bytes: bytes(i),
    warnings: warnings(i),
    volume: volume(i),
    folder: folder(i),
    here: here(i),
    look: look(i),
    usedBy: usedBy(i),
    tags: tags(i),
    note: note(i),
    proxyOf: proxyOf(i),
    proxies: proxies(i),
  }));
}

/** The events of one version of the cut that use an original. */
export const versionUsesSchema = z.object({
  list: z.string(),
  title: z.string(),
  fileName: z.string(),
  createdAt: z.number(),
  /** `cut` is the cut as it stands, `former` one it has taken the place of, `beside` a list kept to be compared. */
  is: z.enum(['cut', 'former', 'beside']),
  uses: z
    .array(
      z.object({
        id: z.string(),
        number: z.string(),
        recordIn: z.string(),
        frame: z.number(),
      }),
    )
    .readonly(),
});
export type VersionUses = z.infer<typeof versionUsesSchema>;

export interface OriginalView extends OriginalDescription {
  readonly volume: string;
  /** The folder it lies in, from its volume on. */
  readonly folder: string;
  readonly here: boolean;
  /** Changes when its files do; part of the address of its pictures. */
  readonly look: string;
  /** Its first frame, counted from 00:00:00:00; null without timecode. */
  readonly start: number | null;
  readonly usedBy: readonly UsedSpan[];
  readonly tags: readonly string[];
  readonly note: string;
  /** The original this is a proxy of, and the proxies this one has; paths. */
  readonly proxyOf: string | null;
  readonly proxies: readonly string[];
}

/** What only the page of one original shows. */
export interface OriginalPage extends OriginalView {
  readonly versions: readonly VersionUses[];
  /** The clip whose timecode begins where this one's ends, when it is called as the next. */
  readonly goesOnIn: string | null;
  /** The folder it lies in, whole. */
  readonly folderPath: string;
}

export const originalPageSchema = z.intersection(
  told<OriginalView>(),
  z.object({ versions: z.array(versionUsesSchema).readonly(), goesOnIn: z.string().nullable(), folderPath: z.string() }),
);
