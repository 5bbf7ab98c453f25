import { jobChangeSchema } from '../../../../contract';
import { body, param, route } from '../../../../server/http';
import { deleteJob, renameJob } from '../../../../server/jobs';
import { stopAll } from '../../../../server/tasks/runner';
import { jobView } from '../../../../server/views';

export const GET = route((context) => jobView(param(context, 'job')));

/** Sets the name of a job, deletes it or brings it back. */
export const PATCH = route(async (context) => {
  const job = param(context, 'job');
  const change = await body(context, jobChangeSchema);
  if ('title' in change) return renameJob(job, change.title);
  await deleteJob(job, change.deleted);
  if (change.deleted) await stopAll(job);
});
