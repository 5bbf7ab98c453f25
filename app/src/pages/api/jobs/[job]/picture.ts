import { cdlSchema } from '@gemello/core';
import { z } from 'zod';
import { otherwiseSchema } from '../../../../contract';
import { body, param, queryOf, route } from '../../../../server/http';
import { pictureOtherwise } from '../../../../server/otherwise';
import { picture } from '../../../../server/pictures';
import { workspace } from '../../../../server/workspace';

const schema = z.object({
  side: z.enum(['event', 'conform', 'reference', 'candidate', 'original']),
  event: z.string().nullable(),
  path: z.string().nullable(),
  frame: z.coerce.number().int().min(0),
  width: z.coerce.number().int().min(64).max(8192).multipleOf(2),
  cdl: cdlSchema.nullable(),
});

/** Pictures whose address carries `look` never change under it and may be kept by the browser. */
export const GET = route(async (context) => {
  const query = context.url.searchParams;
  const field = (name: string) => query.get(name);
  const cdl = field('cdl') === null ? null : queryOf(context, 'cdl', cdlSchema);
  const said = Object.fromEntries(['side', 'event', 'path', 'frame', 'width'].map((name) => [name, field(name)]));
  const request = schema.parse({ ...said, cdl });
  const jpeg = await picture(await workspace(param(context, 'job')), request);
  return answer(jpeg, query.has('look') ? 'private, max-age=86400, immutable' : 'no-store');
});

/** A picture of what is only tried, or seen otherwise: it is asked for by more than an address can say. */
export const POST = route(async (context) => {
  const asked = await body(context, otherwiseSchema);
  return answer(await pictureOtherwise(await workspace(param(context, 'job')), asked), 'no-store');
});

const answer = (jpeg: Uint8Array, keep: string) =>
  new Response(jpeg as Uint8Array<ArrayBuffer>, { headers: { 'content-type': 'image/jpeg', 'cache-control': keep } });
