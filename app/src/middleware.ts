import { defineMiddleware } from 'astro:middleware';
import { clearDeleted } from './server/jobs';
import { resumeTasks } from './server/tasks/runner';

const resumed = clearDeleted(Date.now()).then(resumeTasks);

/** Only this machine's own names are answered, so that no foreign page can reach the server by a name of its own. */
export const onRequest = defineMiddleware(async (context, next) => {
  const host = (context.request.headers.get('host') ?? '').replace(/:\d+$/, '');
  if (!['127.0.0.1', 'localhost', '[::1]'].includes(host)) return new Response('Gemello answers on this machine only.', { status: 403 });
  const origin = context.request.headers.get('origin');
  if (origin && context.request.method !== 'GET' && new URL(origin).host !== context.request.headers.get('host'))
    return new Response('Requests from other pages are not taken.', { status: 403 });
  await resumed;
  return next();
});
