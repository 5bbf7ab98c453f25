import { cdlSchema } from '@gemello/core';
import { z } from 'zod';
import { param, route } from '../../../../server/http';
import { picture } from '../../../../server/pictures';
import { workspace } from '../../../../server/workspace';

const schema = z.object({
  side: z.enum(['event', 'conform', 'reference', 'candidate', 'original']),
  event: z.string().nullable(),
  path: z.string().nullable(),
  frame: z.coerce.number().int().min(0),
  width: z.coerce.number().int().min(64).max(1920).multipleOf(2),
  cdl: z
    .string()
    .transform((text) => cdlSchema.parse(JSON.parse(text)))
    .nullable(),
});

/** Pictures whose address carries `look` never change under it and may be kept by the browser. */
export const GET = route(async (context) => {
  const query = context.url.searchParams;
  const field = (name: string) => query.get(name);
  const request = schema.parse(Object.fromEntries(['side', 'event', 'path', 'frame', 'width', 'cdl'].map((name) => [name, field(name)])));
  const jpeg = await picture(await workspace(param(context, 'job')), request);
  const keep = query.has('look') ? 'private, max-age=86400, immutable' : 'no-store';
  return new Response(jpeg as Uint8Array<ArrayBuffer>, { headers: { 'content-type': 'image/jpeg', 'cache-control': keep } });
});
