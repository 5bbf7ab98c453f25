import { writingSchema } from '../../../../contract';
import { writtenView } from '../../../../server/arrival';
import { attachment, param, queryOf, route } from '../../../../server/http';
import { writtenFile } from '../../../../server/lists';

/** What the cut becomes in another format (`writing`, as JSON); with `file`, that file as a download. */
export const GET = route(async (context) => {
  const job = param(context, 'job');
  const writing = queryOf(context, 'writing', writingSchema);
  const file = context.url.searchParams.get('file');
  if (!file) return writtenView(job, writing);
  return new Response((await writtenFile(job, writing, file)) as Uint8Array<ArrayBuffer>, {
    headers: { 'content-type': 'application/octet-stream', 'content-disposition': attachment(file) },
  });
});
