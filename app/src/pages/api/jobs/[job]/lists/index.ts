import { LARGEST_LIST, pathSchema } from '../../../../../contract';
import { body, param, route, uploadedBytes } from '../../../../../server/http';
import { listEntries, receive, receiveFrom } from '../../../../../server/lists';

export const GET = route((context) => listEntries(param(context, 'job')));

/** Hands a file over: a list, or grades. `set`: the lists that arrived together with it, of which it may be a further layer. */
export const PUT = route(async (context) => {
  const bytes = await uploadedBytes(context.request, LARGEST_LIST, 'The list');
  const sets = (context.url.searchParams.get('set') ?? '').split(',').filter(Boolean);
  return receive(param(context, 'job'), param(context, 'name'), bytes, sets);
});

/** Names a file on this machine. */
export const POST = route(async (context) => receiveFrom(param(context, 'job'), (await body(context, pathSchema)).path));
