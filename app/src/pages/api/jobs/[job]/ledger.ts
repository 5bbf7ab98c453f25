import { strangerView, versionView } from '../../../../server/compiled';
import { param, route } from '../../../../server/http';
import { conformView, eventView, ledgerAnswer, ledgerView, tracesView } from '../../../../server/ledger';

/**
 * The ledger; `since` a version: what changed after it; `event`: all of one event; `of=traces`: scores for the ribbon;
 * `of=conform`: what the page's own time map is compiled from, with `list` that of another version of the cut; `of=original`: an
 * original that the cut does not use, by its `path`;
 * `as=rows`: row by row, for scripts.
 */
export const GET = route(async (context) => {
  const job = param(context, 'job');
  const query = context.url.searchParams;
  const event = query.get('event');
  if (event) return eventView(job, event);
  if (query.get('of') === 'traces') return tracesView(job);
  if (query.get('of') === 'conform') {
    const list = query.get('list');
    return { conform: list ? await versionView(job, list) : await conformView(job) };
  }
  if (query.get('of') === 'original') return strangerView(job, query.get('path') ?? '');
  return query.get('as') === 'rows' ? ledgerView(job) : ledgerAnswer(job, query.get('since'));
});
