import { marksSchema } from '../../../../contract';
import { listFromMarks } from '../../../../server/cuts';
import { body, param, route } from '../../../../server/http';
import { cutsView } from '../../../../server/views';

/** The cuts that were found in the reference. */
export const GET = route((context) => cutsView(param(context, 'job')));

/** Makes a list out of marks. */
export const POST = route(async (context) => listFromMarks(param(context, 'job'), (await body(context, marksSchema)).marks));
