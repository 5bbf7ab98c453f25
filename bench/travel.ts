import { type Figure, inFolder, seconds } from './measure';
import { ask, BASE, emptyJob, fill, type Job, serve, stop } from './server';

const EVENTS = 10_000;
const CLIPS = 100_000;
const JOBS = 100;

/** What travels to the browser: the ledger, a decision with the row that it changed, and the desk. Needs `npm run build`. */
export function travel(): Promise<Figure[]> {
  return inFolder(async (folder) => {
    const empty = await serve(folder);
    const few = await emptyJob(folder, 100, 100);
    const many = await emptyJob(folder, CLIPS, EVENTS);
    for (let n = 0; n < JOBS; n++) await ask('POST', '/api/jobs', JSON.stringify({ title: `Job ${n}` }));
    await stop(empty);
    await fill(folder, few);
    await fill(folder, many);
    const server = await serve(folder);
    try {
      const small = await measured(few);
      const large = await measured(many);
      const desk = await desks();
      return [
        {
          name: `ledger of ${EVENTS} events, ${CLIPS} originals: whole, once computed`,
          ours: large.whole,
          yardstick: small.whole,
          yardstickName: 'the same with 100 and 100',
          note: `${(large.bytes / 1e6).toFixed(2)} MB; ${(small.bytes / 1e3).toFixed(0)} kB with 100`,
        },
        {
          name: `${EVENTS} events, ${CLIPS} originals: from a decision to the changed row`,
          ours: large.decision,
          yardstick: small.decision,
          yardstickName: 'the same with 100 and 100',
          note: `${(large.changed / 1e3).toFixed(1)} kB sent`,
        },
        {
          name: `the desk with ${JOBS + 2} jobs`,
          ours: desk,
          yardstick: small.whole,
          yardstickName: 'a ledger of 100 events',
          note: `${(desk * 1000).toFixed(0)} ms`,
        },
      ];
    } finally {
      await stop(server);
    }
  });
}

async function measured({ id }: Job) {
  // Once unmeasured: the job is computed when it is first asked for.
  await ask('GET', `/api/jobs/${id}/ledger`);
  let text = '';
  const whole = await seconds(async () => {
    text = await (await fetch(`${BASE}/api/jobs/${id}/ledger`)).text();
  });
  let { version } = JSON.parse(text) as { version: string };
  const { rows } = (await ask('GET', `/api/jobs/${id}/ledger?as=rows`)) as { rows: { id: string }[] };
  const times: number[] = [];
  let changed = '';
  for (let n = 0; n < 5; n++)
    times.push(
      await seconds(async () => {
        await ask(
          'POST',
          `/api/jobs/${id}/decisions`,
          JSON.stringify({ decisions: [{ kind: 'exempt', event: rows[n]?.id, exempt: true }] }),
        );
        changed = await (await fetch(`${BASE}/api/jobs/${id}/ledger?since=${version}`)).text();
        ({ version } = JSON.parse(changed));
      }),
    );
  return { whole, bytes: text.length, decision: times.sort((a, b) => a - b)[2] ?? Number.NaN, changed: changed.length };
}

/** The desk once its jobs are counted; the slowest of ten times. */
async function desks(): Promise<number> {
  for (let tries = 0; tries < 600; tries++) {
    const jobs = (await ask('GET', '/api/jobs')) as { counting: boolean }[];
    if (jobs.every((j) => !j.counting)) break;
    await new Promise((resolve) => setTimeout(resolve, 500));
  }
  let slowest = 0;
  for (let n = 0; n < 10; n++) slowest = Math.max(slowest, await seconds(() => ask('GET', '/api/jobs')));
  return slowest;
}
