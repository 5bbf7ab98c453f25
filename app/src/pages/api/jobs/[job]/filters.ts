import { saveFilterSchema } from '../../../../contract';
import { body, param, route } from '../../../../server/http';
import { forgetFilter, savedFilters, saveFilter } from '../../../../server/originals';

export const GET = route((context) => savedFilters(param(context, 'job')));

export const PUT = route(async (context) => {
  const { name, data } = await body(context, saveFilterSchema);
  await saveFilter(param(context, 'job'), name, data);
});

export const DELETE = route((context) => forgetFilter(param(context, 'job'), param(context, 'name')));
