import path from 'node:path';
import {
  describeOriginal,
  formatTimecode,
  formatTimeOfDay,
  likenessOfVolumes,
  mayGoOnIn,
  type Original,
  type Rate,
  sourceSpan,
} from '@gemello/core';
import { and, eq } from 'drizzle-orm';
import type { z } from 'zod';
import {
  type OriginalFilter,
  type OriginalPage,
  type OriginalRow,
  packOriginals,
  type remarkSchema,
  type UsedSpan,
  type VolumeView,
} from '../contract';
import { database, write } from './db/open';
import { filters, originals, remarks, volumes } from './db/schema';
import { RequestError } from './http';
import { changed, decided } from './jobs';
import { lookOfFiles } from './marks';
import type { Survey } from './survey';
import { usesInVersions } from './versions';
import { mustBeJob, type Workspace, workspace } from './workspace';

/** The originals as the table shows them: without what only the page of one of them needs. */
export const originalRows = async (jobId: string): Promise<OriginalRow[]> => rowsOnce(await workspace(jobId));

/** Rows are made once for what a job is at a time: there may be a hundred thousand. */
const made = new WeakMap<Workspace, Promise<OriginalRow[]>>();

function rowsOnce(w: Workspace): Promise<OriginalRow[]> {
  const rows = made.get(w) ?? rowsOf(w);
  made.set(w, rows);
  return rows;
}

/** What stands of the rows, as JSON, by the rows it was made of. */
const standing = new WeakMap<readonly OriginalRow[], string>();

/** The rows as they are sent, as JSON; what stands is packed once for what is on the volumes. */
export async function packedOriginals(jobId: string): Promise<string> {
  const w = await workspace(jobId);
  const rows = await rowsOnce(w);
  const plain = plainRows(w);
  const stands = standing.get(plain) ?? JSON.stringify(packOriginals(plain, 'standing'));
  standing.set(plain, stands);
  if (rows.length === 0) return '{}';
  return `${stands.slice(0, -1)},${JSON.stringify(packOriginals(rows, 'changing')).slice(1)}`;
}

/** What people wrote of the originals of a job, by path. */
export async function remarksOf(jobId: string): Promise<ReadonlyMap<string, typeof remarks.$inferSelect>> {
  const written = await (await database()).select().from(remarks).where(eq(remarks.jobId, jobId));
  return new Map(written.map((r) => [r.path, r]));
}

async function rowsOf(w: Workspace): Promise<OriginalRow[]> {
  const remarkOf = await remarksOf(w.id);
  const used = usedSpans(w);
  return plainRows(w).map((row) => {
    const [usedBy, remark] = [used.get(row.path), remarkOf.get(row.path)];
    return usedBy || remark ? { ...row, usedBy: usedBy ?? NONE, tags: remark?.tags ?? NONE, note: remark?.note ?? '' } : row;
  });
}

/** By the survey's originals: their rows as they are without uses and remarks, which change more often. */
const plain = new WeakMap<Survey['originals'], readonly OriginalRow[]>();

function plainRows({ originals: all, proxyOf }: Survey): readonly OriginalRow[] {
  const known = plain.get(all);
  if (known) return known;
  const proxies = new Map<string, string[]>();
  for (const [copy, whole] of proxyOf) proxies.set(whole, [...(proxies.get(whole) ?? []), copy]);
  // Proxies stand after what they are copies of.
  const isCopy = (o: { original: Original }) => proxyOf.has(o.original.path);
  const inOrder = proxyOf.size === 0 ? all : [...all.filter((o) => !isCopy(o)), ...all.filter(isCopy)];
  const rate = onePerKind((r: Rate) => `${r.num}/${r.den} ${r.dropFrame}`);
  const raster = onePerKind((r: Original['raster']) => `${r.width} ${r.height}`);
  // Every field is written out: copying objects with some fields left out takes many times as long.
  const rows = inOrder.map(
    ({ original: o, volume, here }): OriginalRow => ({
      path: o.path,
      kind: o.kind,
      reel: o.reel,
      clipName: o.clipName,
      fileName: o.fileName,
      timecodeIn: o.hasTimecode ? formatTimecode(o.start, o.rate) : null,
      timecodeOut: o.hasTimecode ? formatTimeOfDay(o.start + o.frames, o.rate) : null,
      start: o.hasTimecode ? o.start : null,
      frames: o.frames,
      rate: rate(o.rate),
      raster: raster(o.raster),
      pixelAspect: o.pixelAspect,
      codec: o.codec,
      files: Math.max(1, o.files.length, o.pieces.length),
      bytes: o.bytes,
      warnings: o.warnings as OriginalRow['warnings'],
      volume: volume.name,
      folder: path.dirname(o.path).slice(volume.path.length + 1),
      here,
      look: lookOfFiles(o),
      usedBy: NONE,
      tags: NONE,
      note: '',
      proxyOf: proxyOf.get(o.path) ?? null,
      proxies: proxies.get(o.path) ?? NONE,
    }),
  );
  plain.set(all, rows);
  return rows;
}

