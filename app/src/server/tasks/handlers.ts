import path from 'node:path';
import { type Raster, shotsByKey } from '@gemello/core';
import { heightFor, type ProveResult, type RenderResult, type Report, type ReturnResult } from '@gemello/media';
import { and, eq, inArray } from 'drizzle-orm';
import type { TaskOptions } from '../../contract/tasks';
import { jobFolder } from '../config';
import { chunks, write } from '../db/open';
import { eventProofs } from '../db/schema';
import { RequestError } from '../http';
import { proofMark } from '../marks';
import { mediaThreads } from '../media';
import { type Workspace, workspace } from '../workspace';
import { measure } from './checksums';
import { type Outcome, plural } from './outcome';
import { makeLightCopies } from './proxies';
import { scanVolumes } from './scan';

/** Does the work of one task. Knows nothing of the runner; may be run again after a crash. */
export function handle(jobId: string, options: TaskOptions, report: Report, signal: AbortSignal): Promise<Outcome> {
  switch (options.kind) {
    case 'scan':
      return scanVolumes(jobId, options.volumes, report, signal);
    case 'checksums':
      return measure(jobId, options.paths, report, signal);
    case 'proxies':
      return makeLightCopies(jobId, options, report, signal);
    case 'proof':
      return proveEvents(jobId, options.events, report, signal);
    case 'return':
      return writeReturn(jobId, options, report, signal);
    case 'review':
      return writeReview(jobId, options, report, signal);
  }
}

function readyToWork(w: Workspace) {
  if (!w.list || !w.conform) throw new RequestError(409, 'There is no list yet.');
  return { list: w.list, conform: w.conform, reachable: w.originals.filter((o) => o.here).map((o) => o.original) };
}

async function proveEvents(jobId: string, only: readonly string[] | null, report: Report, signal: AbortSignal): Promise<Outcome> {
  const w = await workspace(jobId);
  const { list, conform, reachable } = readyToWork(w);
  if (!w.reference) throw new RequestError(409, 'There is no reference movie to prove against. Bring one in under Turnover.');
  const payload = {
    list,
    originals: reachable,
    reference: w.reference.movie,
    cache: jobFolder(jobId, 'cache'),
    only,
  };
  const result: ProveResult = await mediaThreads().prove(payload, report, signal);
  const reference = w.reference;
  const shots = shotsByKey(conform);
  const rows = result.events.flatMap((proof) => {
    const shot = shots.get(proof.event);
    return shot ? [{ jobId, event: proof.event, madeFrom: proofMark(conform, shot, reference), data: proof }] : [];
  });
  await write(async (tx) => {
    for (const part of chunks(rows)) {
      await tx.delete(eventProofs).where(
        and(
          eq(eventProofs.jobId, jobId),
          inArray(
            eventProofs.event,
            part.map((r) => r.event),
          ),
        ),
      );
      await tx.insert(eventProofs).values(part);
    }
  });
  const differing = result.events.filter((e) => e.verdict === 'differs').length;
  const { events: _, ...rest } = result;
  return {
    message: `${result.framesCompared} frames compared in ${result.seconds.toFixed(1)} s; ${differing === 0 ? 'nothing differs' : `${plural(differing, 'event')} differ${differing === 1 ? 's' : ''}`}`,
    result: rest,
  };
}

async function writeReturn(
  jobId: string,
  options: Extract<TaskOptions, { kind: 'return' }>,
  report: Report,
  signal: AbortSignal,
): Promise<Outcome> {
  const w = await workspace(jobId);
  const { list, reachable } = readyToWork(w);
  const folder = jobFolder(jobId, 'returns', options.title.replace(/[^\w.-]+/g, '_'));
  const payload = {
    list,
    originals: reachable,
    folder,
    handles: options.handles,
    title: options.title,
    render: options.render,
  };
  const result: ReturnResult = await mediaThreads().writeReturn(payload, report, signal);
  const kept = {
    folder,
    lists: result.lists,
    notCarried: result.notCarried,
    clips: result.clips.length,
    problems: result.problems,
    warnings: result.warnings,
  };
  const check = result.problems.length === 0 ? 'all as planned' : plural(result.problems.length, 'problem');
  return { message: options.render ? `${plural(result.clips.length, 'clip')} written; ${check}` : 'List and table written', result: kept };
}

/** Writes the whole conform as one movie to look at, into a folder of the job. */
async function writeReview(
  jobId: string,
  { burnIn, sound }: Extract<TaskOptions, { kind: 'review' }>,
  report: Report,
  signal: AbortSignal,
): Promise<Outcome> {
  const w = await workspace(jobId);
  const { list, reachable } = readyToWork(w);
  const name = `${list.title.trim().replace(/[^\w.-]+/g, '_') || 'cut'}_review.mp4`;
  const file = path.join(jobFolder(jobId, 'reviews'), name);
  const reference = sound ? w.reference : null;
  const movie = reference?.movie.sound ? reference.movie.path : null;
  const size = reviewSize(w.conform?.frame.raster ?? null);
  const payload = { list, originals: reachable, file, codec: 'review' as const, size, burnIn, sound: movie };
  const result: RenderResult = await mediaThreads().render(payload, report, signal);
  const lacking = Object.keys(result.missing).length;
  const without = sound && !movie ? '; the reference has no sound' : '';
  const check =
    lacking === 0
      ? 'every picture there'
      : `${plural(lacking, 'event')} without all of ${lacking === 1 ? 'its pictures' : 'their pictures'}`;
  return { message: `${result.frames} frames in ${name}; ${check}${without}`, result: { file, name, missing: result.missing } };
}

/** A review is at most this wide. */
const REVIEW_WIDTH = 1280;

/** The size of a review: the cut's own where that is small enough (null), else smaller in its shape. */
function reviewSize(raster: Raster | null): Raster | null {
  if (!raster || raster.width <= REVIEW_WIDTH) return null;
  return { width: REVIEW_WIDTH, height: heightFor(REVIEW_WIDTH, raster) };
}
