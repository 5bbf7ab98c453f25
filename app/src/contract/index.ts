import type {
  Cdl,
  Decision,
  ListDescription,
  NoticeDescription,
  PairState,
  Rate,
  ReturnPlan,
  Rules,
  Unprepared,
  Verdict,
} from '@gemello/core';
import { decisionSchema, rulesSchema } from '@gemello/core';
import { z } from 'zod';
import type { SettingCheck } from './lists';
import type { FileProblem, TaskView } from './tasks';

export * from './ledger';
export * from './lists';
export * from './originals';
export * from './tasks';

/** What the browser may ask. Answers are typed below; they come from the same code on the server. */
export const newJobSchema = z.object({ title: z.string().trim().min(1, 'Give the job a name.').max(120) });
export const pathSchema = z.object({ path: z.string().trim().min(1, 'Give a path.').max(4096) });
export const decideSchema = z.object({
  decisions: z.array(decisionSchema).min(1).max(100_000),
  why: z.string().trim().max(10_000).default(''),
});
/** `this` withdraws a batch or takes the withdrawal back; `after` withdraws all that was decided after it. */
export const undoSchema = z.object({ batch: z.string().min(1), what: z.enum(['this', 'after']).default('this') });
export const whySchema = z.object({ batch: z.string().min(1), why: z.string().trim().max(10_000) });
export const stillSchema = z.object({
  frame: z.coerce.number().int().min(0),
  show: z.enum(['conform', 'reference', 'facing', 'split', 'difference']),
});
const jobTitle = z.string().trim().min(1, 'Give the job a name.').max(120);
/** What of a job may be set: its rules, its name, whether it is deleted. */
export const jobChangeSchema = z.union([
  z.object({ rules: rulesSchema }),
  z.object({ title: jobTitle }),
  z.object({ deleted: z.boolean() }),
]);

/** Largest uploads, in bytes. */
export const LARGEST_LIST = 128 * 1024 * 1024;
export const LARGEST_REFERENCE = 2 * 1024 * 1024 * 1024;

/** How many events stand in each state, and how many proofs came out how. */
export interface JobCounts {
  readonly states: Record<PairState, number>;
  readonly verdicts: Record<Verdict, number>;
}

/** A stretch of a job's small ribbon: one or several events in the same state. Shares of the cut's length, 0 to 1. */
export interface RibbonSpan {
  readonly layer: number;
  readonly from: number;
  readonly to: number;
  readonly state: PairState;
}

/** What the desk shows of a job, as it was when it last changed. */
export interface StoredSummary {
  readonly listTitle: string | null;
  readonly durationFrames: number;
  readonly counts: JobCounts | null;
  readonly ribbon: readonly RibbonSpan[];
}

export interface JobSummary extends Partial<StoredSummary> {
  readonly id: string;
  readonly title: string;
  readonly createdAt: number;
  /** When anything in it was last decided, delivered or found. */
  readonly changedAt: number;
  /** Tasks that have not ended. */
  readonly running: number;
  /** True while its numbers are being counted: those shown, if any, are older. */
  readonly counting: boolean;
}

export interface VolumeView {
  readonly id: string;
  readonly name: string;
  readonly path: string;
  readonly here: boolean;
  /** `silent`: its drive does not answer. */
  readonly is: 'here' | 'away' | 'silent';
  readonly scannedAt: number | null;
  readonly originals: number;
  /** Files that a hash manifest on it names and that are not there; paths. */
  readonly missing: readonly string[];
  /** Files that could not be read when it was last scanned, and why. */
  readonly unread: readonly FileProblem[];
  /** A volume that is away and holds the same files at the same places; perhaps this is that one. */
  readonly resembles: { readonly id: string; readonly name: string; readonly path: string } | null;
}

export interface JobView {
  readonly id: string;
  readonly title: string;
  readonly list: {
    id: string;
    fileName: string;
    title: string;
    rate: Rate;
    rateSet: boolean;
    rateStated: boolean;
    startTimecode: string;
    durationFrames: number;
  } | null;
  readonly reference: {
    fileName: string;
    timecodeIn: string | null;
    frames: number;
    rate: Rate;
    raster: { width: number; height: number };
    codec: string;
  } | null;
  readonly rules: Rules;
  readonly volumes: VolumeView[];
  readonly checks: SettingCheck[];
  readonly originals: number;
  /** Decisions that speak of events this cut has not, or not for certain. */
  readonly waiting: number;
  /** Decisions that could not be taken into the cut. */
  readonly refused: number;
  readonly tasks: TaskView[];
}

export interface TurnoverView {
  readonly list: ListDescription;
  readonly files: readonly { fileName: string; text: string; format: string | null }[];
  /** Which line (from 1) of which file each event stands on. */
  readonly lines: Record<string, { part: number; line: number }>;
  readonly notices: readonly NoticeDescription[];
  readonly preparation: readonly Unprepared[];
}

export interface DecisionView {
  readonly batch: string;
  readonly madeAt: number;
  readonly who: string;
  readonly why: string;
  readonly text: string;
  /** What it took the place of, in words; empty where that says nothing. */
  readonly was: string;
  readonly withdrawn: boolean;
  /** The events it waits for, as people know them: this cut has them not, or not for certain. */
  readonly waiting: readonly string[];
  /** Why some of it could not be taken in. */
  readonly refused: readonly string[];
}

export interface ActivityView {
  readonly tasks: (TaskView & { readonly problems: readonly FileProblem[] })[];
  readonly decisions: DecisionView[];
}

export interface ReturnView {
  readonly clips: {
    event: string;
    number: string;
    fileName: string;
    frames: number;
    headHandle: number;
    tailHandle: number;
    start: string;
    reel: string;
    graded: boolean;
  }[];
  readonly warnings: ReturnPlan['warnings'];
  /** The movie to look at that was written last. */
  readonly review: { name: string; message: string } | null;
  readonly last: {
    folder: string;
    lists: readonly string[];
    /** Absent where it was written before this was looked at. */
    notCarried?: readonly { fileName: string; severity: string; message: string }[];
    clips: number;
    problems: { fileName: string; message: string }[];
    /** Written clips that no longer are what would be written now: the cut changed, or the file they are made of. */
    stale: readonly string[];
  } | null;
}

export type { Cdl, Decision };
