import { PROXY_CODECS, PROXY_SIZES, returnAskedSchema } from '@gemello/core';
import { z } from 'zod';
import { markSchema } from './marks';

const pathsOfClips = z.array(z.string().min(1)).min(1, 'Choose the clips first.').max(100_000);

/** What each kind of task may be asked to do. Handles are frames, 0 to 10 000. */
export const taskOptions = {
  scan: z.object({ volumes: z.array(z.string()).nullable().default(null) }),
  checksums: z.object({ paths: pathsOfClips }),
  proxies: z.object({ paths: pathsOfClips, codec: z.enum(PROXY_CODECS), size: z.enum(PROXY_SIZES), burnIn: z.boolean() }),
  /** A folder that is looked through for what the cut lacks. */
  search: z.object({ folder: z.string().trim().min(1, 'Give the folder or drive to look through.').max(4096) }),
  /** Candidates held against the reference; null: those of every event that nobody paired. */
  compare: z.object({ events: z.array(z.string()).nullable().default(null) }),
  /** Viewing copies of what the cut shows, and of the reference. */
  copies: z.looseObject({}),
  proof: z.object({ events: z.array(z.string()).nullable().default(null) }),
  /** The cuts, dissolves and fades of the reference. */
  cuts: z.looseObject({}),
  /** The cut rebuilt from the picture of the reference; `marks`: where it is cut, null where that is to be found. */
  rebuild: z.object({ marks: z.array(markSchema).max(100_000).nullable().default(null) }),
  /** Both pictures of each event with what was found and decided, as a page or a document. */
  'proof-report': z.object({ format: z.enum(['html', 'pdf']) }),
  return: returnAskedSchema.safeExtend({
    title: z.string().trim().min(1, 'The returned cut needs a name.').max(120),
    render: z.boolean(),
  }),
  /** Clips from elsewhere that nothing else tells of, looked for among the originals by their pictures. */
  recognise: z.looseObject({}),
  /** The whole conform as a movie to look at; `sound`: the guide sound, or that of the reference, goes along; `mix`: the path of the final mix, instead of that, laid by it. */
  review: z.object({
    burnIn: z.boolean().default(true),
    sound: z.boolean().default(true),
    mix: z.string().trim().max(4096).default(''),
  }),
} as const;
export type TaskKind = keyof typeof taskOptions;
const TASK_KINDS = Object.keys(taskOptions) as TaskKind[];

/** A kind of task with what it is asked. */
export type TaskOptions = { [K in TaskKind]: { readonly kind: K } & z.output<(typeof taskOptions)[K]> }[TaskKind];
export const startTaskSchema = z.object({ kind: z.enum(TASK_KINDS) }).loose();

/**
 * `waiting` and `running` go on after a restart, `paused` stays as it is until a person lets it go on; the others have ended,
 * and those that were `stopped` or `failed` may go on after their last finished part.
 */
export const TASK_STATES = ['waiting', 'running', 'paused', 'done', 'stopped', 'failed'] as const;
export type TaskState = (typeof TASK_STATES)[number];

/** What may be done with a task that is there. */
export const taskChangeSchema = z.object({ do: z.enum(['pause', 'go-on']) });

/** A file that kept a task from doing all of its work; tasks keep these in what they came to, under `problems`. */
export const fileProblemSchema = z.object({ path: z.string(), message: z.string() });
export type FileProblem = z.infer<typeof fileProblemSchema>;

export const taskViewSchema = z.object({
  id: z.string(),
  kind: z.enum(TASK_KINDS),
  state: z.enum(TASK_STATES),
  done: z.number(),
  total: z.number(),
  what: z.string(),
  message: z.string(),
  createdAt: z.number(),
  endedAt: z.number().nullable(),
});
export type TaskView = z.infer<typeof taskViewSchema>;
