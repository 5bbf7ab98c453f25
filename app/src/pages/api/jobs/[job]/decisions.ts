import { decideSchema, undoSchema } from '../../../../contract';
import { body, param, route } from '../../../../server/http';
import { decide, withdraw } from '../../../../server/jobs';

export const POST = route(async (context) => ({
  batch: await decide(param(context, 'job'), (await body(context, decideSchema)).decisions),
}));

/** Withdraws a batch, or takes its withdrawal back. */
export const PATCH = route(async (context) => withdraw(param(context, 'job'), (await body(context, undoSchema)).batch));
