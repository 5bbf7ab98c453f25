import { newJobSchema, whichJobsSchema } from '../../../contract';
import { deskView } from '../../../server/desk';
import { body, route } from '../../../server/http';
import { createJob } from '../../../server/jobs';

export const GET = route(({ url: { searchParams } }) =>
  deskView(
    searchParams.get('words') ?? '',
    Number(searchParams.get('page') ?? 0),
    whichJobsSchema.parse(searchParams.get('which') ?? 'desk'),
  ),
);

export const POST = route(async (context) => ({ id: await createJob((await body(context, newJobSchema)).title) }));
