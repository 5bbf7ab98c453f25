import { carrySchema } from '../../../../../../contract';
import { besideView } from '../../../../../../server/arrival';
import { body, param, route } from '../../../../../../server/http';
import { carry } from '../../../../../../server/lists';

export const GET = route((context) => besideView(param(context, 'job'), param(context, 'list')));

/** Carries aspects over into the cut, as one batch of decisions. */
export const POST = route(async (context) => carry(param(context, 'job'), param(context, 'list'), await body(context, carrySchema)));
