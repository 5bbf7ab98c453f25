import type { OriginalDescription } from '@gemello/core';
import { z } from 'zod';

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
export type OriginalRow = Omit<OriginalView, 'claims' | 'checksums' | 'grades' | 'measured' | 'sidecars' | 'sound' | 'pixelAspect' | 'pieces'>;

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
