import { returnAskedSchema } from '@gemello/core';
import { z } from 'zod';
import {
  batchChangeSchema,
  decideSchema,
  jobChangeSchema,
  keptReturnSchema,
  LARGEST_LIST,
  LARGEST_REFERENCE,
  newJobSchema,
  otherwiseSchema,
  pathSchema,
  weighSchema,
} from '.';
import { marksSchema } from './cuts';
import { whichJobsSchema } from './desk';
import { closeSchema } from './grading';
import { carrySchema, takeSchema } from './lists';
import { logSchema, rehomeSchema, remarkSchema, renameSchema, saveFilterSchema } from './originals';
import { startTaskSchema, taskChangeSchema } from './tasks';

/**
 * All that the server answers to, besides pages. A request that is in no line of this table is not answered, and what its address says is
 * held against the line before anything is done (server/endpoints.ts).
 */
export interface Endpoint {
  readonly method: 'GET' | 'POST' | 'PUT' | 'PATCH' | 'DELETE';
  /** The address, with its parts that vary as the framework writes them: `/api/jobs/[job]`. */
  readonly path: string;
  readonly does: string;
  /** What the address may say after its `?`, each by its name. */
  readonly query?: Readonly<Record<string, z.ZodType>>;
  /** What the body holds as JSON. */
  readonly body?: z.ZodType;
  /** The body is a file, at most so many bytes. */
  readonly upload?: number;
  /** What comes back; JSON where nothing else is said. */
  readonly gives?: 'picture' | 'movie' | 'samples' | 'file' | 'events';
  /** What it may read and write besides the rows of its job. `volumes`: files below volumes and folders that may be browsed, never written. */
  readonly touches: 'nothing' | 'volumes' | 'own files';
}

const words = z.string().max(4096);
const name = z.string().max(255);
const whole = z.coerce.number().int().min(0);
const look = { look: words };
/** JSON in an address: a server reads no longer ones. */
const json = z.string().max(8 * 1024);
const one = <const K extends string>(...known: readonly [K, ...K[]]) => z.enum(known);

const JOB = '/api/jobs/[job]';
const LIST = `${JOB}/lists/[list]`;
const TASK = `${JOB}/tasks/[task]`;
const line = (
  method: Endpoint['method'],
  path: string,
  does: string,
  touches: Endpoint['touches'],
  rest: Partial<Endpoint> = {},
): Endpoint => ({
  method,
  path,
  does,
  touches,
  ...rest,
});

