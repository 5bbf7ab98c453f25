import {
  atRecordIn,
  decisionText,
  describeEvidence,
  evidenceOf,
  fileMark,
  formatRate,
  formatTimecode,
  formatTimeOfDay,
  type Pairing,
  type Rate,
  ratesRun,
  recordSpan,
  type Shot,
  shotsByKey,
  speedOf,
} from '@gemello/core';
import { LRUCache } from 'lru-cache';
import {
  type ConformView,
  type ContenderView,
  type EventView,
  type LedgerAnswer,
  type LedgerRow,
  packLedger,
  TRACE_POINTS,
  type TracesView,
} from '../contract';
import { viewOf } from './compiled';
import { RequestError } from './http';
import { lookOf, lookOfJob, mark } from './marks';
import { countsOf, provenNow } from './summaries';
import { JOBS_HELD } from './survey';
import { type Workspace, workspace } from './workspace';

/** The ledger of a job as it was at some time: no more than it takes to tell what changed since. */
interface Version {
  readonly name: string;
  /** Each row as text, by id: two rows that are written alike are alike. */
  readonly texts: ReadonlyMap<string, string>;
}

/** The ledger as it is, with those before it, the last one first. */
interface Held extends Version {
  readonly of: Workspace;
  readonly rows: readonly LedgerRow[];
  readonly older: readonly Version[];
}

/** A page that was last told this many changes ago is told all. */
const VERSIONS_HELD = 8;
const held = new LRUCache<string, Held>({ max: JOBS_HELD });

/** Names of versions do not mean anything to another run of the server. */
const run = Date.now().toString(36);
let count = 0;

/** The newest version of a job's ledger, made when the job is other than it was. */
async function newest(jobId: string): Promise<Held> {
  const w = await workspace(jobId);
  const last = held.get(jobId);
  if (last?.of === w) return last;
  const rows = ledgerRows(w);
  const texts = new Map(rows.map((r) => [r.id, textOf(r)]));
  const older = last ? [{ name: last.name, texts: last.texts }, ...last.older].slice(0, VERSIONS_HELD - 1) : [];
  const now: Held = { name: `${run}.${++count}`, of: w, rows, texts, older };
  held.set(jobId, now);
  return now;
}

/** Rows as text, made once for each: a row that did not change is the same thing as before. */
const texts = new WeakMap<LedgerRow, string>();

function textOf(row: LedgerRow): string {
  const known = texts.get(row);
  if (known !== undefined) return known;
  const made = JSON.stringify(row);
  texts.set(row, made);
  return made;
}

/** The ledger, or what changed in it since a version. */
export async function ledgerAnswer(jobId: string, since: string | null): Promise<LedgerAnswer> {
  const now = await newest(jobId);
  const before = since === now.name ? now : now.older.find((v) => v.name === since);
  const changed = before ? now.rows.filter((r) => now.texts.get(r.id) !== before.texts.get(r.id)) : now.rows;
  const { of: w } = now;
  return {
    version: now.name,
    since: before?.name ?? null,
    rate: rateOf(w),
    span: w.list ? recordSpan(w.list) : { in: 0, out: 0 },
    counts: countsOf(w),
    look: mark(now.rows.map((r) => r.look)),
    rows: packLedger(changed),
    gone: before ? [...before.texts.keys()].filter((id) => !now.texts.has(id)) : [],
  };
}

/** The ledger row by row, as scripts read it. */
export async function ledgerView(jobId: string) {
  const { rows, of: w } = await newest(jobId);
  return { rate: rateOf(w), rows, counts: countsOf(w) };
}

const NO_RATE: Rate = { num: 24, den: 1, dropFrame: false };
const rateOf = (w: Workspace): Rate => w.list?.rate ?? NO_RATE;

function ledgerRows(w: Workspace): LedgerRow[] {
  const shots = shotsByKey(w.shown);
  const ofJob = lookOfJob(w);
  return w.pairings.map((p) => ledgerRow(w, p, shots.get(p.event.key), ofJob)).sort((a, b) => a.recordFrames.in - b.recordFrames.in);
}

/** What a row rests on beside its pairing. */
interface MadeRow {
  readonly basis: readonly unknown[];
  readonly row: LedgerRow;
}