/** Gives, for each value, the first of its kind: the same one in many rows is packed at once. */
function onePerKind<T>(kindOf: (value: T) => string): (value: T) => T {
  const first = new Map<string, T>();
  return (value) => {
    const kind = kindOf(value);
    const known = first.get(kind);
    if (known === undefined) first.set(kind, value);
    return known ?? value;
  };
}

const NONE: never[] = [];

/** Everything known of one original. */
export async function originalPage(jobId: string, file: string): Promise<OriginalPage> {
  const w = await workspace(jobId);
  const row = (await originalRows(jobId)).find((o) => o.path === file);
  const found = w.originals.find((o) => o.original.path === file)?.original;
  if (!row || !found) throw new RequestError(404, 'The job has no such original.');
  const next = mayGoOnIn(
    found,
    w.originals.map((o) => o.original),
  );
  return {
    ...describeOriginal(found),
    ...row,
    versions: await usesInVersions(w, file),
    goesOnIn: next?.path ?? null,
    folderPath: path.dirname(file),
  };
}

/** The parts of each original that the cut uses, as frames of the file: accepted pairs, and the best candidates of the others. */
function usedSpans(w: Workspace): Map<string, UsedSpan[]> {
  const spans = new Map<string, UsedSpan[]>();
  const add = (file: string, span: UsedSpan) => spans.set(file, [...(spans.get(file) ?? []), span]);
  const shown = new Set<string>();
  for (const shot of w.shown?.layers.flatMap((l) => l.shots) ?? []) {
    if (!shot.original) continue;
    const { in: first, out } = sourceSpan(shot.event, shot.run, shot.tail);
    shown.add(shot.event.key);
    add(shot.original.path, { id: shot.event.key, number: shot.event.number, from: shot.sourceStart + first, to: shot.sourceStart + out });
  }
  // A pair that is away is still a use.
  for (const p of w.pairings)
    if (p.acceptedPath && !shown.has(p.event.key)) add(p.acceptedPath, { id: p.event.key, number: p.event.number, from: 0, to: 0 });
  return spans;
}

/** This much of a volume that is away must stand at the same places for another to be taken for it. */
const SAME_VOLUME = 0.8;

/** The volumes of a job; one that was just found may be one that went away. */
export function volumeViews(w: Workspace): VolumeView[] {
  const of = (id: string) => w.originals.filter((o) => o.volume.id === id).map((o) => o.original);
  const away = w.volumes.filter((v) => !v.here).map((v) => ({ ...v, known: of(v.id) }));
  return w.volumes.map(({ formerPaths: _, papers, ...v }) => {
    const found = of(v.id);
    const same = v.here ? away.find((a) => likenessOfVolumes(a.known, a.path, found, v.path) >= SAME_VOLUME) : undefined;
    const missing = papers?.missing.flatMap((m) => m.files) ?? [];
    const unread = papers?.unread ?? [];
    return { ...v, originals: found.length, missing, unread, resembles: same ? { id: same.id, name: same.name, path: same.path } : null };
  });
}

