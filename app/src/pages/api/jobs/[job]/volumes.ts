import { pathSchema, rehomeSchema, renameSchema } from '../../../../contract';
import { body, param, route } from '../../../../server/http';
import { addVolume, removeVolume } from '../../../../server/jobs';
import { rehome, renameVolume } from '../../../../server/originals';
import { startTask } from '../../../../server/tasks/runner';

export const POST = route(async (context) => {
  const job = param(context, 'job');
  const id = await addVolume(job, (await body(context, pathSchema)).path);
  return { id, task: await startTask(job, { kind: 'scan', volumes: [id] }) };
});

export const DELETE = route(async (context) => removeVolume(param(context, 'job'), param(context, 'id')));

/** Gives the volume another name. */
export const PATCH = route(async (context) =>
  renameVolume(param(context, 'job'), param(context, 'id'), (await body(context, renameSchema)).name),
);

/** Takes the volume for one that went away. */
export const PUT = route(async (context) => rehome(param(context, 'job'), param(context, 'id'), (await body(context, rehomeSchema)).as));
