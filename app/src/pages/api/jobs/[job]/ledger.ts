import { param, route } from '../../../../server/http';
import { ledgerView } from '../../../../server/views';

export const GET = route((context) => ledgerView(param(context, 'job')));
