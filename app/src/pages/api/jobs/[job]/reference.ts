import { LARGEST_REFERENCE, pathSchema } from '../../../../contract';
import { body, param, route, uploadToFile } from '../../../../server/http';
import { addReference, uploadedReferencePath } from '../../../../server/jobs';

export const PUT = route(async (context) => {
  const job = param(context, 'job');
  const file = uploadedReferencePath(job, param(context, 'name'));
  await uploadToFile(context.request, file, LARGEST_REFERENCE, 'The reference');
  await addReference(job, file);
});

export const POST = route(async (context) => {
  await addReference(param(context, 'job'), (await body(context, pathSchema)).path);
});
