import {
  checkPreparation,
  countStates,
  countVerdicts,
  type Decision,
  describeList,
  type EventDecision,
  formatTimecode,
  isAboutEvent,
  isAboutOriginal,
  lengthOf,
  type OriginalWord,
  type Pairing,
  planReturn,
  recordSpan,
  type Shot,
  speedOf,
} from '@gemello/core';
import { referenceStartOf } from '@gemello/media';
import { z } from 'zod';
import {
  type ActivityView,
  type ContenderView,
  type DecisionView,
  type FileProblem,
  fileProblemSchema,
  type JobCounts,
  type JobSummary,
  type JobView,
  type LedgerRow,
  type LedgerView,
  type ReturnView,
  type RibbonSpan,
  type TurnoverView,
} from '../contract';
import { activity, openTasks } from './jobs';
import { volumeViews } from './originals';
import { rateStated, settingChecks } from './settings';
import { taskView } from './tasks/runner';
import { proofKey, type Workspace, workspace } from './workspace';

/** A short line for the desk: what the job is, and what is still open in it. */
export async function jobSummary(jobId: string): Promise<JobSummary> {
  const w = await workspace(jobId);
  const span = w.list ? recordSpan(w.list) : { in: 0, out: 0 };
  return {
    id: w.id,
    title: w.title,
    createdAt: w.createdAt,
    listTitle: w.list?.title ?? null,
    durationFrames: lengthOf(span),
    counts: w.list ? counts(w) : null,
    ribbon: ribbon(w, span.in),
    running: (await openTasks(jobId)).length,
  };
}

function ribbon(w: Workspace, start: number): RibbonSpan[] {
  const layers = [...new Set(w.pairings.map((p) => p.track))];
  return w.pairings.map((p) => ({
    event: p.event.id,
    layer: layers.indexOf(p.track),
    from: p.event.record.in - start,
    to: p.event.record.out - start,
    state: p.state,
  }));
}

function counts(w: Workspace): JobCounts {
  const accepted = shotsOf(w.conform);
  const verdicts = w.pairings.map((p) => {
    const stored = w.proofs.get(p.event.id);
    return { verdict: stored && holds(w, stored, accepted.get(p.event.id)) ? stored.proof.verdict : ('unchecked' as const) };
  });
  return { states: countStates(w.pairings), verdicts: countVerdicts(verdicts) };
}

const shotsOf = (conform: Workspace['conform']): Map<string, Shot> =>
  new Map(conform?.layers.flatMap((l) => l.shots).map((s) => [s.event.id, s]) ?? []);

/** True while what a proof was made from is what stands now. */
const holds = (w: Workspace, stored: { madeFrom: string }, shot: Shot | undefined): boolean =>
  shot !== undefined && w.reference !== null && stored.madeFrom === proofKey(shot, w.reference.id);

export async function jobView(jobId: string): Promise<JobView> {
  const w = await workspace(jobId);
  const span = w.list ? recordSpan(w.list) : null;
  const movie = w.reference?.movie;
  return {
    id: w.id,
    title: w.title,
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
    rules: w.rules,
    volumes: volumeViews(w),
    checks: w.delivery ? settingChecks(w.delivery.list, w.reference?.movie ?? null, w.listRow?.options ?? {}) : [],
    originals: w.originals.length,
    tasks: (await openTasks(jobId)).map(taskView),
  };
}

export async function ledgerView(jobId: string): Promise<LedgerView> {
  const w = await workspace(jobId);
  const rate = w.list?.rate ?? { num: 24, den: 1, dropFrame: false };
  const span = w.list ? recordSpan(w.list) : { in: 0, out: 0 };
  const shots = shotsOf(w.shown);
  const accepted = shotsOf(w.conform);
  const rows = w.pairings.map((p) => ledgerRow(w, p, shots.get(p.event.id), accepted.get(p.event.id)));
  return { rate, span, rows: rows.sort((a, b) => a.recordFrames.in - b.recordFrames.in), counts: counts(w) };
}

