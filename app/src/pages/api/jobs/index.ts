import { newJobSchema } from '../../../contract';
import { body, route } from '../../../server/http';
import { createJob, jobIds } from '../../../server/jobs';
import { jobSummary } from '../../../server/views';

export const GET = route(async () => Promise.all((await jobIds()).map(jobSummary)));

export const POST = route(async (context) => ({ id: await createJob((await body(context, newJobSchema)).title) }));
