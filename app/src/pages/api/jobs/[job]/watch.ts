import { standOf, watch } from '../../../../server/changes';
import { param, route } from '../../../../server/http';
import { decided } from '../../../../server/jobs';
import { workspace } from '../../../../server/workspace';

/** It is said this often that the server is here, in milliseconds, so that a broken line is noticed at both ends. */
const BEAT = 20_000;
/** How soon a page asks again for a line that broke, in milliseconds. */
const RETRY = 1_000;
/** How often it is looked whether volumes came or went, in milliseconds. */
const LOOK = 3_000;

/** Which volumes of a job are here now. */
const mounted = async (job: string): Promise<string> =>
  `mounted: ${(await workspace(job)).volumes.map((v) => `${v.id} ${v.is}`).join(', ')}`;

/** Server-sent events: progress of tasks, which resources changed, and that the server is here; each says where the telling stands. */
export const GET = route(async (context) => {
  const job = param(context, 'job');
  await workspace(job);
  let close = () => {};
  const stream = new ReadableStream<Uint8Array>({
    start(controller) {
      const encoder = new TextEncoder();
      const send = (said: object) => controller.enqueue(encoder.encode(`data: ${JSON.stringify({ ...said, stand: standOf(job) })}\n\n`));
      const here = () => send({ kind: 'here' });
      const stop = watch(job, send);
      const beat = setInterval(here, BEAT);
      let before = '';
      const look = setInterval(async () => {
        const now = await mounted(job).catch(() => before);
        if (before !== '' && now !== before) decided(job);
        before = now;
      }, LOOK);
      close = () => {
        stop();
        clearInterval(look);
        clearInterval(beat);
      };
      controller.enqueue(encoder.encode(`retry: ${RETRY}\n`));
      here();
    },
    cancel: () => close(),
  });
  return new Response(stream, { headers: { 'content-type': 'text/event-stream', 'cache-control': 'no-store' } });
});
