import { newJobSchema } from '../../../contract';
import { body, route } from '../../../server/http';
import { createJob } from '../../../server/jobs';
import { deskView } from '../../../server/summaries';

export const GET = route(deskView);

export const POST = route(async (context) => ({ id: await createJob((await body(context, newJobSchema)).title) }));