function ledgerRow(w: Workspace, p: Pairing, shot: Shot | undefined, accepted: Shot | undefined): LedgerRow {
  const { event } = p;
  const rate = w.list?.rate ?? event.sourceRate;
  const grade = w.settled.get(event.id)?.grade;
  const stored = w.proofs.get(event.id);
  const stale = !(stored && holds(w, stored, accepted));
  const join = event.transitionIn;
  const standIn = (p.acceptedPath && w.standIns.get(p.acceptedPath)) || null;
  return {
    id: event.id,
    number: event.number,
    track: p.track,
    kind: event.kind,
    reel: event.reel,
    clipName: event.clipName,
    fileName: event.fileName,
    sourceIn: formatTimecode(event.source.in, event.sourceRate),
    sourceOut: formatTimecode(event.source.out, event.sourceRate),
    recordIn: formatTimecode(event.record.in, rate),
    recordOut: formatTimecode(event.record.out, rate),
    recordFrames: event.record,
    speed: speedOf(event.retime),
    join: join && `${join.type}${join.wipeCode ? ` ${join.wipeCode}` : ''} ${join.duration}`,
    notes: event.notes,
    state: p.state,
    accepted: p.accepted,
    chosen: p.chosen && contenderView(p.chosen),
    acceptedPath: p.acceptedPath,
    contenders: p.contenders.map(contenderView),
    standIn: standIn !== null,
    slip: shot?.slip ?? 0,
    cdl: shot?.cdl ?? null,
    cdlFrom: grade === undefined ? (event.cdl ? 'list' : 'none') : 'typed',
    proof: stored
      ? { verdict: stored.proof.verdict, score: stored.proof.score, findings: stored.proof.findings, stale, trace: stored.proof.trace }
      : null,
    look: hash([shot?.original?.path ?? standIn?.path, shot?.sourceStart, shot?.cdl, w.reference?.id]),
  };
}

/** A short number that changes with its parts (FNV-1a, 32 bits); for addresses, not for safety. */
function hash(parts: readonly unknown[]): string {
  let h = 0x811c9dc5;
  for (const c of JSON.stringify(parts)) h = Math.imul(h ^ c.charCodeAt(0), 0x01000193);
  return (h >>> 0).toString(36);
}

function contenderView(c: Pairing['contenders'][number]): ContenderView {
  const { original: o, sourceStartFrame, missingHead, missingTail, missingInside, shiftFrames, meets, evidence } = c;
  return {
    path: o.path,
    fileName: o.fileName,
    reel: o.reel,
    timecodeIn: o.hasTimecode ? formatTimecode(o.start, o.rate) : null,
    frames: o.frames,
    raster: o.raster,
    codec: o.codec,
    sourceStartFrame,
    missingHead,
    missingTail,
    missingInside,
    shiftFrames,
    meets,
    evidence,
  };
}

/** The list beside its text: which event stands on which line of which file. */
export async function turnoverView(jobId: string): Promise<TurnoverView | null> {
  const { delivery, reference, conform } = await workspace(jobId);
  if (!delivery) return null;
  const { list, files } = delivery;
  const referenceEnd = reference && conform ? referenceStartOf(reference.movie, conform) + reference.movie.frames : null;
  const lines: TurnoverView['lines'] = {};
  for (const track of list.tracks)
    for (const event of track.events) if (event.line !== null) lines[event.id] = { part: track.part ?? 0, line: event.line };
  return {
    list: describeList(list),
    files: files.map(({ fileName, text, format }) => ({ fileName, text, format: format?.title ?? null })),
    lines,
    notices: list.notices,
    preparation: checkPreparation(list, referenceEnd),
  };
}

export async function activityView(jobId: string): Promise<ActivityView> {
  const { list } = await workspace(jobId);
  const numbers = new Map(list?.tracks.flatMap((t) => t.events.map((e) => [e.id, e.number] as const)) ?? []);
  const { made, work } = await activity(jobId);
  const batches = new Map<string, { row: (typeof made)[number]; all: Decision[] }>();
  for (const row of made) {
    const batch = batches.get(row.batch);
    if (batch) batch.all.push(row.decision);
    else batches.set(row.batch, { row, all: [row.decision] });
  }
  return {
    tasks: work.map((t) => ({ ...taskView(t), problems: problemsOf(t.result) })),
    decisions: [...batches.values()].map(
      ({ row, all }): DecisionView => ({
        batch: row.batch,
        madeAt: row.madeAt,
        who: row.who,
        text: batchText(all, (id) => numbers.get(id) ?? id),
        withdrawn: row.withdrawnAt !== null,
      }),
    ),
  };
}

