import { request as call } from 'node:http';
import { expect, test } from '@playwright/test';
import { ENDPOINTS, type Endpoint } from '../app/src/contract/endpoints';
import { jobOf, onVolume, withNumberedFiles } from './numbered';
import { PORT } from './ports';

/** Every line of the table of endpoints is asked as nobody should ask it: nothing is let in, nothing falls over, nothing of a job changes. */
withNumberedFiles();

interface Answer {
  readonly status: number;
  readonly text: string;
}
/** Asks with an address that is sent as it stands; a stream of events is left at its first words. */
const ask = (method: string, address: string, body?: string | Buffer, headers: Record<string, string> = {}): Promise<Answer> =>
  new Promise((resolve, reject) => {
    const sent = call({
      host: '127.0.0.1',
      port: PORT,
      method,
      path: address,
      headers: { ...headers, ...(body && { 'content-length': Buffer.byteLength(body) }) },
    });
    sent.setTimeout(60_000, () => sent.destroy(new Error(`${method} ${address.slice(0, 120)} does not answer`)));
    sent.on('error', reject);
    sent.on('response', (answer) => {
      const parts: Buffer[] = [];
      const done = () => resolve({ status: answer.statusCode ?? 0, text: Buffer.concat(parts).toString('utf8') });
      answer.on('data', (part: Buffer) => {
        parts.push(part);
        if (answer.headers['content-type'] !== 'text/event-stream') return;
        sent.destroy();
        done();
      });
      answer.on('end', done);
      answer.on('error', () => {});
    });
    sent.end(body);
  });

interface Ids {
  readonly job: string;
  readonly list: string;
  readonly task: string;
  readonly volume: string;
}
const NONE: Ids = { job: '', list: '', task: '', volume: '' };
const addressOf = ({ path }: Endpoint, ids: Ids, query: Record<string, string> = {}): string => {
  const said = new URLSearchParams(query).toString();
  return path.replace('[job]', ids.job).replace('[list]', ids.list).replace('[task]', ids.task) + (said && `?${said}`);
};
const told = (e: Endpoint) => `${e.method} ${e.path}`;
/** A refusal is the asker's fault, and says what is wrong. */
const refused = ({ status, text }: Answer, what: string) => {
  expect(status, `${what}: ${text.slice(0, 200)}`).toBeGreaterThanOrEqual(400);
  expect(status, `${what}: ${text.slice(0, 200)}`).toBeLessThan(500);
};
const sentence = ({ text }: Answer, what: string) => expect((JSON.parse(text) as { message: string }).message, what).toMatch(/\S+ \S+/);

let [ours, theirs]: [Ids, Ids] = [NONE, NONE];
let before: string;
/** What people did in both jobs, but for the tasks, which come and go. */
const state = async (): Promise<string> => {
  const parts = await Promise.all(
    [ours, theirs].flatMap(({ job }: Ids) => ['', '/decisions', '/lists', '/filters'].map((of) => ask('GET', `/api/jobs/${job}${of}`))),
  );
  return parts.map(({ text }) => text.replace(/"tasks":\[.*?\]\s*(?=[,}])/gs, '')).join('\n');
};
test.beforeAll(async ({ request }) => {
  const job = await jobOf(request);
  const idsOf = async (id: string): Promise<Ids> => {
    const { volumes } = await (await request.get(`/api/jobs/${id}`)).json();
    const lists = await (await request.get(`/api/jobs/${id}/lists`)).json();
    const task = await (await request.post(`/api/jobs/${id}/tasks`, { data: { kind: 'scan', volumes: null } })).json();
    return { job: id, list: lists[0].id, task: task.id, volume: volumes[0].id };
  };
  const other = await (await request.post('/api/jobs', { data: { title: 'Not theirs' } })).json();
  const line = '001  A001  V  C  10:00:00:00 10:00:01:00 01:00:00:00 01:00:01:00';
  await request.put(`/api/jobs/${other.id}/lists?name=other.edl`, { data: Buffer.from(`TITLE: OTHER\n${line}\n`) });
  await request.post(`/api/jobs/${other.id}/volumes`, { data: { path: onVolume('.') } });
  [ours, theirs] = [await idsOf(job), await idsOf(other.id)];
  await expect
    .poll(async () => {
      const answers = await Promise.all([ours, theirs].map(({ job: id }: Ids) => ask('GET', `/api/jobs/${id}`)));
      return answers.every(({ text }) => !/"state":"(waiting|running)"/.test(text));
    })
    .toBe(true);
  before = await state();
});
test.afterEach(async () => {
  expect(await state()).toBe(before);
});

test('asked under a foreign name, or by a foreign page, each refuses', async () => {
  expect((await ask('TRACE', '/api/jobs')).status).toBe(405);
  expect((await ask('GET', '/api/jobs', undefined, { 'x-forwarded-for': '127.0.0.1' })).status, 'passed on by another server').toBe(403);
  for (const e of ENDPOINTS) {
    expect((await ask(e.method, addressOf(e, ours), undefined, { host: 'gemello.example' })).status, told(e)).toBe(403);
    if (e.method === 'GET') continue;
    for (const origin of ['http://gemello.example', 'null', `http://127.0.0.1:${PORT + 1}`])
      expect((await ask(e.method, addressOf(e, ours), '{}', { origin })).status, `${told(e)} from ${origin}`).toBe(403);
  }
});

