import { LARGEST_REFERENCE, pathSchema } from '../../../../contract';
import { body, param, route, uploaded } from '../../../../server/http';
import { addReference, uploadedReferencePath } from '../../../../server/jobs';

export const PUT = route(async (context) => {
  const job = param(context, 'job');
  const file = await uploadedReferencePath(job, param(context, 'name'));
  await uploaded(context.request, file, LARGEST_REFERENCE, 'The reference', () => addReference(job, file));
});

export const POST = route(async (context) => {
  await addReference(param(context, 'job'), (await body(context, pathSchema)).path);
});
