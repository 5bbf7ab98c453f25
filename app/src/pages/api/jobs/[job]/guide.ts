import { LARGEST_REFERENCE, pathSchema } from '../../../../contract';
import { addGuide, removeGuide } from '../../../../server/guide';
import { body, param, route, uploaded } from '../../../../server/http';
import { uploadedReferencePath } from '../../../../server/jobs';

/** Guide sound that came as a file of its own. */
export const PUT = route(async (context) => {
  const job = param(context, 'job');
  const file = await uploadedReferencePath(job, param(context, 'name'));
  await uploaded(context.request, file, LARGEST_REFERENCE, 'The guide sound', () => addGuide(job, file));
});

export const POST = route(async (context) => {
  await addGuide(param(context, 'job'), (await body(context, pathSchema)).path);
});

export const DELETE = route(async (context) => {
  await removeGuide(param(context, 'job'));
});
