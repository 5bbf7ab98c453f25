import { remarkSchema } from '../../../../contract';
import { body, jsonText, param, route } from '../../../../server/http';
import { originalPage, packedOriginals, remark } from '../../../../server/originals';

/** All of them as rows, packed; with `path`, everything known of that one. */
export const GET = route(async (context) => {
  const path = context.url.searchParams.get('path');
  return path ? originalPage(param(context, 'job'), path) : jsonText(await packedOriginals(param(context, 'job')));
});

/** Tags and notes. */
export const PATCH = route(async (context) => remark(param(context, 'job'), await body(context, remarkSchema)));
