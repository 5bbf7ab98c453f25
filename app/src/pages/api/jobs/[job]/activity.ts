import { param, route } from '../../../../server/http';
import { activityView } from '../../../../server/views';

export const GET = route((context) => activityView(param(context, 'job')));
