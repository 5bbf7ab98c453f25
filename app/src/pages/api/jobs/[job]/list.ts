import { parseRate } from '@gemello/core';
import { LARGEST_LIST, rateSchema } from '../../../../contract';
import { body, param, RequestError, route, uploadedBytes } from '../../../../server/http';
import { addList, setListRate } from '../../../../server/jobs';

export const PUT = route(async (context) => {
  const bytes = await uploadedBytes(context.request, LARGEST_LIST, 'The list');
  await addList(param(context, 'job'), param(context, 'name'), bytes);
});

export const PATCH = route(async (context) => {
  const { rate } = await body(context, rateSchema);
  const parsed = rate === null ? null : parseRate(rate);
  if (rate !== null && !parsed) throw new RequestError(400, `"${rate}" is no frame rate.`);
  await setListRate(param(context, 'job'), parsed);
});
