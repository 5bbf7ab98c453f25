import { returnAskedSchema } from '@gemello/core';
import { param, route } from '../../../../server/http';
import { returnView } from '../../../../server/views';

/** What would be written if it were asked for in one way, and what was written last. */
export const GET = route((context) =>
  returnView(param(context, 'job'), returnAskedSchema.parse(Object.fromEntries(context.url.searchParams))),
);