/** Rows that were made: after a decision most are what they were. */
const made = new WeakMap<Pairing, MadeRow>();

function ledgerRow(w: Workspace, p: Pairing, shot: Shot | undefined, ofJob: string): LedgerRow {
  const stored = w.proofs.get(p.event.key);
  const standIn = (p.acceptedPath && w.standIns.get(p.acceptedPath)) || null;
  const typed = w.applied?.provenance.get(p.event.key)?.cdl !== undefined;
  const stale = stored ? !provenNow(w).has(p.event.key) : false;
  const basis = [shot, ofJob, stored?.proof, stale, standIn, typed, rateOf(w)];
  const known = made.get(p);
  if (known && basis.every((part, i) => part === known.basis[i])) return known.row;
  const row = newRow(w, p, shot, ofJob);
  made.set(p, { basis, row });
  return row;
}

function newRow(w: Workspace, p: Pairing, shot: Shot | undefined, ofJob: string): LedgerRow {
  const { event, chosen } = p;
  const rate = rateOf(w);
  const decided = w.applied?.provenance.get(event.key) ?? {};
  const stored = w.proofs.get(event.key);
  const { source, sourceRate } = atRecordIn(event, rate);
  const join = event.transitionIn;
  const standIn = (p.acceptedPath && w.standIns.get(p.acceptedPath)) || null;
  return {
    id: event.key,
    number: event.number,
    track: p.track,
    kind: event.kind,
    reel: event.reel,
    clipName: event.clipName,
    fileName: event.fileName,
    sourceIn: formatTimeOfDay(source.in, sourceRate),
    sourceOut: formatTimeOfDay(source.out, sourceRate),
    recordIn: formatTimecode(event.record.in, rate),
    recordFrames: event.record,
    speed: speedOf(event.retime),
    join: join && `${join.type}${join.wipeCode ? ` ${join.wipeCode}` : ''} ${join.duration}`,
    state: p.state,
    accepted: p.accepted,
    chosen: chosen && { path: chosen.original.path, fileName: chosen.original.fileName, sourceStartFrame: chosen.sourceStartFrame },
    acceptedPath: p.acceptedPath,
    standIn: standIn !== null,
    slip: shot?.slip ?? 0,
    sourceStart: shot?.sourceStart ?? null,
    rates: ratesOf(shot, rate),
    scaled: scaledOf(chosen),
    placed: event.placement !== null,
    acceptedFindings: event.acceptedFindings,
    laterFindings: event.laterFindings,
    cdl: shot?.cdl ?? null,
    cdlFrom: decided.cdl === undefined ? (event.cdl ? 'list' : 'none') : 'typed',
    lut: event.lut,
    group: event.group,
    proof: stored
      ? {
          verdict: stored.proof.verdict,
          score: stored.proof.score,
          findings: stored.proof.findings,
          stale: !provenNow(w).has(event.key),
        }
      : null,
    look: lookOf(shot, standIn, `${ofJob} ${p.contenders.map((c) => fileMark(c.original)).join(' ')}`),
  };
}

/** How an original of another rate runs in the cut, with both rates as people say them; null where they are equally fast. */
function ratesOf(shot: Shot | undefined, rate: Rate): LedgerRow['rates'] {
  if (!shot?.original || shot.original.kind === 'still') return null;
  const runs = ratesRun(shot.original.rate, rate, shot.event.rateMode);
  return runs && { runs, original: formatRate(shot.original.rate), cut: formatRate(rate), set: shot.event.rateMode !== 'usual' };
}

/** How the raster of an original stands to the cut's; null where they are the same, or the list states none. */
function scaledOf(chosen: Pairing['chosen']): LedgerRow['scaled'] {
  if (!chosen?.raster.scaled) return null;
  const { scaled: how, given: original, asked: cut } = chosen.raster;
  return { how, original, cut };
}