function batchText(all: readonly Decision[], number: (id: string) => string): string {
  const [first] = all;
  if (!first) return '';
  if (!isAboutEvent(first)) return wordsText(all.filter(isAboutOriginal));
  if (all.length > 1) return `${all.length} events: ${[...new Set(all.filter(isAboutEvent).map((d) => WORDS[d.kind]))].join(', ')}`;
  return `Event ${number(first.event)}: ${decisionText(first)}`;
}

const WORDS = {
  pair: 'paired',
  unpair: 'unpaired',
  slip: 'slipped',
  exempt: 'exempted',
  grade: 'graded',
  carry: 'carried over',
} as const;

const nameOf = (path: string) => path.split('/').pop() ?? path;

/** What was said of originals at once, which are all said alike. */
function wordsText(all: readonly OriginalWord[]): string {
  const [first] = all as [OriginalWord];
  const one = first.kind === 'correct-folder' ? `all in ${nameOf(first.folder)}` : nameOf(first.original);
  const whose = all.length === 1 ? one : `${all.length} ${first.kind === 'correct-folder' ? 'folders' : 'originals'}`;
  switch (first.kind) {
    case 'correct':
      return `${whose}: ${correctionText(first.reel, first.start === undefined ? undefined : first.start === null ? null : 'timecode set', first.rate)}${first.source ? `, by ${first.source}` : ''}`;
    case 'correct-folder':
      return `${whose}: ${correctionText(first.reel, first.shift && `timecode shifted by ${first.shift}`)}`;
    case 'proxy':
      return `${whose}: ${first.of === null ? 'no light copy' : all.length === 1 ? `a light copy of ${nameOf(first.of)}` : 'light copies'}`;
    case 'join':
      return first.parts.length === 0 ? `${whose}: stands alone` : `${whose}: goes on in ${first.parts.map(nameOf).join(', ')}`;
  }
}

/** The two things that can be corrected; null is a word taken back, undefined nothing said. */
function correctionText(reel: string | null | undefined, timecode: string | null | undefined, rate?: string | null): string {
  const parts = [
    reel === undefined ? '' : reel === null ? 'reel as the file says' : `reel ${reel}`,
    timecode === undefined ? '' : (timecode ?? 'timecode as the file says'),
    rate === undefined ? '' : rate === null ? 'rate as the file says' : `rate ${rate}`,
  ];
  return parts.filter(Boolean).join(', ');
}

function decisionText(d: EventDecision): string {
  switch (d.kind) {
    case 'pair':
      return `paired with ${d.original.split('/').pop()} from its frame ${d.sourceStartFrame}`;
    case 'slip':
      return `slipped by ${d.frames > 0 ? '+' : ''}${d.frames} frames`;
    case 'exempt':
      return d.exempt ? 'needs no original' : 'needs an original';
    case 'grade':
      return d.cdl ? 'graded' : 'grade removed';
    case 'carry':
      return `${Object.keys(d.carried).join(', ')} carried over from ${d.from}`;
    case 'unpair':
      return 'pair removed';
  }
}

/** What would be written now, and what was written last. */
export async function returnView(jobId: string, handles: number): Promise<ReturnView> {
  const w = await workspace(jobId);
  const { work } = await activity(jobId);
  const last = work.find((t) => t.kind === 'return' && t.state === 'done')?.result as ReturnView['last'] | undefined;
  if (!w.list || !w.conform) return { clips: [], warnings: [], last: last ?? null };
  const plan = planReturn(w.list, w.conform, { handles, extension: 'mov', title: w.list.title });
  return {
    clips: plan.clips.map((c) => ({
      event: c.event,
      number: c.number,
      fileName: c.fileName,
      frames: lengthOf(c.given),
      headHandle: c.headHandle,
      tailHandle: c.tailHandle,
      start: formatTimecode(c.start, c.rate),
      reel: c.reel,
      graded: c.cdl !== null,
    })),
    warnings: plan.warnings,
    last: last ?? null,
  };
}

const withProblems = z.object({ problems: z.array(fileProblemSchema) });

/** The files that a task could not do, from what it came to; other kinds of task have none. */
function problemsOf(result: unknown): FileProblem[] {
  return withProblems.safeParse(result).data?.problems ?? [];
}
