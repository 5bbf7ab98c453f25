import { remarkSchema } from '../../../../contract';
import { body, param, route } from '../../../../server/http';
import { originalsView, remark } from '../../../../server/originals';

export const GET = route((context) => originalsView(param(context, 'job')));

/** Tags and notes. */
export const PATCH = route(async (context) => remark(param(context, 'job'), await body(context, remarkSchema)));
