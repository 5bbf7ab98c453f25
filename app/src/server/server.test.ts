import { mkdirSync, mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { fileURLToPath } from 'node:url';
import { DEFAULT_RULES, type Original, RATES } from '@gemello/core';
import { eq } from 'drizzle-orm';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { original } from '../../../core/test/make';

/** The server's own logic, on a database in a folder of the test's own. No file of media is opened. */
const folder = mkdtempSync(path.join(tmpdir(), 'gemello-server-'));
process.env.GEMELLO_DATA = path.join(folder, 'desk');
process.env.GEMELLO_ROOT = path.resolve(path.dirname(fileURLToPath(import.meta.url)), '..', '..', '..');
process.env.GEMELLO_LOG = 'silent';

type Jobs = typeof import('./jobs');
type Views = typeof import('./views');
let jobs: Jobs;
let views: Views;
let db: Awaited<ReturnType<typeof import('./db/open')['database']>>;
let schema: typeof import('./db/schema');
let changes: typeof import('./changes');
beforeAll(async () => {
  jobs = await import('./jobs');
  views = await import('./views');
  schema = await import('./db/schema');
  changes = await import('./changes');
  db = await (await import('./db/open')).database();
});
afterAll(() => rmSync(folder, { recursive: true }));

const LIST = `TITLE: SMALL
001  A001     V     C        01:00:00:10 01:00:01:10 10:00:00:00 10:00:01:00
* FROM CLIP NAME: A001C001
* ASC_SAT 0.5
002  A001     V     C        01:00:03:00 01:00:04:00 10:00:01:00 10:00:02:00
* FROM CLIP NAME: A001C001
003  BL       V     C        00:00:00:00 00:00:01:00 10:00:02:00 10:00:03:00
`;
const bytes = (text: string) => new TextEncoder().encode(text);

const clip = (file: string): Original => original(file, { clipName: 'A001C001', start: 86_400, frames: 240 });

/** A job with the list and one volume that holds one clip, as a scan would leave it. */
async function job(): Promise<{ id: string; volume: string; original: string }> {
  const id = await jobs.createJob('Small');
  await jobs.addList(id, 'small.edl', bytes(LIST));
  await jobs.setListRate(id, RATES['24']);
  const card = path.join(folder, 'cards', id);
  mkdirSync(card, { recursive: true });
  const volume = await jobs.addVolume(id, card);
  const original = path.join(card, 'A001C001.mov');
  await db.insert(schema.originals).values({ path: original, jobId: id, volumeId: volume, data: clip(original), here: true });
  jobs.changed(id);
  return { id, volume, original };
}
const states = async (id: string) => (await views.ledgerView(id)).rows.map((r) => r.state);

describe('a job', () => {
  it('shows proposals as proposals until they are accepted', async () => {
    const { id, original } = await job();
    expect(await states(id)).toEqual(['proposed', 'proposed', 'exempt']);
    await jobs.decide(id, [{ kind: 'pair', event: 'V1/1', original, sourceStartFrame: 10 }]);
    expect(await states(id)).toEqual(['paired', 'proposed', 'exempt']);
    const summary = await views.jobSummary(id);
    expect(summary).toMatchObject({ listTitle: 'SMALL', durationFrames: 72, counts: { states: { paired: 1, proposed: 1, exempt: 1 } } });
    expect(summary.ribbon.map((s) => [s.from, s.to])).toEqual([
      [0, 24],
      [24, 48],
      [48, 72],
    ]);
  });
  it('keeps the log of what was withdrawn, and takes it up again', async () => {
    const { id, original } = await job();
    const both = await jobs.decide(id, [
      { kind: 'pair', event: 'V1/1', original, sourceStartFrame: 10 },
      { kind: 'pair', event: 'V1/2', original, sourceStartFrame: 72 },
    ]);
    const slip = await jobs.decide(id, [{ kind: 'slip', event: 'V1/2', frames: -2 }]);
    await jobs.withdraw(id, both);
    expect(await states(id)).toEqual(['proposed', 'proposed', 'exempt']);
    await jobs.withdraw(id, both);
    expect(await states(id)).toEqual(['paired', 'paired', 'exempt']);
    const { decisions } = await views.activityView(id);
    expect(decisions.map((d) => [d.text, d.withdrawn])).toEqual([
      ['Event 002: slipped by -2 frames', false],
      ['2 events: paired', false],
    ]);
    await jobs.withdraw(id, slip);
    expect((await views.activityView(id)).decisions[0]?.withdrawn).toBe(true);
    expect(await db.select().from(schema.decisions).where(eq(schema.decisions.jobId, id))).toHaveLength(3);
  });
  it('does not let one job withdraw what another decided', async () => {
    const [a, b] = [await job(), await job()];
    const batch = await jobs.decide(a.id, [{ kind: 'exempt', event: 'V1/1', exempt: true }]);
    await expect(jobs.withdraw(b.id, batch)).rejects.toMatchObject({ status: 404 });
  });
  it('reads its list at the rate that is set, and infers it again when it is taken back', async () => {
    const { id } = await job();
    await jobs.setListRate(id, RATES['25']);
    expect((await views.jobView(id)).list).toMatchObject({ rate: RATES['25'], rateSet: true, durationFrames: 75 });
    await jobs.setListRate(id, null);
    expect((await views.jobView(id)).list).toMatchObject({ rate: RATES['24'], rateSet: false, rateStated: false });
  });
  it('pairs by the rules that are set; accepted pairs stand whatever they are', async () => {
    const { id, original } = await job();
    await jobs.decide(id, [{ kind: 'pair', event: 'V1/1', original, sourceStartFrame: 10 }]);
    await jobs.setRules(id, { ...DEFAULT_RULES, reel: 'off', name: 'off' });
    expect(await states(id)).toEqual(['paired', 'doubtful', 'exempt']);
  });
  it('keeps a grade typed here apart from the one in the list', async () => {
    const { id } = await job();
    const grade = async () => (await views.ledgerView(id)).rows.map((r) => [r.cdlFrom, r.cdl?.saturation]);
    expect((await grade())[0]).toEqual(['list', 0.5]);
    const cdl = { slope: [1, 1, 1], offset: [0, 0, 0], power: [1, 1, 1], saturation: 0.8 } as const;
    await jobs.decide(id, [{ kind: 'grade', event: 'V1/1', cdl: { ...cdl, slope: [1, 1, 1], offset: [0, 0, 0], power: [1, 1, 1] } }]);
    expect((await grade())[0]).toEqual(['typed', 0.8]);
  });
});

describe('a proof holds only while what it was made from stands', () => {
  it('and is named stale after a slip, and good again when that is undone', async () => {
    const { id, original } = await job();
    await db.insert(schema.references).values({ id: `ref-${id}`, jobId: id, data: clip('/ref.mov'), createdAt: 1 });
    await jobs.decide(id, [{ kind: 'pair', event: 'V1/1', original, sourceStartFrame: 10 }]);
    const { workspace, proofKey } = await import('./workspace');
    const w = await workspace(id);
    const shot = w.conform?.layers[0]?.shots[0];
    if (!shot || !w.listRow) throw new Error('no shot');
    const data = {
      event: 'V1/1',
      number: '001',
      track: 'V1',
      verdict: 'same',
      score: 0.99,
      bestOffset: 0,
      bestScore: 0.99,
      trace: [0.99],
      framesCompared: 1,
      findings: [],
    } as const;
    await db.insert(schema.proofs).values({ listId: w.listRow.id, event: 'V1/1', madeFrom: proofKey(shot, `ref-${id}`), data });
    jobs.changed(id);
    const proof = async () => (await views.ledgerView(id)).rows[0]?.proof;
    expect(await proof()).toMatchObject({ verdict: 'same', stale: false });
    const slip = await jobs.decide(id, [{ kind: 'slip', event: 'V1/1', frames: 1 }]);
    expect(await proof()).toMatchObject({ stale: true });
    expect((await views.jobSummary(id)).counts?.verdicts).toMatchObject({ same: 0, unchecked: 3 });
    await jobs.withdraw(id, slip);
    expect(await proof()).toMatchObject({ stale: false });
  });
});

describe('what a person sees before anything is written', () => {
  it('clips with handles, and a warning for each event that has no accepted original', async () => {
    const { id, original } = await job();
    await jobs.decide(id, [{ kind: 'pair', event: 'V1/1', original, sourceStartFrame: 10 }]);
    const view = await views.returnView(id, 12);
    expect(view.clips).toMatchObject([{ number: '001', frames: 46, headHandle: 10, tailHandle: 12, start: '01:00:00:00', graded: true }]);
    expect(view.warnings.map((w) => [w.event, w.code])).toEqual([
      ['V1/1', 'short-handles'],
      ['V1/2', 'not-paired'],
    ]);
  });
  it('the settings of the list beside those of the reference', async () => {
    const { id } = await job();
    await db
      .insert(schema.references)
      .values({ id: `ref-${id}`, jobId: id, data: { ...clip('/r.mov'), start: 864_000, frames: 71 }, createdAt: 1 });
    jobs.changed(id);
    expect((await views.jobView(id)).checks.map((c) => [c.name, c.agrees])).toEqual([
      ['Frame rate', true],
      ['Timecodes', true],
      ['Start', true],
      ['Length', false],
    ]);
  });
  it('which line of the text each event stands on', async () => {
    const { id } = await job();
    expect(await views.turnoverView(id)).toMatchObject({ lines: { 'V1/1': 2, 'V1/2': 5, 'V1/3': 7 }, text: LIST });
  });
  it('which events use an original', async () => {
    const { id } = await job();
    expect((await views.originalsView(id)).map((o) => o.usedBy.map((u) => u.number))).toEqual([['001', '002']]);
  });
});

describe('volumes', () => {
  it('do not lie one inside the other, and are not added twice', async () => {
    const { id, volume } = await job();
    const card = path.join(folder, 'cards', id);
    expect(await jobs.addVolume(id, card)).toBe(volume);
    await expect(jobs.addVolume(id, path.join(folder, 'cards'))).rejects.toMatchObject({ status: 409 });
    mkdirSync(path.join(card, 'inner'));
    await expect(jobs.addVolume(id, path.join(card, 'inner'))).rejects.toMatchObject({ status: 409 });
  });
  it('that are forgotten leave accepted pairs away, never lost', async () => {
    const { id, volume, original } = await job();
    await jobs.decide(id, [{ kind: 'pair', event: 'V1/1', original, sourceStartFrame: 10 }]);
    await jobs.removeVolume(id, volume);
    expect(await states(id)).toEqual(['away', 'unpaired', 'exempt']);
  });
});

describe('lists in other formats', () => {
  it('come in by their content, whatever they are called', async () => {
    const { readList, writeOtio, writeXmeml } = await import('@gemello/core');
    const made = readList(LIST, { rate: RATES['24'] });
    if (!made) throw new Error('no list');
    for (const text of [writeOtio(made), writeXmeml(made)]) {
      const id = await jobs.createJob('Other');
      await jobs.addList(id, 'cut.txt', bytes(text));
      expect((await views.jobView(id)).list).toMatchObject({
        title: 'SMALL',
        rate: RATES['24'],
        rateStated: true,
        startTimecode: '10:00:00:00',
      });
    }
  });
  it('that are cut off are refused with the reason, and not kept', async () => {
    const id = await jobs.createJob('Broken');
    await expect(jobs.addList(id, 'cut.otio', bytes('{"OTIO_SCHEMA": "Timeline.1", "tracks": '))).rejects.toMatchObject({
      status: 422,
      message: expect.stringContaining('not whole JSON'),
    });
    expect((await views.jobView(id)).list).toBeNull();
  });
});

it('those who watch a job hear of its changes, and of no other job', async () => {
  const [a, b] = [await job(), await job()];
  const heard: string[] = [];
  const stop = changes.watch(a.id, (c) => heard.push(c.kind));
  await jobs.decide(b.id, [{ kind: 'exempt', event: 'V1/1', exempt: true }]);
  expect(heard).toEqual([]);
  await jobs.decide(a.id, [{ kind: 'exempt', event: 'V1/1', exempt: true }]);
  expect(heard).toContain('ledger');
  stop();
  const before = heard.length;
  await jobs.decide(a.id, [{ kind: 'exempt', event: 'V1/1', exempt: false }]);
  expect(heard).toHaveLength(before);
});
