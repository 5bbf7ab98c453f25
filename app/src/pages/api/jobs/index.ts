import { newJobSchema } from '../../../contract';
import { deskView } from '../../../server/desk';
import { body, route } from '../../../server/http';
import { createJob } from '../../../server/jobs';

export const GET = route(({ url: { searchParams } }) => deskView(searchParams.get('words') ?? '', Number(searchParams.get('page') ?? 0)));

export const POST = route(async (context) => ({ id: await createJob((await body(context, newJobSchema)).title) }));
