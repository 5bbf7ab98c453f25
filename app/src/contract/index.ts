import type { Cdl, Decision, ListDescription, NoticeDescription, Preference, Rate, ReturnPlan, Rules, Unprepared } from '@gemello/core';
import { decisionSchema, returnAskedSchema } from '@gemello/core';
import { z } from 'zod';
import { settingCheckSchema } from './lists';
import { fileProblemSchema, taskViewSchema } from './tasks';
import { told } from './told';

export * from './cuts';
export * from './desk';
export * from './grading';
export * from './homecoming';
export * from './ledger';
export * from './lists';
export * from './marks';
export * from './originals';
export * from './pairing';
export * from './tasks';

/** What the browser may ask. Answers are typed below; they come from the same code on the server. */
export const newJobSchema = z.object({ title: z.string().trim().min(1, 'Give the job a name.').max(120) });
export const pathSchema = z.object({ path: z.string().trim().min(1, 'Give a path.').max(4096) });
export const decideSchema = z.object({
  decisions: z.array(decisionSchema).min(1).max(100_000),
  why: z.string().trim().max(10_000).default(''),
});
const place = z.string().trim().min(1).max(4096);
/** What is weighed before it is decided: a file or folder that is elsewhere, larger read-outs of events, or decisions. */
export const weighSchema = z.union([
  z.object({ before: place, now: place }),
  z.object({ larger: z.array(z.string().max(200)).max(100_000) }),
  decideSchema,
]);
/** What becomes of a batch, said outright: a page may show what no longer is. `after` undoes all that was decided after it. */
export const undoSchema = z.object({ batch: z.string().min(1), what: z.enum(['undo', 'redo', 'after']).default('undo') });
export const whySchema = z.object({ batch: z.string().min(1), why: z.string().trim().max(10_000) });
export const batchChangeSchema = z.union([whySchema, undoSchema]);
/**
 * A picture of the cut as it does not stand: with more decided than is, some layers left out by name, or another version of it, by its list.
 * `frame` is a record frame of the cut.
 */
export const otherwiseSchema = z.object({
  frame: z.number().int().min(0),
  width: z.number().int().min(64).max(8192).multipleOf(2),
  tried: z.array(decisionSchema).max(1000).default([]),
  without: z.array(z.string().max(200)).max(200).default([]),
  list: z.string().max(64).nullable().default(null),
});
export const stillSchema = z.object({
  frame: z.coerce.number().int().min(0),
  show: z.enum(['conform', 'reference', 'facing', 'split', 'difference']),
});
const jobTitle = z.string().trim().min(1, 'Give the job a name.').max(120);
/** What of a job may be set: its name, whether it is deleted. */
export const jobChangeSchema = z.union([z.object({ title: jobTitle }), z.object({ deleted: z.boolean() })]);

/** Largest uploads, in bytes. */
export const LARGEST_LIST = 128e6;
export const LARGEST_REFERENCE = 2e9;

export const volumeViewSchema = z.object({
  id: z.string(),
  name: z.string(),
  path: z.string(),
  here: z.boolean(),
  /** `silent`: its drive does not answer. */
  is: z.enum(['here', 'away', 'silent']),
  scannedAt: z.number().nullable(),
  originals: z.number(),
  /** Files that a hash manifest on it names and that are not there; paths. */
  missing: z.array(z.string()).readonly(),
  /** Files that could not be read when it was last scanned, and why. */
  unread: z.array(fileProblemSchema).readonly(),
  /** A volume that is away and holds the same files at the same places; perhaps this is that one. */
  resembles: z
    .object({
      id: z.string(),
      name: z.string(),
      path: z.string(),
    })
    .nullable(),
});
export type VolumeView = z.infer<typeof volumeViewSchema>;

