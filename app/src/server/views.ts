import {
  bytesOfClip,
  checkPreparation,
  type Decision,
  decisionsFile,
  describeList,
  describeNotices,
  eventOf,
  formatTimecode,
  framesOfClip,
  lengthOf,
  planReturn,
  READY_RULES,
  type ReturnAsked,
  type ReturnPlan,
  type Rules,
  recordSpan,
  refusalText,
  returnAskedSchema,
  rulesSchema,
  USUAL_RETURN,
} from '@gemello/core';
import { roomOn } from '@gemello/media';
import { z } from 'zod';
import {
  type ActivityView,
  type CutsView,
  cutsFoundSchema,
  type DecisionView,
  type FileProblem,
  fileProblemSchema,
  type JobView,
  keptUntil,
  type ReturnView,
  type SearchView,
  searchResultSchema,
  type TurnoverView,
} from '../contract';
import { batchText, eventNames } from './batches';
import { DATA } from './config';
import { cutsMark } from './cuts';
import { database } from './db/open';
import { decisionLog } from './jobs';
import type { DecisionRow } from './log';
import { clipMark, listMark } from './marks';
import { volumeViews } from './originals';
import { readingsOf } from './readings';
import { rateStated, settingChecks } from './settings';
import { allTasks, openTasks, taskView } from './tasks/runner';
import { type Workspace, workspace } from './workspace';

export async function jobView(jobId: string): Promise<JobView> {
  const w = await workspace(jobId);
  const span = w.list ? recordSpan(w.list) : null;
  const movie = w.reference?.movie;
  return {
    id: w.id,
    title: w.title,
    keptUntil: keptUntil(w.deletedAt),
    list:
      w.list && w.listRow && span
        ? {
            id: w.listRow.id,
            fileName: w.delivery?.files.map((f) => f.fileName).join(', ') ?? '',
            title: w.list.title,
            rate: w.list.rate,
            rateSet: w.listRow.options.rate !== undefined,
            rateStated: rateStated(w.list),
            startTimecode: formatTimecode(span.in, w.list.rate),
            durationFrames: lengthOf(span),
          }
        : null,
    reference: movie
      ? {
          fileName: movie.fileName,
          timecodeIn: movie.hasTimecode ? formatTimecode(movie.start, movie.rate) : null,
          frames: movie.frames,
          rate: movie.rate,
          raster: movie.raster,
          codec: movie.codec,
        }
      : null,
    guide: w.guide && { fileName: w.guide.sound.fileName, lies: w.guide.lies?.by ?? null },
    rules: w.rules,
    ruleSets: ruleSetsOf(w),
    preference: w.applied?.preference ?? null,
    volumes: volumeViews(w),
    checks: w.delivery ? settingChecks(w.delivery.list, w.reference, w.listRow?.options ?? {}) : [],
    originals: w.originals.length,
    waiting: w.log.waiting.length,
    refused: w.applied?.refused.length ?? 0,
    tasks: (await openTasks(jobId)).map(taskView),
  };
}

/** The list beside its text: which event stands on which line of which file. */
export async function turnoverView(jobId: string): Promise<TurnoverView | null> {
  const { delivery, reference, conform } = await workspace(jobId);
  if (!delivery) return null;
  const { list, files } = delivery;
  const referenceEnd = reference && conform ? reference.lay.start + reference.movie.frames : null;
  const lines: TurnoverView['lines'] = {};
  for (const track of list.tracks)
    for (const event of track.events) if (event.line !== null) lines[event.key] = { part: track.part ?? 0, line: event.line };
  return {
    list: describeList(list),
    files: files.map(({ fileName, text, format }) => ({ fileName, text: text ?? '', format: format?.title ?? null })),
    lines,
    notices: describeNotices(list),
    preparation: checkPreparation(list, referenceEnd),
  };
}

