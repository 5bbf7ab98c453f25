import { createReadStream } from 'node:fs';
import { stat } from 'node:fs/promises';
import path from 'node:path';
import { Readable } from 'node:stream';
import { attachment, param, RequestError, route } from '../../../../server/http';
import { fileWritten, returnView } from '../../../../server/views';

/** A list or table of the last return (`name`), the last review movie (`review`), or the last report of a proof (`report`), as a download. Only what was written here is given. */
export const GET = route(async (context) => {
  const job = param(context, 'job');
  const asked = context.url.searchParams;
  const kind = asked.has('review') ? 'review' : asked.has('report') ? 'proof-report' : null;
  const file = kind ? await fileWritten(job, kind) : await listOf(job, param(context, 'name'));
  const found = file && (await stat(file).catch(() => null));
  if (!file || !found) throw new RequestError(404, 'There is no such file any more; write it again.');
  return new Response(Readable.toWeb(createReadStream(file)) as ReadableStream, {
    headers: {
      'content-type': 'application/octet-stream',
      'content-length': String(found.size),
      'content-disposition': attachment(path.basename(file)),
    },
  });
});

async function listOf(job: string, name: string): Promise<string> {
  const { last } = await returnView(job);
  if (!last?.lists.includes(name)) throw new RequestError(404, 'The last return wrote no such file.');
  return path.join(last.folder, name);
}
