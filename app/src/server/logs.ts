import path from 'node:path';
import { guessLogMapping, holdLog, readLogTable, readWholeLog, saysSomething } from '@gemello/core';
import type { z } from 'zod';
import type { LogView, logSchema } from '../contract';
import { answered, drives } from './drives';
import { RequestError } from './http';
import { decide } from './jobs';
import { LARGE_TEXT, mediaThreads } from './media';
import { noteEach } from './originals';
import { workspace } from './workspace';

/** Larger logs are not opened, in bytes. */
const LARGEST = 32e6;

/** The clip logs that lie on the job's volumes, as paths, each with its volume; `understood` when its headings say what they are. */
export async function logsOnVolumes(jobId: string): Promise<{ path: string; name: string; volume: string; understood: boolean }[]> {
  const { volumes } = await workspace(jobId);
  const all = volumes.filter((v) => v.here).flatMap((v) => (v.papers?.logs ?? []).map((file) => ({ file, volume: v.name })));
  const read = await Promise.all(
    all.map(async ({ file, volume }) => {
      const text = await drives()
        .textOf(file, LARGEST)
        .catch(() => null);
      if (text === null) return [];
      const understood = saysSomething(guessLogMapping(readLogTable(text.slice(0, 64_000)).headings));
      return [{ path: file, name: path.basename(file), volume, understood }];
    }),
  );
  return read.flat();
}

/** Holds a log against the originals; with `take`, what it says is set as one decision, and its notes go to the clips. */
export async function readLog(jobId: string, request: z.output<typeof logSchema>): Promise<LogView & { batch: string | null }> {
  const w = await workspace(jobId);
  const text = request.text ?? (await logText(jobId, request.path));
  const source = `clip log ${request.name}`;
  const asked = { text, source, mapping: request.mapping ?? undefined };
  const { log, ...read } = text.length > LARGE_TEXT ? await mediaThreads().readLog(asked) : readWholeLog(text, source, asked.mapping);
  const held = holdLog(
    log,
    w.originals.map((o) => o.original),
    `${source}, imported`,
  );
  let batch: string | null = null;
  if (request.take) {
    if (held.corrections.length + held.notes.length === 0)
      throw new RequestError(422, 'As its columns are read, the log says nothing new of any clip that is here.');
    if (held.corrections.length > 0)
      batch = await decide(
        jobId,
        held.corrections.map((c) => c.word),
      );
    if (held.notes.length > 0) await noteEach(jobId, new Map(held.notes.map((n) => [n.path, n.note])));
  }
  return {
    headings: read.headings,
    sample: read.rows,
    rows: read.count,
    mapping: read.mapping,
    changes: held.corrections.map((c) => ({ path: c.original.path, clipName: c.original.clipName, now: c.now, says: c.says })),
    notes: held.notes.length,
    agreeing: held.agreeing,
    unmatched: held.unmatched,
    ambiguous: held.ambiguous,
    batch,
  };
}

/** Only logs that a scan found on a volume are opened. */
async function logText(jobId: string, file: string | null): Promise<string> {
  const { volumes } = await workspace(jobId);
  if (!file || !volumes.some((v) => v.papers?.logs.includes(file)))
    throw new RequestError(404, 'There is no such clip log on the volumes.');
  const text = await answered(drives().textOf(file, LARGEST));
  if (text === null) throw new RequestError(422, `${path.basename(file)} is too large for a clip log, or cannot be opened.`);
  return text;
}
