import { route } from '../../server/http';

/** Answers once the server is at work; the start script asks, so that work that was begun goes on before anyone visits. */
export const GET = route(async () => ({ up: true }));
