import path from 'node:path';
import { type Algorithm, algorithmOf, checkChecksums, type MeasuredChecksum, type Original, plural, USUAL_ALGORITHM } from '@gemello/core';
import { type FileFault, isFaultOfFile } from '@gemello/media';
import { and, eq, inArray } from 'drizzle-orm';
import { chunks, database, write } from '../../db/open';
import { measurements, originals } from '../../db/schema';
import { mediaThreads } from '../../media';
import { workspace } from '../../workspace';
import type { Kind, Outcome, TaskAtWork } from '../kind';

/** Every file of a clip as it was found, with the algorithms it is to be measured by: the usual one, and those its manifests name. */
function filesOf(o: Original): { path: string; algorithms: Algorithm[] }[] {
  const names = o.files.length > 0 ? o.files : [o.fileName];
  return names.map((file) => {
    const stated = o.checksums.filter((c) => c.file === file).map((c) => algorithmOf(c.algorithm));
    return {
      path: path.join(path.dirname(o.path), file),
      algorithms: [...new Set([USUAL_ALGORITHM, ...stated.filter((a) => a !== null)])],
    };
  });
}

/** Measures the checksums of clips and keeps each as soon as it is known; a clip that was measured as it is now is passed over. */
export const checksums: Kind<'checksums'> = { lane: () => 'background', keeps: 'what is finished', run: measure };

async function measure({ jobId, options: { paths }, report, signal }: TaskAtWork<'checksums'>): Promise<Outcome> {
  const db = await database();
  const w = await workspace(jobId);
  const asked = new Set(paths);
  const chosen = w.originals
    .filter((o) => o.here && asked.has(o.original.path))
    .flatMap((o) => (o.original.pieces.length > 0 ? o.original.pieces.map((p) => p.path) : [o.original.path]));
  const clips: Original[] = [];
  const known = new Map<string, { stamp: string; sums: readonly MeasuredChecksum[] }>();
  for (const part of chunks(chosen)) {
    const rows = await db
      .select()
      .from(originals)
      .where(and(eq(originals.jobId, jobId), inArray(originals.path, part)));
    clips.push(...rows.map((r) => r.data));
    const measured = await db
      .select()
      .from(measurements)
      .where(and(eq(measurements.jobId, jobId), inArray(measurements.path, part)));
    for (const m of measured) known.set(m.path, m);
  }
  const total = clips.reduce((sum, o) => sum + o.bytes, 0);
  let before = 0;
  let wrong = 0;
  const problems: FileFault[] = [];
  for (const clip of clips) {
    const kept = known.get(clip.path);
    let sums = kept?.stamp === clip.stamp ? kept.sums : null;
    if (!sums) {
      sums = await mediaThreads()
        .measureChecksums(
          { files: filesOf(clip) },
          { report: (p) => report({ done: before + p.done, total, what: clip.fileName }), signal },
        )
        .catch((error: unknown): MeasuredChecksum[] => {
          if (signal.aborted || !isFaultOfFile(error)) throw error;
          problems.push({ path: clip.path, message: error.message });
          return [];
        });
      const row = { jobId, path: clip.path, stamp: clip.stamp, sums };
      if (sums.length > 0)
        await write((tx) =>
          tx
            .insert(measurements)
            .values(row)
            .onConflictDoUpdate({ target: [measurements.jobId, measurements.path], set: row }),
        );
    }
    if (checkChecksums({ ...clip, measured: sums }).some((c) => c.result === 'differs')) wrong++;
    before += clip.bytes;
  }
  const parts = [`${plural(clips.length, 'clip')} measured`];
  if (wrong > 0) parts.push(`${wrong} not as a manifest states`);
  if (problems.length > 0) parts.push(`${problems.length} could not be read`);
  return { message: parts.join('; '), result: { problems } };
}
