import { startTaskSchema } from '../../../../../contract';
import { body, param, route } from '../../../../../server/http';
import { startTask } from '../../../../../server/tasks/runner';

export const POST = route(async (context) => ({ id: await startTask(param(context, 'job'), await body(context, startTaskSchema)) }));
