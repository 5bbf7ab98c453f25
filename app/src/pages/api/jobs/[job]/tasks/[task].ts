import { taskChangeSchema } from '../../../../../contract';
import { body, param, route } from '../../../../../server/http';
import { goOn, pauseTask, stopTask } from '../../../../../server/tasks/runner';

export const DELETE = route((context) => stopTask(param(context, 'job'), param(context, 'task')));

/** Lets a task rest, or go on. */
export const PATCH = route(async (context) => {
  const change = (await body(context, taskChangeSchema)).do === 'pause' ? pauseTask : goOn;
  return change(param(context, 'job'), param(context, 'task'));
});
