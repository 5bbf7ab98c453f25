import { cpSync, mkdirSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { fileURLToPath } from 'node:url';
import { type Decision, type Original, RATES } from '@gemello/core';
import { createClient } from '@libsql/client';
import { drizzle } from 'drizzle-orm/libsql';
import { migrate } from 'drizzle-orm/libsql/migrator';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { original, proof } from '../../../../core/test/make';

/** A database as the version before the log was kept by job left it: made by its own migrations, filled by hand. */
const folder = mkdtempSync(path.join(tmpdir(), 'gemello-upgrade-'));
const root = path.resolve(path.dirname(fileURLToPath(import.meta.url)), '..', '..', '..', '..');
process.env.GEMELLO_DATA = path.join(folder, 'desk');
process.env.GEMELLO_ROOT = root;
process.env.GEMELLO_LOG = 'silent';

const FORMER_MIGRATIONS = 6;
const LIST = `TITLE: SMALL
001  A001     V     C        01:00:00:10 01:00:01:10 10:00:00:00 10:00:01:00
* FROM CLIP NAME: A001C001
002  A001     V     C        01:00:03:00 01:00:04:00 10:00:01:00 10:00:02:00
* FROM CLIP NAME: A001C001
003  A001     V     C        01:00:05:00 01:00:06:00 10:00:02:00 10:00:03:00
* FROM CLIP NAME: A001C001
`;
const bytes = new TextEncoder().encode(LIST);
/** The keys of its events, as they stand in databases: they must never come out otherwise. */
const keys = ['k1k9sskr8h69', 'k24zm3hbek1k', 'k3hkb8sy4zj'];
const clip: Original = original(path.join(folder, 'cards', 'A001C001.mov'), { clipName: 'A001C001', start: 86_400, frames: 240 });

/** Rows of the former log: what was decided, whether it was withdrawn, and whether it was about an event. */
const FORMER: readonly (readonly [decision: object, withdrawn: boolean, about: 'event' | 'original'])[] = [
  [{ kind: 'pair', event: 'V1/1', original: clip.path, sourceStartFrame: 10 }, false, 'event'],
  [{ kind: 'slip', event: 'V1/1', frames: 3 }, false, 'event'],
  [{ kind: 'slip', event: 'V1/1', frames: 4 }, true, 'event'],
  [{ kind: 'slip', event: 'V1/1', frames: -1 }, false, 'event'],
  [{ kind: 'slip', event: 'V1/2', frames: 5 }, false, 'event'],
  [{ kind: 'grade', event: 'V1/2', cdl: { slope: [1, 1, 1], offset: [0, 0, 0], power: [1, 1, 1], saturation: 0.5 } }, false, 'event'],
  [
    {
      kind: 'carry',
      event: 'V1/3',
      from: 'b.xml',
      carried: { retime: { kind: 'constant', speed: 0.5 }, source: { in: 86_520, out: 86_532 } },
    },
    false,
    'event',
  ],
  [{ kind: 'exempt', event: 'V9/1', exempt: true }, false, 'event'],
  [{ kind: 'correct', original: clip.path, reel: 'Q9' }, false, 'original'],
  [{ kind: 'gone', event: 'V1/1' }, false, 'event'],
];

/** The first so many migrations, in a folder of their own. */
function migrationsUpTo(many: number): string {
  const former = path.join(folder, `migrations-${many}`);
  cpSync(path.join(root, 'app', 'migrations'), former, { recursive: true });
  const journalFile = path.join(former, 'meta', '_journal.json');
  const journal = JSON.parse(readFileSync(journalFile, 'utf8'));
  writeFileSync(journalFile, JSON.stringify({ ...journal, entries: journal.entries.slice(0, many) }));
  return former;
}

beforeAll(async () => {
  const former = migrationsUpTo(FORMER_MIGRATIONS);
  mkdirSync(process.env.GEMELLO_DATA as string, { recursive: true });
  mkdirSync(path.join(folder, 'cards'));
  const client = createClient({ url: `file:${path.join(process.env.GEMELLO_DATA as string, 'gemello.db')}` });
  await migrate(drizzle(client), { migrationsFolder: former });
  const run = (sql: string, ...args: (string | number | Uint8Array | null)[]) => client.execute({ sql, args });
  const rules = { name: 'exact', reel: 'loose', timecode: 'must', need: 'both', rates: 'label' };
  await run('INSERT INTO jobs (id, title, rules, created_at) VALUES (?, ?, ?, ?)', 'job', 'Old', JSON.stringify(rules), 1);
  await run(
    'INSERT INTO lists (id, job_id, state, options, created_at) VALUES (?, ?, ?, ?, ?)',
    'cut',
    'job',
    'cut',
    JSON.stringify({ rate: RATES['24'] }),
    2,
  );
  await run('INSERT INTO list_files (list_id, place, file_name, bytes) VALUES (?, 0, ?, ?)', 'cut', 'small.edl', bytes);
  await run(
    'INSERT INTO volumes (id, job_id, path, name, former_paths) VALUES (?, ?, ?, ?, ?)',
    'v',
    'job',
    path.join(folder, 'cards'),
    'cards',
    '[]',
  );
  await run(
    'INSERT INTO originals (path, job_id, volume_id, data, here) VALUES (?, ?, ?, ?, 1)',
    clip.path,
    'job',
    'v',
    JSON.stringify(clip),
  );
  await run(
    'INSERT INTO reference_movies (id, job_id, data, created_at) VALUES (?, ?, ?, ?)',
    'ref',
    'job',
    JSON.stringify({ ...clip, path: '/ref.mov' }),
    1,
  );
  for (const [i, [decision, withdrawn, about]] of FORMER.entries())
    await run(
      'INSERT INTO decisions (job_id, list_id, batch, made_at, who, decision, withdrawn_at) VALUES (?, ?, ?, ?, ?, ?, ?)',
      'job',
      about === 'event' ? 'cut' : null,
      `b${i}`,
      100 + i,
      'editor',
      JSON.stringify(decision),
      withdrawn ? 1 : null,
    );
  const madeFrom = JSON.stringify(['ref', clip.path, 12]);
  await run(
    'INSERT INTO proofs (list_id, event, made_from, data) VALUES (?, ?, ?, ?)',
    'cut',
    'V1/1',
    madeFrom,
    JSON.stringify(proof('V1/1')),
  );
  await run(
    'INSERT INTO tasks (id, job_id, kind, options, state, created_at) VALUES (?, ?, ?, ?, ?, ?)',
    't',
    'job',
    'proof',
    JSON.stringify({ kind: 'proof', events: ['V1/2'] }),
    'waiting',
    1,
  );
  client.close();
});
afterAll(() => rmSync(folder, { recursive: true }));

describe('a database of the version before', () => {
  it('loses nothing: every decision is there, in its order, about the event it was made about', async () => {
    const { workspace } = await import('../workspace');
    const { database } = await import('./open');
    const schema = await import('./schema');
    const w = await workspace('job');
    const rows = await (await database()).select().from(schema.decisions).orderBy(schema.decisions.id);
    const made = rows.map((r): Decision => r.decision);
    expect(rows.map((r) => [r.batch, r.madeAt, r.who, r.withdrawnAt !== null]).slice(0, FORMER.length)).toEqual(
      FORMER.map(([, withdrawn], i) => [`b${i}`, 100 + i, 'editor', withdrawn]),
    );
    const [first, second, third] = keys;
    expect(made).toEqual([
      { kind: 'pair', event: first, original: clip.path, sourceStartFrame: 10 },
      { kind: 'slip', event: first, original: clip.path, sourceStartFrame: 13 },
      // What was withdrawn stands as it would have moved the picture then.
      { kind: 'slip', event: first, original: clip.path, sourceStartFrame: 17 },
      { kind: 'slip', event: first, original: clip.path, sourceStartFrame: 12 },
      { kind: 'note', scope: { of: 'event', event: second }, text: 'Slipped by 5 frames while no original was paired' },
      { kind: 'grade', scope: { of: 'event', event: second }, cdl: expect.objectContaining({ saturation: 0.5 }) },
      {
        kind: 'carry',
        event: third,
        from: 'b.xml',
        carried: { retime: { kind: 'constant', speed: { num: 1, den: 2 } }, source: { in: 86_520, out: 86_532 } },
      },
      { kind: 'exempt', event: 'V9/1', exempt: true },
      { kind: 'correct', original: clip.path, reel: 'Q9' },
      { kind: 'note', scope: { of: 'event', event: first }, text: JSON.stringify({ kind: 'gone', event: 'V1/1' }) },
      { kind: 'rules', rules: expect.objectContaining({ name: 'exact', need: 'both' }) },
    ]);
    expect(w.log.waiting.map((r) => r.batch)).toEqual(['b7']);
    expect(w.applied?.refused).toEqual([]);
  });
  it('stands as it stood: the pair with its slips, the grade, the speed, the rules; its proof did not keep all it rested on, and is named stale', async () => {
    const views = await import('../views');
    const ledger = await import('../ledger');
    const { rows } = await ledger.ledgerView('job');
    expect(rows[0]).toMatchObject({ accepted: true, sourceStart: 12, slip: 2, proof: { verdict: 'same', stale: true } });
    expect(rows[1]).toMatchObject({ cdlFrom: 'typed', cdl: { saturation: 0.5 } });
    expect(rows[2]).toMatchObject({ speed: 0.5 });
    expect((await views.jobView('job')).rules.lines).toMatchObject([{ name: 'exact', reel: 'loose', timecode: 'overlaps' }]);
    expect((await views.jobView('job')).waiting).toBe(1);
  });
  it('goes on with the work that was waiting, on the events it was meant for', async () => {
    const { database } = await import('./open');
    const schema = await import('./schema');
    const [task] = await (await database()).select().from(schema.tasks);
    expect(task?.options).toEqual({ kind: 'proof', events: [keys[1]] });
  });
  it('is taken over once: opened again, nothing more happens', async () => {
    const { upgradeJob } = await import('./upgrade');
    const { database } = await import('./open');
    const schema = await import('./schema');
    const db = await database();
    const before = await db.select().from(schema.decisions);
    await upgradeJob(db, 'job');
    expect(await db.select().from(schema.decisions)).toEqual(before);
  });
});

describe('a desk of the version that kept with the numbers when a job changed', () => {
  it('keeps its order, and its jobs are found by their cut', async () => {
    const client = createClient({ url: `file:${path.join(folder, 'desk.db')}` });
    const db = drizzle(client);
    await migrate(db, { migrationsFolder: migrationsUpTo(13) });
    await client.execute("INSERT INTO jobs (id, title, created_at) VALUES ('counted', 'A', 1), ('new', 'B', 5)");
    await client.execute({
      sql: 'INSERT INTO job_summaries (job_id, data, stale, changed_at) VALUES (?, ?, 0, 7)',
      args: ['counted', JSON.stringify({ listTitle: 'Türen, "zweite"', durationFrames: 24, counts: null, ribbon: [] })],
    });
    await client.execute(
      "INSERT INTO lists (id, job_id, state, options, created_at) VALUES ('late', 'new', 'cut', '{}', 9), ('early', 'new', 'cut', '{}', 3)",
    );
    await migrate(db, { migrationsFolder: path.join(root, 'app', 'migrations') });
    const { rows: cuts } = await client.execute('SELECT id FROM lists ORDER BY sequence');
    expect(cuts.map((r) => r.id)).toEqual(['early', 'late']);
    const { rows } = await client.execute('SELECT id, changed_at, list_title FROM jobs ORDER BY sequence DESC');
    expect(rows.map((r) => [r.id, r.changed_at, r.list_title])).toEqual([
      ['counted', 7, 'Türen, "zweite"'],
      ['new', 5, null],
    ]);
    const { rows: kept } = await client.execute('SELECT job_id, stale FROM job_summaries');
    expect(kept.map((r) => [r.job_id, r.stale])).toEqual([['counted', 0]]);
    client.close();
  });
});
