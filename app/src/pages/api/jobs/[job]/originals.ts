import { remarkSchema } from '../../../../contract';
import { body, param, route } from '../../../../server/http';
import { originalPage, originalRows, remark } from '../../../../server/originals';

/** All of them as rows; with `path`, everything known of that one. */
export const GET = route(async (context) => {
  const path = context.url.searchParams.get('path');
  return path ? originalPage(param(context, 'job'), path) : originalRows(param(context, 'job'));
});

/** Tags and notes. */
export const PATCH = route(async (context) => remark(param(context, 'job'), await body(context, remarkSchema)));
