import { pathSchema } from '../../../../contract';
import { homecomingView, takeIn } from '../../../../server/homecoming';
import { body, param, route } from '../../../../server/http';

export const GET = route((context) => homecomingView(param(context, 'job')));

/** Takes in a folder of clips that were made elsewhere. */
export const POST = route(async (context) => takeIn(param(context, 'job'), (await body(context, pathSchema)).path));
