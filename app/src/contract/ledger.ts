import type {
  Cdl,
  EvidenceDescription,
  Finding,
  Frames,
  GuideLies,
  ListEvent,
  LutUse,
  Original,
  PairState,
  Placement,
  Rate,
  ReferenceLay,
  Standing,
  Verdict,
} from '@gemello/core';
import { PAIR_STATES, rulesSchema } from '@gemello/core/pairing';
import { VERDICTS } from '@gemello/core/proof';
import { formatTimecode } from '@gemello/core/time';
import { z } from 'zod';
import { type Column, columnReader, lengthOfColumn, type Packed, packColumn, packedSchema } from './packed';
import { told } from './told';

/** How many events stand in each state, and how many proofs came out how. */
export const jobCountsSchema = z.object({
  states: z.record(z.enum(PAIR_STATES), z.number()),
  verdicts: z.record(z.enum(VERDICTS), z.number()),
});
export type JobCounts = z.infer<typeof jobCountsSchema>;

/** An original that an event was, or may be, paired with, and the frame of it that stands for the source in. */
export const twinSchema = z.object({
  path: z.string(),
  fileName: z.string(),
  sourceStartFrame: z.number(),
});
export type Twin = z.infer<typeof twinSchema>;

/** One row of the ledger: the event, its twin, its proof and its grade, as far as lists and the ribbon show them. Record frames count from 00:00:00:00. */
export interface LedgerRow {
  readonly id: string;
  readonly number: string;
  readonly track: string;
  readonly kind: string;
  readonly reel: string;
  readonly clipName: string;
  readonly fileName: string;
  readonly sourceIn: string;
  readonly sourceOut: string;
  readonly recordIn: string;
  readonly recordFrames: { readonly in: Frames; readonly out: Frames };
  readonly speed: number;
  readonly join: string | null;
  readonly state: PairState;
  readonly accepted: boolean;
  /** The accepted original, else the best candidate. */
  readonly chosen: Twin | null;
  /** Where the accepted original is or was. */
  readonly acceptedPath: string | null;
  /** True while a proxy is shown because the original is away. */
  readonly standIn: boolean;
  readonly slip: Frames;
  /** Frame of the original that stands for the source in; null where there is none. */
  readonly sourceStart: Frames | null;
  /** How an original of another rate runs; null where both are equally fast. `set`: by a person. */
  readonly rates: {
    readonly runs: 'real-time' | 'frame-for-frame';
    readonly original: string;
    readonly cut: string;
    readonly set: boolean;
  } | null;
  /** Where the raster of its original is another than the cut's, and so is drawn scaled; null else. */
  readonly scaled: { readonly how: 'larger' | 'smaller'; readonly original: string; readonly cut: string } | null;
  /** True where it has a size, position or crop of its own. */
  readonly placed: boolean;
  readonly acceptedFindings: readonly string[];
  readonly laterFindings: readonly string[];
  readonly cdl: Cdl | null;
  readonly cdlFrom: 'list' | 'typed' | 'none';
  /** The LUT after its CDL, and the group it is graded with; null for none. */
  readonly lut: LutUse | null;
  readonly group: string | null;
  readonly proof: {
    readonly verdict: Verdict;
    readonly score: number | null;
    readonly findings: readonly Finding[];
    /** True where what it was made from is other than what stands now. */
    readonly stale: boolean;
  } | null;
  /** Changes whenever its pictures do; part of their address. */
  readonly look: string;
}

export interface LedgerView {
  readonly rate: Rate;
  readonly span: { readonly in: Frames; readonly out: Frames };
  readonly rows: readonly LedgerRow[];
  readonly counts: JobCounts;
  /** Changes whenever any picture of the cut does. */
  readonly look: string;
  /** What it was at; asking for what changed since names it. */
  readonly version: string;
}

/** The ledger as it is sent: all of it, or what changed since a version that the page has. */
export const ledgerAnswerSchema = z.object({
  rate: told<Rate>(),
  span: z.object({ in: z.number(), out: z.number() }),
  counts: jobCountsSchema,
  look: z.string(),
  version: z.string(),
  /** The version that `rows` change; null where they are all there are. */
  since: z.string().nullable(),
  rows: packedSchema,
  /** Rows that are no longer there, by id. */
  gone: z.array(z.string()).readonly(),
});
export type LedgerAnswer = z.infer<typeof ledgerAnswerSchema>;

/** One candidate with everything that speaks for and against it. */
export const contenderViewSchema = twinSchema.extend({
  reel: z.string(),
  timecodeIn: z.string().nullable(),
  frames: z.number(),
  raster: z.object({
    width: z.number(),
    height: z.number(),
  }),
  codec: z.string(),
  missingHead: z.number(),
  missingTail: z.number(),
  missingInside: z.number(),
  shiftFrames: z.number(),
  meets: z.boolean(),
  evidence: z.array(told<EvidenceDescription>()).readonly(),
});
export type ContenderView = z.infer<typeof contenderViewSchema>;

