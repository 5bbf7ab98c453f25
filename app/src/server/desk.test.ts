import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { DESK_PAGE } from '../contract';

/** A desk with more jobs than are sent at once, in a folder of the test's own. */
const folder = mkdtempSync(path.join(tmpdir(), 'gemello-desk-'));
process.env.GEMELLO_DATA = folder;
process.env.GEMELLO_LOG = 'silent';

const MANY = 230;
let desk: typeof import('./desk');
beforeAll(async () => {
  desk = await import('./desk');
  const [{ write }, schema] = [await import('./db/open'), await import('./db/schema')];
  // As a version before would have left them: nothing says by what they are found.
  await write(async (tx) => {
    const rows = Array.from({ length: MANY }, (_, n) => ({ id: `j${n}`, title: `Job ${n}`, createdAt: n, changedAt: n, sequence: n }));
    await tx
      .insert(schema.jobs)
      .values([
        ...rows,
        { id: 'door', title: 'TÜR auf', createdAt: 500, changedAt: 500, sequence: 500 },
        { id: 'later', title: 'Job that changed last', createdAt: 1, changedAt: 2, sequence: 2000, listTitle: 'Der Öltanker' },
        { id: 'gone', title: 'Job that is deleted', createdAt: 999, changedAt: 999, sequence: 999, deletedAt: 1000 },
      ]);
    const data = { durationFrames: 24, counts: null, ribbon: [] };
    await tx.insert(schema.jobSummaries).values({ jobId: 'later', data, stale: false });
    await tx
      .insert(schema.tasks)
      .values({ id: 't', jobId: 'j7', kind: 'scan', state: 'paused', options: { kind: 'scan', volumes: null }, createdAt: 1 });
  });
  await (await import('./names')).nameFormer();
});
afterAll(async () => {
  await (await import('./media')).mediaThreads().close();
  rmSync(folder, { recursive: true });
});

const all = MANY + 2;

describe('the desk', () => {
  it('is sent page by page: together they are every job once, the one that changed last first, whatever the clock said', async () => {
    const pages = [await desk.deskView('', 0), await desk.deskView('', 1), await desk.deskView('', 2)];
    expect(pages.map((p) => p.jobs.length)).toEqual([DESK_PAGE, DESK_PAGE, all - 2 * DESK_PAGE]);
    for (const page of pages) expect(page).toMatchObject({ all, found: all });
    const jobs = pages.flatMap((p) => p.jobs);
    expect(new Set(jobs.map((j) => j.id)).size).toBe(all);
    expect(jobs.slice(0, 3).map((j) => j.id)).toEqual(['later', 'door', `j${MANY - 1}`]);
  });
  it('has nothing on a page past its end, and still says how many there are', async () => {
    expect(await desk.deskView('', 9)).toEqual({ jobs: [], all, found: all, deleted: 1 });
    expect(await desk.deskView('job', 9)).toEqual({ jobs: [], all, found: MANY + 1, deleted: 1 });
  });
  it('shows what was deleted apart, with the day until which it is kept', async () => {
    const view = await desk.deskView('', 0, 'deleted');
    expect(view).toMatchObject({ all: 1, found: 1, deleted: 1 });
    // Thirty days.
    expect(view.jobs).toMatchObject([{ id: 'gone', keptUntil: 1000 + 2_592_000_000 }]);
    expect((await desk.deskView('tür', 0, 'deleted')).jobs).toEqual([]);
    expect((await desk.deskView('tür')).jobs[0]).toMatchObject({ keptUntil: null });
  });
  it('finds jobs by words in their name or the title of their cut, whatever the case of their letters', async () => {
    const found = async (words: string) => (await desk.deskView(words)).jobs.map((j) => j.id);
    expect(await found('tür')).toEqual(['door']);
    expect(await found('  ÖLTANKER last ')).toEqual(['later']);
    expect(await found('deleted')).toEqual([]);
    expect(await found('100%')).toEqual([]);
    expect(await found('job 22')).toEqual(['j229', 'j228', 'j227', 'j226', 'j225', 'j224', 'j223', 'j222', 'j221', 'j220', 'j122', 'j22']);
  });
  it('pages through what was found', async () => {
    const [first, second] = [await desk.deskView('job'), await desk.deskView('job', 1)];
    expect(first).toMatchObject({ all, found: MANY + 1 });
    expect(second.jobs).toHaveLength(DESK_PAGE);
    expect(second.jobs[0]?.changedAt).toBeLessThan(first.jobs.at(-1)?.changedAt ?? 0);
  });
  it('says of each job how much work of it has not ended, and what is not counted yet', async () => {
    const page = (await desk.deskView('job 7')).jobs;
    expect(page.find((j) => j.id === 'j7')).toMatchObject({ running: 1, counting: true });
    expect(page.find((j) => j.id === 'j70')).toMatchObject({ running: 0 });
    expect((await desk.deskView('last')).jobs[0]).toMatchObject({ counting: false, durationFrames: 24 });
  });
});
