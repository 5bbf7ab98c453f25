import { readFile } from 'node:fs/promises';
import path from 'node:path';
import { param, RequestError, route } from '../../../../server/http';
import { returnView } from '../../../../server/views';

/** A list or table of the last return, as a download. Only names that the return itself wrote are given. */
export const GET = route(async (context) => {
  const name = param(context, 'name');
  const { last } = await returnView(param(context, 'job'), 0);
  if (!last?.lists.includes(name)) throw new RequestError(404, 'The last return wrote no such file.');
  const text = await readFile(path.join(last.folder, name));
  return new Response(new Uint8Array(text), {
    headers: { 'content-type': 'application/octet-stream', 'content-disposition': `attachment; filename="${name}"` },
  });
});
