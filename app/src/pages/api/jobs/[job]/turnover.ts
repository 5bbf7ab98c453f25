import { param, route } from '../../../../server/http';
import { turnoverView } from '../../../../server/views';

export const GET = route(async (context) => (await turnoverView(param(context, 'job'))) ?? { list: null });