/** What only the bench shows of an event, asked for when it is chosen. */
export const eventViewSchema = z.object({
  contenders: z.array(contenderViewSchema).readonly(),
  notes: z.array(z.string()).readonly(),
  remarks: z.array(z.string()).readonly(),
  placement: told<Placement>().nullable(),
  /** Width of the cut's frame over its height. */
  shape: z.number(),
  /** False where no event stands right before it. */
  follows: z.boolean(),
  /** Where the offline clip lay, as the list has it; empty where it does not say. */
  mediaPath: z.string(),
  /** The proof's correlation frame by frame over the record span, -1 to 1; null where it was not compared, empty where there is no proof. */
  trace: z.array(z.number().nullable()).readonly(),
  /** The event as its list delivered it; null where a decision made it. */
  delivered: told<ListEvent>().nullable(),
  /** What was decided of it that stands, in the order in which it was made: which of its fields each settles, by whom, when and why. */
  decided: z
    .array(z.object({ fields: z.array(z.string()).readonly(), says: z.string(), who: z.string(), when: z.number(), why: z.string() }))
    .readonly(),
  /** The grades that it had, the list's own first; the last is the one that stands. `who` is empty where the list says it. */
  grades: z.array(z.object({ cdl: told<Cdl>().nullable(), who: z.string(), when: z.number() })).readonly(),
  /** Why a candidate that meets the rules is not proposed. */
  doubt: z.enum(['reel-timecode']).nullable(),
});
export type EventView = z.infer<typeof eventViewSchema>;

/** The scores of proofs for the ribbon, by event: hundredths along the event, at most `TRACE_POINTS` of them, null where it was not compared. */
export const tracesViewSchema = z.record(z.string(), z.array(z.number().nullable()).readonly()).readonly();
export type TracesView = z.infer<typeof tracesViewSchema>;
export const TRACE_POINTS = 24;

/**
 * What the page needs to know for itself which frame stands where: the cut as it is shown, the originals it uses, the rules, and
 * how the reference and guide sound lie. `looks`: by the path of a file, what changes when its pictures do; the look-up tables among them.
 */
export const conformViewSchema = z.object({
  list: told<Standing>(),
  originals: z.array(told<Original>()).readonly(),
  rules: rulesSchema,
  reference: z.object({ movie: told<Original>(), lay: told<ReferenceLay>() }).nullable(),
  guide: z.object({ sound: told<Original>(), lies: told<GuideLies>().nullable() }).nullable(),
  looks: z.record(z.string(), z.string()),
  /** Added to its record frames to lay it on the cut; 0 for the cut itself. */
  shift: z.int(),
});
export type ConformView = z.infer<typeof conformViewSchema>;

/** An original that the cut does not use; `look` changes when its pictures do. */
export const strangerViewSchema = z.object({ original: told<Original>(), look: z.string() });
export type StrangerView = z.infer<typeof strangerViewSchema>;

/** What a look-up table is. */
export const lutViewSchema = z.object({ title: z.string(), dimensions: z.union([z.literal(1), z.literal(3)]), size: z.int() });
export type LutView = z.infer<typeof lutViewSchema>;

const folderOf = (twin: Twin): string => twin.path.slice(0, twin.path.length - twin.fileName.length);

/** How each column of the ledger is taken from a row. What follows from others is not sent. */
const COLUMNS = {
  id: (r) => r.id,
  number: (r) => r.number,
  track: (r) => r.track,
  kind: (r) => r.kind,
  reel: (r) => r.reel,
  clipName: (r) => r.clipName,
  fileName: (r) => r.fileName,
  sourceIn: (r) => r.sourceIn,
  sourceOut: (r) => r.sourceOut,
  from: (r) => r.recordFrames.in,
  frames: (r) => r.recordFrames.out - r.recordFrames.in,
  speed: (r) => r.speed,
  join: (r) => r.join,
  state: (r) => r.state,
  accepted: (r) => r.accepted,
  twinFolder: (r) => r.chosen && folderOf(r.chosen),
  twinName: (r) => r.chosen?.fileName ?? null,
  twinFrame: (r) => r.chosen?.sourceStartFrame ?? null,
  /** Where it is not the chosen one. */
  acceptedPath: (r) => (r.acceptedPath === r.chosen?.path ? null : r.acceptedPath),
  standIn: (r) => r.standIn,
  slip: (r) => r.slip,
  sourceStart: (r) => r.sourceStart,
  rates: (r) => r.rates,
  scaled: (r) => r.scaled,
  placed: (r) => r.placed,
  acceptedFindings: (r) => r.acceptedFindings,
  laterFindings: (r) => r.laterFindings,
  cdl: (r) => r.cdl,
  cdlFrom: (r) => r.cdlFrom,
  lut: (r) => r.lut,
  group: (r) => r.group,
  verdict: (r) => r.proof?.verdict ?? null,
  score: (r) => r.proof?.score ?? null,
  findings: (r) => r.proof?.findings ?? null,
  stale: (r) => r.proof?.stale ?? null,
  look: (r) => r.look,
} as const satisfies Record<string, (row: LedgerRow) => unknown>;

