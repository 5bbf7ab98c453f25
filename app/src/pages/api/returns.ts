import { keptReturnSchema } from '../../contract';
import { body, param, route } from '../../server/http';
import { forgetWay, keepWay, keptWays } from '../../server/kept';

/** Ways in which returns are asked for, kept under names for all jobs. */
export const GET = route(() => keptWays());

export const PUT = route(async (context) => {
  const { name, asked } = await body(context, keptReturnSchema);
  await keepWay(name, asked);
});

export const DELETE = route((context) => forgetWay(param(context, 'name')));
