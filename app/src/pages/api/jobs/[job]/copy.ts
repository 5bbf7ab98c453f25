import { createReadStream } from 'node:fs';
import { stat } from 'node:fs/promises';
import { Readable } from 'node:stream';
import { z } from 'zod';
import { viewingCopy } from '../../../../server/copies';
import { param, route } from '../../../../server/http';
import { workspace } from '../../../../server/workspace';

const schema = z.object({ path: z.string().min(1), section: z.coerce.number().int().min(0).max(1_000_000) });

/** The viewing copy of one section of a clip, made now where there is none. An address that carries `look` never changes under it. */
export const GET = route(async (context) => {
  const query = context.url.searchParams;
  const { path, section } = schema.parse({ path: query.get('path') ?? '', section: query.get('section') });
  const file = await viewingCopy(await workspace(param(context, 'job')), path, section);
  const { size } = await stat(file);
  return new Response(Readable.toWeb(createReadStream(file)) as ReadableStream, {
    headers: {
      'content-type': 'video/mp4',
      'content-length': String(size),
      'cache-control': query.has('look') ? 'private, max-age=86400, immutable' : 'no-store',
    },
  });
});