/** Rows as they are sent, column by column. */
export const packLedger = (rows: readonly LedgerRow[]): Packed =>
  Object.fromEntries(
    Object.entries<(row: LedgerRow) => unknown>(COLUMNS).map(([name, of]): [string, Column] => [name, packColumn(rows.map(of))]),
  );

/** The rows again, in their order. Each is written out at once: fields that are set one by one make objects ten times as slow. */
export function unpackLedger(packed: Packed, rate: Rate): LedgerRow[] {
  type Columns = typeof COLUMNS;
  const read = <K extends keyof Columns>(name: K) => columnReader<ReturnType<Columns[K]>>(packed[name]);
  const [id, number, track, kind, reel] = [read('id'), read('number'), read('track'), read('kind'), read('reel')];
  const [clipName, fileName, sourceIn, sourceOut] = [read('clipName'), read('fileName'), read('sourceIn'), read('sourceOut')];
  const [from, frames, speed, join, state, accepted] = [
    read('from'),
    read('frames'),
    read('speed'),
    read('join'),
    read('state'),
    read('accepted'),
  ];
  const [twinFolder, twinName, twinFrame, acceptedPath] = [read('twinFolder'), read('twinName'), read('twinFrame'), read('acceptedPath')];
  const [standIn, slip, sourceStart, rates] = [read('standIn'), read('slip'), read('sourceStart'), read('rates')];
  const [scaled, placed] = [read('scaled'), read('placed')];
  const [acceptedFindings, laterFindings] = [read('acceptedFindings'), read('laterFindings')];
  const [cdl, cdlFrom, lut, group, look] = [read('cdl'), read('cdlFrom'), read('lut'), read('group'), read('look')];
  const [verdict, score, findings, stale] = [read('verdict'), read('score'), read('findings'), read('stale')];
  return Array.from({ length: lengthOfColumn(packed.id) }, (_, i): LedgerRow => {
    const [folder, name, frame] = [twinFolder(i), twinName(i), twinFrame(i)];
    const chosen =
      folder !== null && name !== null && frame !== null ? { path: folder + name, fileName: name, sourceStartFrame: frame } : null;
    const proved = verdict(i);
    return {
      id: id(i),
      number: number(i),
      track: track(i),
      kind: kind(i),
      reel: reel(i),
      clipName: clipName(i),
      fileName: fileName(i),
      sourceIn: sourceIn(i),
      sourceOut: sourceOut(i),
      recordIn: formatTimecode(from(i), rate),
      recordFrames: { in: from(i), out: from(i) + frames(i) },
      speed: speed(i),
      join: join(i),
      state: state(i),
      accepted: accepted(i),
      chosen,
      acceptedPath: acceptedPath(i) ?? (accepted(i) ? (chosen?.path ?? null) : null),
      standIn: standIn(i),
      slip: slip(i),
      sourceStart: sourceStart(i),
      rates: rates(i),
      scaled: scaled(i),
      placed: placed(i),
      acceptedFindings: acceptedFindings(i),
      laterFindings: laterFindings(i),
      cdl: cdl(i),
      cdlFrom: cdlFrom(i),
      lut: lut(i),
      group: group(i),
      proof: proved && { verdict: proved, score: score(i), findings: findings(i) ?? [], stale: stale(i) ?? false },
      look: look(i),
    };
  });
}

/** The ledger that a page has, with what changed in it. Rows that did not change are the same objects. */
export function ledgerAfter(before: LedgerView | undefined, { rows: packed, gone, since, ...answer }: LedgerAnswer): LedgerView {
  const changed = unpackLedger(packed, answer.rate);
  if (since === null || !before) return { ...answer, rows: changed };
  const byId = new Map(changed.map((r) => [r.id, r]));
  const left = new Set(gone);
  const rows = before.rows.flatMap((r) => {
    if (left.has(r.id)) return [];
    const now = byId.get(r.id);
    byId.delete(r.id);
    return [now ?? r];
  });
  rows.push(...byId.values());
  return { ...answer, rows: rows.sort((a, b) => a.recordFrames.in - b.recordFrames.in) };
}
