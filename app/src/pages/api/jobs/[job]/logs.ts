import { logSchema } from '../../../../contract';
import { body, param, route } from '../../../../server/http';
import { logsOnVolumes, readLog } from '../../../../server/logs';

/** The clip logs that lie on the volumes. */
export const GET = route((context) => logsOnVolumes(param(context, 'job')));

/** Shows what a clip log says, or takes it in. */
export const POST = route(async (context) => readLog(param(context, 'job'), await body(context, logSchema)));
