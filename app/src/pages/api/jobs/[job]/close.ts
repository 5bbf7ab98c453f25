import { closeSchema } from '../../../../contract';
import { bringAllClose } from '../../../../server/grading';
import { body, param, route } from '../../../../server/http';

/** The grades that bring shots close to another; nothing is kept. */
export const POST = route(async (context) => {
  const { measure, events } = await body(context, closeSchema);
  return bringAllClose(param(context, 'job'), measure, events);
});