const NOWHERE = ['none', '..%2f..%2fetc%2fpasswd', '%00', 'x'.repeat(3000), encodeURIComponent("' OR 1=1 --"), '%ff', '%F0%9F%8E%9E'];
/** Two dots lead to the address above, as they do everywhere. */
const UP = '%2e%2e';
test('of a job that is none, or what another job holds, each refuses', async () => {
  for (const e of ENDPOINTS.filter(({ path }) => path.includes('[job]'))) {
    for (const job of [...NOWHERE, UP])
      refused(await ask(e.method, addressOf(e, { ...ours, job }), e.body ? '{}' : undefined), `${told(e)} of ${job.slice(0, 30)}`);
    if (/\[(list|task)\]/.test(e.path)) {
      const sent = e.path.endsWith('[task]') ? '{"do":"pause"}' : '{"reading":{},"as":"cut","aspects":["speed"],"events":null}';
      refused(await ask(e.method, addressOf(e, { ...theirs, job: ours.job }), e.body && sent), `${told(e)} of another job`);
      for (const id of NOWHERE)
        refused(await ask(e.method, addressOf(e, { ...ours, list: id, task: id }), e.body && sent), `${told(e)} ${id.slice(0, 30)}`);
    }
  }
  for (const [method, body] of [['DELETE'], ['PATCH', '{"name":"taken"}'], ['PUT', '{"as":"none"}']] as const)
    refused(await ask(method, `/api/jobs/${ours.job}/volumes?id=${theirs.volume}`, body), `${method} a volume of another job`);
});

const DEEP = `${'['.repeat(100_000)}${']'.repeat(100_000)}`;
const WRONG = [
  '',
  'no JSON',
  '[]',
  '7',
  'null',
  '"x"',
  '{"__proto__":{"path":"/"}}',
  DEEP,
  `{"path":7,"decisions":"x","kind":["scan"],"title":{}}`,
  '\u0000\u0001',
];
test('a body that is no JSON, of another shape, or nested without end is refused with a sentence', async () => {
  for (const e of ENDPOINTS.filter(({ body }) => body)) {
    const query: Record<string, string> = e.path.endsWith('/volumes') && e.method !== 'POST' ? { id: ours.volume } : {};
    for (const body of WRONG) {
      const answer = await ask(e.method, addressOf(e, ours, query), body);
      refused(answer, `${told(e)} with ${body.slice(0, 40)}`);
      sentence(answer, told(e));
    }
  }
});

test('an upload that is nothing, or noise under a name that leads elsewhere, is refused and not kept', async () => {
  const noise = Buffer.from(Array.from({ length: 4096 }, (_, i) => (i * 7919 + (i >> 3)) & 255));
  for (const e of ENDPOINTS.filter(({ upload }) => upload))
    for (const name of ['../../x.mov', '/etc/x.mov', '..', 'x'.repeat(250), 'a\u0000b', '\u202egnp.exe', '']) {
      refused(await ask(e.method, addressOf(e, ours, { name }), Buffer.alloc(0)), `${told(e)} of nothing as ${name.slice(0, 30)}`);
      // A list that cannot be read is kept in sight, with why, until it is put away.
      const answer = await ask(e.method, addressOf(e, ours, { name }), noise);
      if (!e.path.endsWith('/lists')) refused(answer, `${told(e)} of noise as ${name.slice(0, 30)}`);
      else expect(answer.status, answer.text.slice(0, 200)).toBeLessThan(500);
    }
  const kept = JSON.parse((await ask('GET', `/api/jobs/${ours.job}/lists`)).text) as { id: string; files: string[] }[];
  for (const { id, files } of kept.filter((l) => !l.files.includes('viewer.edl'))) {
    for (const file of files) expect(file).not.toMatch(/[/\\\p{Cc}\p{Cf}]|^$/u);
    await ask('DELETE', `/api/jobs/${ours.job}/lists/${id}`);
  }
});

const ODD = [
  '',
  '../../../../etc/passwd',
  '/etc/shadow',
  '-1',
  'NaN',
  '1e309',
  '9'.repeat(40),
  'x'.repeat(5000),
  '{',
  '[[[[',
  '%',
  '\u0000',
  'undefined',
  "'; DROP TABLE jobs; --",
];
test('what an address says wrongly is no fault of the server, whatever it is', async () => {
  for (const e of ENDPOINTS.filter(({ method, query }) => method === 'GET' && query))
    for (const name of Object.keys(e.query ?? {}))
      for (const said of ODD) {
        const answer = await ask('GET', addressOf(e, ours, { [name]: said }));
        expect(answer.status, `${told(e)} with ${name}=${said.slice(0, 40)}: ${answer.text.slice(0, 200)}`).toBeLessThan(500);
        expect(answer.text).not.toContain('root:');
      }
});
