import { readingSchema, takeSchema } from '../../../../../../contract';
import { arrivalView } from '../../../../../../server/arrival';
import { body, param, queryOf, route } from '../../../../../../server/http';
import { discard, take } from '../../../../../../server/lists';

/** The list as it would be read with what the address says of it (`reading`, as JSON). */
export const GET = route((context) =>
  arrivalView(param(context, 'job'), param(context, 'list'), queryOf(context, 'reading', readingSchema)),
);

export const POST = route(async (context) => ({
  lists: await take(param(context, 'job'), param(context, 'list'), await body(context, takeSchema)),
}));

export const DELETE = route((context) => discard(param(context, 'job'), param(context, 'list')));
