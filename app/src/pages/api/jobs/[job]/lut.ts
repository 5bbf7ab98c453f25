import { z } from 'zod';
import { param, RequestError, route } from '../../../../server/http';
import { lutText } from '../../../../server/luts';
import { workspace } from '../../../../server/workspace';

const schema = z.object({ path: z.string().min(1).max(4096), of: z.enum(['table', 'about']).default('table') });

/** A look-up table: its text where the cut uses it (an address that carries `look` never changes under it), or what it is, before it is used. */
export const GET = route(async (context) => {
  const query = context.url.searchParams;
  const { path, of } = schema.parse({ path: query.get('path') ?? '', of: query.get('of') ?? undefined });
  const { luts } = await workspace(param(context, 'job'));
  const { text, about } = await lutText(path);
  if (of === 'about') return about;
  // One that is only tried is told of; its numbers are given to those who use it.
  if (!luts.has(path)) throw new RequestError(404, `No event of the cut uses the LUT ${path}.`);
  return new Response(text, {
    headers: {
      'content-type': 'text/plain; charset=utf-8',
      'cache-control': query.has('look') ? 'private, max-age=86400, immutable' : 'no-store',
    },
  });
});
