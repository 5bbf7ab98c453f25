import path from 'node:path';
import { createClient } from '@libsql/client';
import { DESK_PAGE } from '../app/src/contract';
import { type Figure, inFolder, seconds } from './measure';
import { answered, ask, BASE, emptyJob, fill, type Job, serve, stop } from './server';

const EVENTS = 10_000;
const CLIPS = 100_000;
const JOBS = 10_000;
/** Stretches in the small ribbon of each job on the desk: those of a cut of as many events. */
const STRETCHES = 100;

/** What travels to the browser: the ledger, a decision with the row that it changed, and the desk. Needs `npm run build`. */
export function travel(): Promise<Figure[]> {
  return inFolder(async (folder) => {
    const empty = await serve(folder);
    const few = await emptyJob(folder, 100, 100);
    const many = await emptyJob(folder, CLIPS, EVENTS);
    await stop(empty);
    await fill(folder, few);
    await fill(folder, many);
    await layOnDesk(folder);
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
        ...desk.map(([name, slowest, middle]) => ({
          name: `the desk with ${JOBS + 2} jobs, ${name}`,
          ours: slowest,
          yardstick: small.whole,
          yardstickName: 'a ledger of 100 events',
          note: `slowest of twenty, asked under 100 ms; middle ${(middle * 1000).toFixed(0)} ms`,
        })),
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

/** Lays jobs on the desk, each with what is counted of a cut. */
async function layOnDesk(folder: string): Promise<void> {
  const client = createClient({ url: `file:${path.join(folder, 'gemello.db')}`, timeout: 10_000 });
  const ribbon = Array.from({ length: STRETCHES }, (_, i) => ({
    layer: 0,
    from: i / STRETCHES,
    to: (i + 1) / STRETCHES,
    state: i % 2 ? 'paired' : 'proposed',
  }));
  const states = { paired: 50, proposed: 50, contested: 0, doubtful: 0, short: 0, away: 0, unpaired: 0, exempt: 0 };
  const verdicts = { same: 0, differs: 0, uncertain: 0, unchecked: STRETCHES };
  for (let at = 0; at < JOBS; at += 500)
    await client.batch(
      Array.from({ length: 500 }, (_, i) => at + i).flatMap((n) => [
        {
          sql: 'INSERT INTO jobs (id, title, list_title, found_by, created_at, changed_at, sequence) VALUES (?, ?, ?, ?, ?, ?, ?)',
          args: [`desk${n}`, `Job ${n}`, `Cut ${n}`, `job ${n} cut ${n}`, n, n, n],
        },
        {
          sql: 'INSERT INTO job_summaries (job_id, data, stale) VALUES (?, ?, 0)',
          args: [`desk${n}`, JSON.stringify({ durationFrames: 4800, counts: { states, verdicts }, ribbon })],
        },
      ]),
      'write',
    );
  client.close();
}

/** The desk when it is opened, far down it, and when a job is looked for: the slowest and the middle of twenty times, in seconds. */
async function desks(): Promise<[name: string, slowest: number, middle: number][]> {
  const figures: [string, number, number][] = [];
  for (const [name, query] of [
    ['as it opens', ''],
    ['its last page', `?page=${Math.floor(JOBS / DESK_PAGE)}`],
    ['a word looked for, which a few have', '?words=777'],
    ['a word looked for, which all have', '?words=job'],
  ] as const) {
    const times: number[] = [];
    for (let n = 0; n < 20; n++) times.push(await seconds(() => answered(`${BASE}/api/jobs${query}`)));
    times.sort((a, b) => a - b);
    figures.push([name, times.at(-1) ?? Number.NaN, times[10] ?? Number.NaN]);
  }
  return figures;
}
