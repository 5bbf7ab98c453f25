import { route } from '../../server/http';
import { browse } from '../../server/roots';

/** The folders in a folder of this machine, for choosing a volume. */
export const GET = route(async (context) => browse(context.url.searchParams.get('path')));
