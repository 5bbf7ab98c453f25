import { param, route } from '../../../../server/http';
import { originalsView } from '../../../../server/views';

export const GET = route((context) => originalsView(param(context, 'job')));
