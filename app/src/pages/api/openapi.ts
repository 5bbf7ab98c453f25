import { openApi } from '../../contract/openapi';
import { route } from '../../server/http';

export const GET = route(async () => openApi());