export async function activityView(jobId: string): Promise<ActivityView> {
  const w = await workspace(jobId);
  const names = await eventNames(w);
  const [made, work] = [await decisionLog(jobId), await allTasks(jobId)];
  const waiting = new Set(w.log.waiting.map((r) => r.id));
  const refused = new Map((w.applied?.refused ?? []).map((r) => [w.log.rows[r.decision]?.id, refusalText(r)] as const));
  const batches = new Map<string, (typeof made)[number][]>();
  for (const row of made) {
    const batch = batches.get(row.batch);
    if (batch) batch.push(row);
    else batches.set(row.batch, [row]);
  }
  return {
    tasks: work.map((t) => ({ ...taskView(t), problems: problemsOf(t.result) })),
    decisions: [...batches.values()].map((rows): DecisionView => {
      const [row] = rows as [(typeof made)[number]];
      return {
        batch: row.batch,
        madeAt: row.madeAt,
        who: row.who,
        why: row.why,
        text: batchText(rows.map((r) => r.decision).reverse(), names),
        was: rows.length === 1 ? replacedText(row) : '',
        withdrawn: row.withdrawnAt !== null,
        waiting: [...new Set(rows.filter((r) => waiting.has(r.id)).map((r) => names(eventOf(r.decision) ?? '')))],
        refused: rows.flatMap((r) => refused.get(r.id) ?? []),
      };
    }),
  };
}

/** What stood before a single decision, where that is a number or a word. */
function replacedText({ replaced }: DecisionRow): string {
  const [first] = replaced ?? [];
  if (!first || replaced?.length !== 1) return '';
  const { before } = first;
  if (typeof before === 'string' || typeof before === 'number') return `was ${before}`;
  if (first.field !== 'pair' || typeof before !== 'object' || before === null) return '';
  const pair = before as { original?: string; sourceStartFrame?: number };
  return `was ${pair.original?.split('/').pop()} from frame ${pair.sourceStartFrame}`;
}

/** The decisions that stand, as a file to be kept or brought elsewhere; what waits goes along. */
export async function decisionsView(jobId: string) {
  const w = await workspace(jobId);
  const waiting = w.log.waiting.map((r) => ({ row: r, decision: r.decision }));
  const standing = w.log.rows.map((row, i) => ({ row, decision: w.log.decisions[i] as Decision }));
  const entries = [...standing, ...waiting]
    .sort((a, b) => a.row.id - b.row.id)
    .map(({ row, decision }) => ({ decision, who: row.who, when: row.madeAt, ...(row.why ? { why: row.why } : {}) }));
  const file = decisionsFile(w.delivery?.list ?? null, w.title, entries);
  const keys = new Set(file.events.map((e) => e.key));
  const former = waiting.length === 0 ? [] : [...(await readingsOf(await database(), jobId)).values()].flat();
  return { ...file, events: [...file.events, ...former.filter((e) => !keys.has(e.key) && keys.add(e.key))] };
}

/** What a review or a report came to: where its file lies. */
interface ReviewResult {
  readonly file: string;
  readonly name: string;
}

/** The movie to look at, or the report of a proof, that was written last; null where none was. */
export async function fileWritten(jobId: string, kind: 'review' | 'proof-report'): Promise<string | null> {
  const work = await allTasks(jobId);
  const written = work.find((t) => t.kind === kind && t.state === 'done')?.result as ReviewResult | undefined;
  return written?.file ?? null;
}

/** What would be written now if it were asked for in one way, and what was written last. */
export async function returnView(jobId: string, asked: ReturnAsked = USUAL_RETURN): Promise<ReturnView> {
  const w = await workspace(jobId);
  const work = await allTasks(jobId);
  const last = lastReturn(w, work.find((t) => t.kind === 'return' && t.state === 'done')?.result);
  const written = work.find((t) => t.kind === 'review' && t.state === 'done');
  const review = written ? { name: (written.result as ReviewResult).name, message: written.message } : null;
  const room = await roomOn(DATA);
  if (!w.list || !w.conform) return { clips: [], warnings: [], review, last, bytes: 0, room };
  const plan = planReturn(w.list, w.conform, { ...asked, title: w.list.title });
  return {
    clips: plan.clips.map((c) => ({
      event: c.event,
      number: c.number,
      fileName: c.within ? `${c.within}/${c.fileName}` : c.fileName,
      frames: framesOfClip(c),
      headHandle: c.headHandle,
      tailHandle: c.tailHandle,
      start: formatTimecode(c.start, c.rate),
      reel: c.reel,
      graded: c.cdl !== null || c.lut !== null,
      events: c.events.length,
      baked: [...(c.baking.speed ? (['speed'] as const) : []), ...(c.baking.placed ? (['placement'] as const) : [])],
      raster: c.raster,
    })),
    bytes: plan.clips.reduce((sum, c) => sum + bytesOfClip(c, asked.codec), 0),
    room,
    warnings: plan.warnings,
    review,
    last,
  };
}

