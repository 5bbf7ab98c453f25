import { pathSchema } from '../../../../contract';
import { body, param, route } from '../../../../server/http';
import { addVolume, removeVolume } from '../../../../server/jobs';
import { startTask } from '../../../../server/tasks/runner';

export const POST = route(async (context) => {
  const job = param(context, 'job');
  const id = await addVolume(job, (await body(context, pathSchema)).path);
  return { id, task: await startTask(job, { kind: 'scan', volumes: [id] }) };
});

export const DELETE = route(async (context) => removeVolume(param(context, 'job'), param(context, 'id')));