export const jobViewSchema = z.object({
  id: z.string(),
  title: z.string(),
  /** Until when it is kept after it was deleted; null for a job on the desk. */
  keptUntil: z.number().nullable(),
  list: z
    .object({
      id: z.string(),
      fileName: z.string(),
      title: z.string(),
      rate: told<Rate>(),
      rateSet: z.boolean(),
      rateStated: z.boolean(),
      startTimecode: z.string(),
      durationFrames: z.number(),
    })
    .nullable(),
  reference: z
    .object({
      fileName: z.string(),
      timecodeIn: z.string().nullable(),
      frames: z.number(),
      rate: told<Rate>(),
      raster: z.object({
        width: z.number(),
        height: z.number(),
      }),
      codec: z.string(),
    })
    .nullable(),
  /** Guide sound that came as a file of its own; `lies`: what says where, null before there is a cut. */
  guide: z.object({ fileName: z.string(), lies: z.enum(['timecode', 'reference', 'cut']).nullable() }).nullable(),
  rules: told<Rules>(),
  /** Sets of rules that were applied in this job under a name of their own, the last one first. */
  ruleSets: z.array(told<Rules>()).readonly(),
  /** Null: nobody said which of equal candidates comes first. */
  preference: told<Preference>().nullable(),
  volumes: z.array(volumeViewSchema).readonly(),
  checks: z.array(settingCheckSchema).readonly(),
  originals: z.number(),
  /** Decisions that speak of events this cut has not, or not for certain. */
  waiting: z.number(),
  /** Decisions that could not be taken into the cut. */
  refused: z.number(),
  tasks: z.array(taskViewSchema).readonly(),
});
export type JobView = z.infer<typeof jobViewSchema>;

export const turnoverViewSchema = z.object({
  list: told<ListDescription>(),
  files: z
    .array(
      z.object({
        fileName: z.string(),
        text: z.string(),
        format: z.string().nullable(),
      }),
    )
    .readonly(),
  /** Which line (from 1) of which file each event stands on. */
  lines: z.record(
    z.string(),
    z.object({
      part: z.number(),
      line: z.number(),
    }),
  ),
  notices: z.array(told<NoticeDescription>()).readonly(),
  preparation: z.array(told<Unprepared>()).readonly(),
});
export type TurnoverView = z.infer<typeof turnoverViewSchema>;

export const decisionViewSchema = z.object({
  batch: z.string(),
  madeAt: z.number(),
  who: z.string(),
  why: z.string(),
  text: z.string(),
  /** What it took the place of, in words; empty where that says nothing. */
  was: z.string(),
  withdrawn: z.boolean(),
  /** The events it waits for, as people know them: this cut has them not, or not for certain. */
  waiting: z.array(z.string()).readonly(),
  /** Why some of it could not be taken in. */
  refused: z.array(z.string()).readonly(),
});
export type DecisionView = z.infer<typeof decisionViewSchema>;

export const activityViewSchema = z.object({
  tasks: z.array(taskViewSchema.extend({ problems: z.array(fileProblemSchema).readonly() })).readonly(),
  decisions: z.array(decisionViewSchema).readonly(),
});
export type ActivityView = z.infer<typeof activityViewSchema>;

/** How returns are asked for, under a name. */
export const keptReturnSchema = z.object({ name: z.string().trim().min(1, 'Give the settings a name.').max(40), asked: returnAskedSchema });
export type KeptReturn = z.infer<typeof keptReturnSchema>;

export const returnViewSchema = z.object({
  clips: z
    .array(
      z.object({
        event: z.string(),
        number: z.string(),
        fileName: z.string(),
        frames: z.number(),
        headHandle: z.number(),
        tailHandle: z.number(),
        start: z.string(),
        reel: z.string(),
        graded: z.boolean(),
        /** How many events it is for. */
        events: z.number(),
        baked: z.array(z.enum(['speed', 'placement'])).readonly(),
        raster: z.object({ width: z.number(), height: z.number() }),
      }),
    )
    .readonly(),
  /** About how large the clips will be, and how much room there is, in bytes. */
  bytes: z.number(),
  room: z.number(),
  warnings: told<ReturnPlan['warnings']>(),
  /** The movie to look at that was written last. */
  review: z
    .object({
      name: z.string(),
      message: z.string(),
    })
    .nullable(),
  last: z
    .object({
      folder: z.string(),
      lists: z.array(z.string()).readonly(),
      /** Absent where it was written before this was looked at. */
      notCarried: z
        .array(
          z.object({
            fileName: z.string(),
            severity: z.string(),
            message: z.string(),
          }),
        )
        .readonly()
        .optional(),
      clips: z.number(),
      problems: z
        .array(
          z.object({
            fileName: z.string(),
            message: z.string(),
          }),
        )
        .readonly(),
      /** Written clips that no longer are what would be written now: the cut changed, or the file they are made of. */
      stale: z.array(z.string()).readonly(),
      /** True where the list would be another one now. */
      otherList: z.boolean(),
    })
    .nullable(),
});
export type ReturnView = z.infer<typeof returnViewSchema>;

export type { Cdl, Decision };