/** Takes a volume that was found under a new path for one that went away: its clips, pairs and remarks follow. */
export async function rehome(jobId: string, foundId: string, awayId: string): Promise<void> {
  const w = await workspace(jobId);
  const [found, away] = [w.volumes.find((v) => v.id === foundId), w.volumes.find((v) => v.id === awayId)];
  if (!found || !away || found.id === away.id) throw new RequestError(404, 'There are no such two volumes.');
  if (away.here) throw new RequestError(409, `${away.name} is here; it cannot be somewhere else as well.`);
  const inJob = eq(originals.jobId, jobId);
  await write(async (tx) => {
    await tx.delete(originals).where(and(inJob, eq(originals.volumeId, away.id)));
    await tx
      .update(originals)
      .set({ volumeId: away.id })
      .where(and(inJob, eq(originals.volumeId, found.id)));
    await tx.delete(volumes).where(eq(volumes.id, found.id));
    await tx
      .update(volumes)
      .set({ path: found.path, formerPaths: [...away.formerPaths, away.path], scannedAt: found.scannedAt })
      .where(eq(volumes.id, away.id));
    const written = await tx.select().from(remarks).where(eq(remarks.jobId, jobId));
    for (const r of written)
      if (r.path.startsWith(`${away.path}/`))
        await tx
          .update(remarks)
          .set({ path: found.path + r.path.slice(away.path.length) })
          .where(and(eq(remarks.jobId, jobId), eq(remarks.path, r.path)));
  });
  changed(jobId);
}

/** Gives a volume another name. */
export async function renameVolume(jobId: string, volumeId: string, name: string): Promise<void> {
  const { volumes: known } = await workspace(jobId);
  if (!known.some((v) => v.id === volumeId)) throw new RequestError(404, 'The job has no such volume.');
  await write((tx) =>
    tx
      .update(volumes)
      .set({ name })
      .where(and(eq(volumes.id, volumeId), eq(volumes.jobId, jobId))),
  );
  decided(jobId);
}

/** Puts tags on originals, takes them off, and sets their note. */
export async function remark(jobId: string, { paths, add, remove, note, was }: z.output<typeof remarkSchema>): Promise<void> {
  await remarkEach(jobId, paths, (old) => {
    if (note !== null && was !== undefined && old.note !== was && old.note !== note)
      throw new RequestError(
        409,
        'Someone else changed this note meanwhile. What you wrote is still here; put both together, then save it.',
      );
    return { tags: [...new Set([...old.tags.filter((t) => !remove.includes(t)), ...add])].sort(), note: note ?? old.note };
  });
}

/** Sets the notes of originals, each its own. */
export async function noteEach(jobId: string, notes: ReadonlyMap<string, string>): Promise<void> {
  await remarkEach(jobId, [...notes.keys()], (old, file) => ({ tags: old.tags, note: notes.get(file) ?? old.note }));
}

interface Remarks {
  readonly tags: string[];
  readonly note: string;
}

async function remarkEach(jobId: string, paths: readonly string[], change: (old: Remarks, file: string) => Remarks): Promise<void> {
  const w = await workspace(jobId);
  const known = new Set(w.originals.map((o) => o.original.path));
  const stranger = paths.find((p) => !known.has(p));
  if (stranger) throw new RequestError(422, `The job has no original ${stranger}.`);
  await write(async (tx) => {
    const before = new Map((await tx.select().from(remarks).where(eq(remarks.jobId, jobId))).map((r) => [r.path, r]));
    for (const file of paths) {
      const row = { jobId, path: file, ...change(before.get(file) ?? { tags: [], note: '' }, file) };
      await tx
        .insert(remarks)
        .values(row)
        .onConflictDoUpdate({ target: [remarks.jobId, remarks.path], set: row });
    }
  });
  decided(jobId);
}

export async function savedFilters(jobId: string): Promise<{ name: string; data: OriginalFilter }[]> {
  await mustBeJob(jobId);
  return (await database())
    .select({ name: filters.name, data: filters.data })
    .from(filters)
    .where(eq(filters.jobId, jobId))
    .orderBy(filters.name);
}

/** Keeps a filter under a name; the one that had the name before is replaced. */
export async function saveFilter(jobId: string, name: string, data: OriginalFilter): Promise<void> {
  await mustBeJob(jobId);
  await write((tx) =>
    tx
      .insert(filters)
      .values({ jobId, name, data })
      .onConflictDoUpdate({ target: [filters.jobId, filters.name], set: { data } }),
  );
  decided(jobId);
}

export async function forgetFilter(jobId: string, name: string): Promise<void> {
  await mustBeJob(jobId);
  await write((tx) => tx.delete(filters).where(and(eq(filters.jobId, jobId), eq(filters.name, name))));
  decided(jobId);
}