/** The sets of rules that people named, each as it was last applied. */
function ruleSetsOf({ log }: Workspace): Rules[] {
  const named = new Map<string, Rules>();
  for (const d of log.decisions) {
    if (d.kind !== 'rules') continue;
    const set = rulesSchema.parse(d.rules);
    if (set.name === '' || READY_RULES.some((ready) => ready.name === set.name)) continue;
    named.delete(set.name);
    named.set(set.name, set);
  }
  return [...named.values()].reverse();
}

/** What a return came to, as it was kept; those of earlier versions did not keep what they were made from, and how in other words. */
type KeptReturn = Omit<NonNullable<ReturnView['last']>, 'stale' | 'otherList'> & {
  readonly title?: string;
  readonly asked?: unknown;
  readonly handles?: number;
  readonly template?: string;
  readonly madeFrom?: Readonly<Record<string, string>>;
  readonly listFrom?: string | null;
};

function lastReturn(w: Workspace, result: unknown): ReturnView['last'] {
  if (!result) return null;
  const { title = '', asked: kept, handles, template, madeFrom = {}, listFrom = null, ...told } = result as KeptReturn;
  const asked = returnAskedSchema.parse(kept ?? { handles, template });
  const plan = w.list && w.conform && planReturn(w.list, w.conform, { ...asked, title });
  return {
    ...told,
    stale: staleClips(w, plan, madeFrom),
    otherList: listFrom !== null && (!plan || listMark(plan) !== listFrom),
  };
}

function staleClips(w: Workspace, plan: ReturnPlan | null, madeFrom: Readonly<Record<string, string>>): string[] {
  const now = new Map(
    plan?.clips.map((clip) => {
      const original = w.reachable.get(clip.originalPath);
      return [clip.fileName, original && clipMark(clip, original, w)];
    }),
  );
  return Object.keys(madeFrom).filter((name) => now.get(name) !== madeFrom[name]);
}

/** The newest search for what the cut lacks, with what it found by now. */
export async function searchView(jobId: string): Promise<SearchView> {
  const row = (await allTasks(jobId)).find((t) => t.kind === 'search');
  return row ? { task: taskView(row), result: searchResultSchema.safeParse(row.result).data ?? null } : null;
}

const withProblems = z.object({ problems: z.array(fileProblemSchema) });

/** The files that a task could not do, from what it came to; other kinds of task have none. */
function problemsOf(result: unknown): FileProblem[] {
  return withProblems.safeParse(result).data?.problems ?? [];
}

/** The reference with the cuts that were found in it last. */
export async function cutsView(jobId: string): Promise<CutsView> {
  const { reference, conform } = await workspace(jobId);
  const row = (await allTasks(jobId)).find((t) => t.kind === 'cuts');
  if (!reference) return { movie: null, task: null, found: null };
  const { movie, lay } = reference;
  const found = row?.state === 'done' ? (cutsFoundSchema.safeParse(row.result).data ?? null) : null;
  return {
    movie: {
      fileName: movie.fileName,
      frames: movie.frames,
      start: movie.start,
      record: conform ? lay.start : movie.start,
      rate: movie.rate,
    },
    task: row ? taskView(row) : null,
    found: found?.madeFrom === cutsMark(movie) ? found : null,
  };
}
