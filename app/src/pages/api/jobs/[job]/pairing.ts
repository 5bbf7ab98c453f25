import { weighSchema } from '../../../../contract';
import { attachment, body, param, RequestError, route } from '../../../../server/http';
import {
  byHandView,
  causesView,
  clipsFound,
  eventUses,
  pairsCsv,
  pairsPage,
  previewView,
  relinkView,
  swapView,
} from '../../../../server/pairing';
import { searchView } from '../../../../server/views';

const fileAnswer = (content: string, type: string, name: string): Response =>
  new Response(content, {
    headers: { 'content-type': `${type}; charset=utf-8`, 'content-disposition': attachment(name) },
  });

/** `report`: the pairs as a table (`csv`) or a page with pictures (`html`). Else causes of many open events; `find`: originals by what is typed; `event` and `with`: an original laid beside an event; `uses`: where the source of an event is used; `search`: the newest search for what is offline. */
export const GET = route(async (context) => {
  const job = param(context, 'job');
  const query = context.url.searchParams;
  const report = query.get('report');
  if (report === 'csv') return fileAnswer(await pairsCsv(job), 'text/csv', 'pairs.csv');
  if (report === 'html') return fileAnswer(await pairsPage(job), 'text/html', 'pairs.html');
  if (query.has('search')) return searchView(job);
  const uses = query.get('uses');
  if (uses !== null) return eventUses(job, uses);
  const [find, event, path] = [query.get('find'), query.get('event'), query.get('with')];
  if (find !== null) return clipsFound(job, find);
  if (event !== null) {
    if (!path) throw new RequestError(400, 'Name the original that is to be laid beside it.');
    return byHandView(job, event, path);
  }
  return causesView(job);
});

/** What decisions would change, which larger read-outs there are, or what follows from a file or folder being elsewhere; nothing is kept. */
export const POST = route(async (context) => {
  const job = param(context, 'job');
  const asked = await body(context, weighSchema);
  if ('larger' in asked) return swapView(job, asked.larger);
  return 'before' in asked ? relinkView(job, asked.before, asked.now) : previewView(job, asked.decisions);
});
