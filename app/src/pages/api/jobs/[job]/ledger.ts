import { param, route } from '../../../../server/http';
import { conformView, eventView, ledgerAnswer, ledgerView, tracesView } from '../../../../server/ledger';

/**
 * The ledger; `since` a version: what changed after it; `event`: all of one event; `of=traces`: scores for the ribbon;
 * `of=conform`: what the page's own time map is compiled from;
 * `as=rows`: row by row, for scripts.
 */
export const GET = route(async (context) => {
  const job = param(context, 'job');
  const query = context.url.searchParams;
  const event = query.get('event');
  if (event) return eventView(job, event);
  if (query.get('of') === 'traces') return tracesView(job);
  if (query.get('of') === 'conform') return { conform: await conformView(job) };
  return query.get('as') === 'rows' ? ledgerView(job) : ledgerAnswer(job, query.get('since'));
});
