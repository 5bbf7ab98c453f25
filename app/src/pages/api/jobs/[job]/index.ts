import { settingsSchema } from '../../../../contract';
import { body, param, route } from '../../../../server/http';
import { setRules } from '../../../../server/jobs';
import { jobView } from '../../../../server/views';

export const GET = route((context) => jobView(param(context, 'job')));

export const PATCH = route(async (context) => setRules(param(context, 'job'), (await body(context, settingsSchema)).rules));
