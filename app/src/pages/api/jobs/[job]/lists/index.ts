import { LARGEST_LIST } from '../../../../../contract';
import { param, route, uploadedBytes } from '../../../../../server/http';
import { listEntries, receive } from '../../../../../server/lists';

export const GET = route((context) => listEntries(param(context, 'job')));

/** Hands a file over: a list, the next file of one (`set`), or grades. */
export const PUT = route(async (context) => {
  const bytes = await uploadedBytes(context.request, LARGEST_LIST, 'The list');
  return receive(param(context, 'job'), param(context, 'name'), bytes, context.url.searchParams.get('set'));
});
