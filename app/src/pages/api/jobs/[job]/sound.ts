import { z } from 'zod';
import { param, route } from '../../../../server/http';
import { soundPeaks, soundPiece } from '../../../../server/sound';
import { workspace } from '../../../../server/workspace';

const fromSchema = z.enum(['guide', 'reference']).catch('reference');
const schema = z.object({ piece: z.coerce.number().int().min(0).max(100_000) });

/**
 * What is heard of the reference, or of guide sound (`from=guide`): a piece of it (`piece`, counted from its first picture or sample;
 * left and right in turn, 48 000 a second, 16 bits), or with `of=peaks` how loud it is along its length. An address that carries `look`
 * never changes under it.
 */
export const GET = route(async (context) => {
  const query = context.url.searchParams;
  const from = fromSchema.parse(query.get('from'));
  const w = await workspace(param(context, 'job'));
  const bytes =
    query.get('of') === 'peaks'
      ? await soundPeaks(w, from)
      : await soundPiece(w, from, schema.parse({ piece: query.get('piece') ?? '' }).piece);
  return new Response(bytes as Uint8Array<ArrayBuffer>, {
    headers: {
      'content-type': 'application/octet-stream',
      'cache-control': query.has('look') ? 'private, max-age=86400, immutable' : 'no-store',
    },
  });
});