/** What the bench shows of one event. */
export async function eventView(jobId: string, key: string): Promise<EventView> {
  const w = await workspace(jobId);
  const p = w.pairings.find((x) => x.event.key === key);
  if (!p) throw new RequestError(404, 'The cut has no such event.');
  const { notes, remarks, placement, mediaPath } = p.event;
  const trace = w.proofs.get(key)?.proof.trace ?? [];
  return {
    contenders: p.contenders.map(contenderView),
    notes,
    remarks,
    placement,
    shape: shapeOf(w),
    follows: followsAnother(w, key),
    mediaPath,
    trace,
    delivered: w.delivery?.list.tracks.flatMap((t) => t.events).find((e) => e.key === key) ?? null,
    decided: decidedOf(w, key),
    grades: gradesOf(w, key),
    doubt: p.doubt,
  };
}

/** What was decided of an event and stands, with the fields that each decision settles. */
function decidedOf({ applied, log }: Workspace, key: string): EventView['decided'] {
  const fields = new Map<number, string[]>();
  for (const [field, decision] of Object.entries(applied?.provenance.get(key) ?? {}))
    fields.set(decision, [...(fields.get(decision) ?? []), field]);
  return [...fields]
    .sort(([a], [b]) => a - b)
    .flatMap(([at, names]) => {
      const [decision, row] = [log.decisions[at], log.rows[at]];
      return decision && row ? [{ fields: names, says: decisionText(decision), who: row.who, when: Number(row.madeAt), why: row.why }] : [];
    });
}

/** The grades that an event had, each once where the same came again. */
function gradesOf({ applied, log, delivery }: Workspace, key: string): EventView['grades'] {
  const listed = delivery?.list.tracks.flatMap((t) => t.events).find((e) => e.key === key)?.cdl ?? null;
  const all: EventView['grades'][number][] = listed ? [{ cdl: listed, who: '', when: 0 }] : [];
  log.decisions.forEach((decision, at) => {
    const row = log.rows[at];
    if (decision.kind !== 'grade' || !row || !applied?.replaced[at]?.some((r) => r.event === key && r.field === 'cdl')) return;
    if (JSON.stringify(all.at(-1)?.cdl ?? null) === JSON.stringify(decision.cdl)) return;
    all.push({ cdl: decision.cdl, who: row.who, when: Number(row.madeAt) });
  });
  return all;
}

/** True where another event of its layer ends where this begins, so that there is a cut between them. */
function followsAnother({ conform }: Workspace, key: string): boolean {
  const layer = conform?.layers.find((l) => l.shots.some((s) => s.event.key === key));
  const at = layer?.shots.findIndex((s) => s.event.key === key) ?? 0;
  return at > 0 && layer?.shots[at - 1]?.event.record.out === layer?.shots[at]?.event.record.in;
}

const shapeOf = ({ conform }: Workspace): number =>
  conform ? (conform.frame.raster.width * conform.frame.pixelAspect) / conform.frame.raster.height : 1;

export function contenderView(c: Pairing['contenders'][number]): ContenderView {
  const { original: o, sourceStartFrame, shiftFrames, line, length } = c;
  return {
    path: o.path,
    fileName: o.fileName,
    reel: o.reel,
    timecodeIn: o.hasTimecode ? formatTimecode(o.start, o.rate) : null,
    frames: o.frames,
    raster: o.raster,
    codec: o.codec,
    sourceStartFrame,
    missingHead: length.missingHead,
    missingTail: length.missingTail,
    missingInside: length.missingInside,
    shiftFrames,
    meets: line !== null,
    evidence: evidenceOf(c).map(describeEvidence),
  };
}

/** What the page compiles its own conform from; null while there is no cut. */
export async function conformView(jobId: string): Promise<ConformView | null> {
  const w = await workspace(jobId);
  return w.shownList && viewOf(w, w.shownList);
}

/** The scores of every proof in few points, the lowest of those that a point stands for. */
export async function tracesView(jobId: string): Promise<TracesView> {
  const { proofs } = await workspace(jobId);
  return Object.fromEntries([...proofs].map(([event, { proof }]) => [event, fewer(proof.trace)]));
}

function fewer(trace: readonly (number | null)[]): (number | null)[] {
  const points = Math.min(TRACE_POINTS, trace.length);
  return Array.from({ length: points }, (_, i) => {
    const part = trace.slice(Math.floor((i * trace.length) / points), Math.floor(((i + 1) * trace.length) / points));
    const scores = part.filter((s) => s !== null);
    return scores.length === 0 ? null : Math.round(100 * Math.min(...scores));
  });
}
