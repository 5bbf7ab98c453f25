import { LOG_FIELDS, type LogMapping, type OriginalDescription } from '@gemello/core';
import { z } from 'zod';

/** Largest clip log, in characters. */
const LARGEST_LOG = 32 * 1024 * 1024;

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
export interface LogView {
  readonly headings: readonly string[];
  /** The first rows, as they are. */
  readonly sample: readonly Readonly<Record<string, string>>[];
  readonly rows: number;
  readonly mapping: LogMapping;
  readonly changes: readonly { readonly path: string; readonly clipName: string; readonly now: string; readonly says: string }[];
  readonly notes: number;
  readonly agreeing: number;
  readonly unmatched: readonly string[];
  readonly ambiguous: readonly string[];
}

export const renameSchema = z.object({ name: z.string().trim().min(1, 'Give the volume a name.').max(120) });
export const rehomeSchema = z.object({ as: z.string().min(1) });

/** A part of an original that the cut uses: frames of the file from 0, out exclusive. */
export interface UsedSpan {
  readonly id: string;
  readonly number: string;
  readonly from: number;
  readonly to: number;
}

/** An original as the table shows it. */
export type OriginalRow = Omit<OriginalView, 'claims' | 'checksums' | 'grades' | 'measured' | 'sidecars' | 'sound' | 'pieces'>;

/** The events of one version of the cut that use an original. */
export interface VersionUses {
  readonly list: string;
  readonly title: string;
  readonly fileName: string;
  readonly createdAt: number;
  /** `cut` is the cut as it stands, `former` one it has taken the place of, `beside` a list kept to be compared. */
  readonly is: 'cut' | 'former' | 'beside';
  readonly uses: readonly { readonly id: string; readonly number: string; readonly recordIn: string; readonly frame: number }[];
}

export interface OriginalView extends OriginalDescription {
  readonly volume: string;
  /** The folder it lies in, from its volume on. */
  readonly folder: string;
  readonly here: boolean;
  /** Its first frame, counted from 00:00:00:00; null without timecode. */
  readonly start: number | null;
  readonly usedBy: readonly UsedSpan[];
  readonly tags: readonly string[];
  readonly note: string;
  /** The original this is a light copy of, and the light copies this one has; paths. */
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
