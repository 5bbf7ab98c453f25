import { z } from 'zod';
import { param, route } from '../../../../server/http';
import { returnView } from '../../../../server/views';

const handles = z.coerce.number().int().min(0).max(10_000);

export const GET = route((context) => returnView(param(context, 'job'), handles.parse(param(context, 'handles'))));