export const ENDPOINTS: readonly Endpoint[] = [
  line('GET', '/api/up', 'Says that the server is there.', 'nothing'),
  line('GET', '/api/openapi', 'This table, as OpenAPI.', 'nothing'),
  line('GET', '/api/folders', 'The folders in a folder of this machine.', 'volumes', { query: { path: words } }),
  line('GET', '/api/returns', 'Ways in which returns are asked for, kept under names.', 'nothing'),
  line('PUT', '/api/returns', 'Keeps a way under a name.', 'nothing', { body: keptReturnSchema }),
  line('DELETE', '/api/returns', 'Forgets a way.', 'nothing', { query: { name } }),
  line('GET', '/api/jobs', 'One page of the jobs on the desk, or of those that were deleted: those that have some words.', 'nothing', {
    query: { words: z.string().max(200), page: whole.max(1_000_000), which: whichJobsSchema },
  }),
  line('POST', '/api/jobs', 'Starts a job.', 'nothing', { body: newJobSchema }),
  line('GET', JOB, 'A job with its volumes, checks and tasks.', 'volumes'),
  line('PATCH', JOB, 'Sets the name of a job, deletes it or brings it back.', 'nothing', { body: jobChangeSchema }),
  line('GET', `${JOB}/activity`, 'The decisions of a job, in words.', 'nothing'),
  line('POST', `${JOB}/close`, 'Grades that bring shots close to another; nothing is kept.', 'volumes', { body: closeSchema }),
  line('GET', `${JOB}/copy`, 'The viewing copy of one section of a clip.', 'own files', {
    query: { path: words, section: whole.max(1_000_000), ...look },
    gives: 'movie',
  }),
  line('GET', `${JOB}/cuts`, 'Cuts that were found in the reference.', 'nothing'),
  line('POST', `${JOB}/cuts`, 'Makes a list of marks.', 'nothing', { body: marksSchema }),
  line('GET', `${JOB}/decisions`, 'The decisions that stand, as a file.', 'nothing', { gives: 'file' }),
  line('POST', `${JOB}/decisions`, 'Takes decisions, all or none.', 'nothing', { body: decideSchema }),
  line('PUT', `${JOB}/decisions`, 'Takes in a file of decisions.', 'nothing', { upload: LARGEST_LIST }),
  line('PATCH', `${JOB}/decisions`, 'Withdraws a batch, goes back to it, or says why it was decided.', 'nothing', {
    body: batchChangeSchema,
  }),
  line('GET', `${JOB}/file`, 'A file of the last return, review or report.', 'own files', {
    query: { name, review: z.string().max(255), report: z.string().max(255) },
    gives: 'file',
  }),
  line('GET', `${JOB}/filters`, 'Filters kept under names.', 'nothing'),
  line('PUT', `${JOB}/filters`, 'Keeps a filter.', 'nothing', { body: saveFilterSchema }),
  line('DELETE', `${JOB}/filters`, 'Forgets a filter.', 'nothing', { query: { name } }),
  line('PUT', `${JOB}/guide`, 'Takes guide sound in.', 'own files', { query: { name }, upload: LARGEST_REFERENCE }),
  line('POST', `${JOB}/guide`, 'Names guide sound on this machine.', 'volumes', { body: pathSchema }),
  line('DELETE', `${JOB}/guide`, 'Removes the guide sound.', 'nothing'),
  line('GET', `${JOB}/homecoming`, 'Clips that came back.', 'volumes'),
  line('POST', `${JOB}/homecoming`, 'Takes in a folder of clips that were made elsewhere.', 'volumes', { body: pathSchema }),
  line('GET', `${JOB}/ledger`, 'The events of the cut, with all that is said of them.', 'volumes', {
    query: { since: words, event: words, of: one('traces', 'conform', 'original'), list: words, path: words, as: one('rows') },
  }),
  line('GET', `${JOB}/lists`, 'The lists that were delivered.', 'nothing'),
  line('PUT', `${JOB}/lists`, 'Hands a list over.', 'own files', { query: { name, set: words }, upload: LARGEST_LIST }),
  line('POST', `${JOB}/lists`, 'Names a list on this machine.', 'volumes', { body: pathSchema }),
  line('GET', LIST, 'A list as it would be read.', 'nothing', { query: { reading: json } }),
  line('POST', LIST, 'Takes a list for the cut, or for a version of it.', 'nothing', { body: takeSchema }),
  line('DELETE', LIST, 'Puts a list away.', 'own files'),
  line('GET', `${LIST}/beside`, 'A list held against the cut.', 'nothing'),
  line('POST', `${LIST}/beside`, 'Carries aspects over into the cut.', 'nothing', { body: carrySchema }),
  line('GET', `${JOB}/logs`, 'The clip logs that lie on the volumes.', 'volumes'),
  line('POST', `${JOB}/logs`, 'Shows what a clip log says, or takes it in.', 'volumes', { body: logSchema }),
  line('GET', `${JOB}/lut`, 'A look-up table, or what it is.', 'volumes', {
    query: { path: words, of: one('table', 'about'), ...look },
    gives: 'file',
  }),
  line('GET', `${JOB}/originals`, 'All originals, or all of one.', 'volumes', { query: { path: words } }),
  line('PATCH', `${JOB}/originals`, 'Sets tags and notes.', 'nothing', { body: remarkSchema }),
  line('GET', `${JOB}/pairing`, 'Causes of open events, and what is asked of pairs.', 'volumes', {
    query: { report: one('csv', 'html'), search: z.string().max(255), uses: words, find: z.string().max(4096), event: words, with: words },
  }),
  line('POST', `${JOB}/pairing`, 'What decisions would change; nothing is kept.', 'volumes', { body: weighSchema }),
  line('GET', `${JOB}/picture`, 'A picture of an event, the cut, the reference, a candidate or an original.', 'volumes', {
    query: {
      side: one('event', 'conform', 'reference', 'candidate', 'original'),
      ...{ event: words, path: words, frame: whole, width: whole.max(8192), cdl: z.string().max(4096) },
      ...look,
    },
    gives: 'picture',
  }),
  line('POST', `${JOB}/picture`, 'A picture of what is only tried.', 'volumes', { body: otherwiseSchema, gives: 'picture' }),
  line('PUT', `${JOB}/reference`, 'Takes a reference in.', 'own files', { query: { name }, upload: LARGEST_REFERENCE }),
  line('POST', `${JOB}/reference`, 'Names a reference on this machine.', 'volumes', { body: pathSchema }),
  line('GET', `${JOB}/return`, 'What a return would write, and what was written last.', 'volumes', { query: returnAskedSchema.shape }),
  line('GET', `${JOB}/sound`, 'What is heard of the reference or the guide.', 'volumes', {
    query: { from: one('guide', 'reference'), of: one('peaks'), piece: whole.max(100_000), ...look },
    gives: 'samples',
  }),
  line('GET', `${JOB}/still`, 'What is seen at a frame, as a PNG.', 'volumes', {
    query: { frame: whole, show: one('conform', 'reference', 'facing', 'split', 'difference') },
    gives: 'picture',
  }),
  line('POST', `${JOB}/tasks`, 'Starts a task.', 'own files', { body: startTaskSchema }),
  line('PATCH', TASK, 'Lets a task rest, or go on.', 'nothing', { body: taskChangeSchema }),
  line('DELETE', TASK, 'Stops a task.', 'nothing'),
  line('GET', `${JOB}/turnover`, 'The cut as it was delivered.', 'nothing'),
  line('POST', `${JOB}/volumes`, 'Adds a volume.', 'volumes', { body: pathSchema }),
  line('PUT', `${JOB}/volumes`, 'Takes a volume for one that went away.', 'volumes', { query: { id: words }, body: rehomeSchema }),
  line('PATCH', `${JOB}/volumes`, 'Gives a volume another name.', 'nothing', { query: { id: words }, body: renameSchema }),
  line('DELETE', `${JOB}/volumes`, 'Removes a volume.', 'nothing', { query: { id: words } }),
  line('GET', `${JOB}/watch`, 'Progress of tasks, which resources changed, and each 20 s that the server is there.', 'nothing', {
    gives: 'events',
  }),
  line('GET', `${JOB}/written`, 'What the cut becomes in another format, or that file.', 'nothing', {
    query: { writing: json, file: z.string().max(255) },
  }),
];
