import { defineMiddleware } from 'astro:middleware';
import { isOwnAddress, isOwnName } from './server/askers';
import { endpointOf, refusal } from './server/endpoints';
import { clearDeleted, clearUnfinished } from './server/jobs';
import { nameFormer } from './server/names';
import { withPolicy } from './server/policy';
import { resumeTasks } from './server/tasks/runner';

const resumed = clearUnfinished()
  .then(nameFormer)
  .then(() => clearDeleted(Date.now()))
  .then(resumeTasks);

const refused = (message: string) => new Response(message, { status: 403 });

/** True for an origin that is not this server's; one that cannot be read, or is kept secret, is none of ours. */
const isForeign = (origin: string, host: string | null): boolean => !URL.canParse(origin) || new URL(origin).host !== host;

/** Only this machine's own names are answered, so that no foreign page can reach the server by a name of its own. */
export const onRequest = defineMiddleware(async (context, next) => {
  const { request, url } = context;
  const host = request.headers.get('host');
  // Whoever asks from elsewhere may write any name into the request; where it came from is for the system to say, and the framework
  // believes this header instead.
  if (!isOwnName(host) || request.headers.has('x-forwarded-for') || !isOwnAddress(context.clientAddress))
    return refused('Gemello answers on this machine only.');
  const origin = request.headers.get('origin');
  if (origin !== null && request.method !== 'GET' && isForeign(origin, host)) return refused('Requests from other pages are not taken.');
  await resumed;
  const isOurs = url.pathname.startsWith('/api/');
  const endpoint = endpointOf(request.method, context.routePattern);
  if (endpoint) context.locals.endpoint = endpoint;
  const answer = (isOurs && refusal(endpoint, url)) || (await next());
  // The server listens under its number, whatever name it was asked by. (The framework leaves the port out of `url`.)
  const desk = `http://127.0.0.1:${/:(\d+)$/.exec(host ?? '')?.[1] ?? 80}/`;
  return withPolicy(answer, url.pathname === '/' ? null : async () => (await fetch(desk)).text());
});
