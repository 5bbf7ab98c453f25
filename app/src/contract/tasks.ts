import { PROXY_CODECS, PROXY_SIZES } from '@gemello/core';
import { z } from 'zod';

export const TASK_KINDS = ['scan', 'checksums', 'proxies', 'proof', 'return', 'review'] as const;
export type TaskKind = (typeof TASK_KINDS)[number];

/** `waiting` and `running` go on after a restart; the others have ended. */
export const TASK_STATES = ['waiting', 'running', 'done', 'stopped', 'failed'] as const;
export type TaskState = (typeof TASK_STATES)[number];

const pathsOfClips = z.array(z.string().min(1)).min(1, 'Choose the clips first.').max(100_000);

/** What a task is asked to do. Handles are frames, 0 to 10 000. */
export const taskOptionsSchema = z.discriminatedUnion('kind', [
  z.object({ kind: z.literal('scan'), volumes: z.array(z.string()).nullable().default(null) }),
  z.object({ kind: z.literal('checksums'), paths: pathsOfClips }),
  z.object({
    kind: z.literal('proxies'),
    paths: pathsOfClips,
    codec: z.enum(PROXY_CODECS),
    size: z.enum(PROXY_SIZES),
    burnIn: z.boolean(),
  }),
  z.object({ kind: z.literal('proof'), events: z.array(z.string()).nullable().default(null) }),
  z.object({
    kind: z.literal('return'),
    handles: z.int().min(0).max(10_000),
    title: z.string().trim().min(1, 'The returned cut needs a name.').max(120),
    render: z.boolean(),
  }),
  /** The whole conform as a movie to look at; `sound`: that of the reference goes along. */
  z.object({ kind: z.literal('review'), burnIn: z.boolean().default(true), sound: z.boolean().default(true) }),
]);
export type TaskOptions = z.infer<typeof taskOptionsSchema>;

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
