import { param, route } from '../../../../../server/http';
import { stopTask } from '../../../../../server/tasks/runner';

export const DELETE = route((context) => stopTask(param(context, 'job'), param(context, 'task')));
