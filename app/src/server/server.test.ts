import { existsSync, mkdirSync, mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { fileURLToPath } from 'node:url';
import { formatTimecode, type Original, onEvent, RATES, readDecisionsFile, readDelivery, rulesSchema } from '@gemello/core';
import { eq } from 'drizzle-orm';
import { afterAll, beforeAll, describe, expect, it, vi } from 'vitest';
import { original, proof } from '../../../core/test/make';
import type { Reading } from '../contract';

/** The server's own logic, on a database in a folder of the test's own. No file of media is opened. */
const folder = mkdtempSync(path.join(tmpdir(), 'gemello-server-'));
process.env.GEMELLO_DATA = path.join(folder, 'desk');
process.env.GEMELLO_ROOT = path.resolve(path.dirname(fileURLToPath(import.meta.url)), '..', '..', '..');
process.env.GEMELLO_LOG = 'silent';

type Jobs = typeof import('./jobs');
type Views = typeof import('./views');
let jobs: Jobs;
let views: Views;
let ledger: typeof import('./ledger');
let desk: typeof import('./desk');
let summaries: typeof import('./summaries');
let write: typeof import('./db/open')['write'];
let reading: typeof import('./db/open')['database'];
let schema: typeof import('./db/schema');
let changes: typeof import('./changes');
let lists: typeof import('./lists');
let arrival: typeof import('./arrival');
let clips: typeof import('./originals');
let logs: typeof import('./logs');
let pairing: typeof import('./pairing');
beforeAll(async () => {
  jobs = await import('./jobs');
  views = await import('./views');
  ledger = await import('./ledger');
  desk = await import('./desk');
  summaries = await import('./summaries');
  schema = await import('./db/schema');
  changes = await import('./changes');
  lists = await import('./lists');
  arrival = await import('./arrival');
  clips = await import('./originals');
  logs = await import('./logs');
  pairing = await import('./pairing');
  ({ write, database: reading } = await import('./db/open'));
});
afterAll(async () => {
  await (await import('./media')).mediaThreads().close();
  rmSync(folder, { recursive: true });
});

const LIST = `TITLE: SMALL
001  A001     V     C        01:00:00:10 01:00:01:10 10:00:00:00 10:00:01:00
* FROM CLIP NAME: A001C001
* ASC_SAT 0.5
002  A001     V     C        01:00:03:00 01:00:04:00 10:00:01:00 10:00:02:00
* FROM CLIP NAME: A001C001
003  BL       V     C        00:00:00:00 00:00:01:00 10:00:02:00 10:00:03:00
`;
const bytes = (text: string) => new TextEncoder().encode(text);
/** The keys of the events of the small list, as they stand in databases: they must never come out otherwise. */
const [E1, E2, E3] = ['k1k9sskr8h69', 'k24zm3hbek1k', 'k1z8dr1ycjn3'] as const;
const E = { 1: E1, 2: E2, 3: E3 };

const clip = (file: string): Original => original(file, { clipName: 'A001C001', start: 86_400, frames: 240 });

/** Hands a list over and takes it in. Returns its id. */
async function cut(job: string, name: string, text: string, reading: Reading = {}, as: 'cut' | 'beside' = 'cut'): Promise<string> {
  const answer = await lists.receive(job, name, bytes(text), []);
  if (!('list' in answer)) throw new Error(answer.grades);
  await lists.take(job, answer.list, { reading, as, apart: false });
  return answer.list;
}

/** A job with the list and one volume that holds one clip, as a scan would leave it. */
async function job(): Promise<{ id: string; volume: string; original: string }> {
  const id = await jobs.createJob('Small');
  await cut(id, 'small.edl', LIST, { rate: '24' });
  const card = path.join(folder, 'cards', id);
  mkdirSync(card, { recursive: true });
  const volume = await jobs.addVolume(id, card);
  const original = path.join(card, 'A001C001.mov');
  await write((tx) =>
    tx.insert(schema.originals).values({ path: original, jobId: id, volumeId: volume, data: clip(original), here: true }),
  );
  jobs.changed(id);
  return { id, volume, original };
}
const states = async (id: string) => (await ledger.ledgerView(id)).rows.map((r) => r.state);

describe('a job', () => {
  it('shows proposals as proposals until they are accepted', async () => {
    const { id, original } = await job();
    expect(await states(id)).toEqual(['proposed', 'proposed', 'exempt']);
    await jobs.decide(id, [{ kind: 'pair', event: E[1], original, sourceStartFrame: 10 }]);
    expect(await states(id)).toEqual(['paired', 'proposed', 'exempt']);
    const summary = await summaries.summarise(id);
    expect(summary).toMatchObject({ durationFrames: 72, counts: { states: { paired: 1, proposed: 1, exempt: 1 } } });
    expect(summary.ribbon.map((s) => [s.from * 72, s.to * 72, s.state])).toEqual([
      [0, 24, 'paired'],
      [24, 48, 'proposed'],
      [48, 72, 'exempt'],
    ]);
  });
  it('stands on the desk with what was counted last, and is counted again behind it once it has changed', async () => {
    // The desk waits a while before it counts: how long the rest takes on a busy machine must not matter.
    vi.useFakeTimers({ toFake: ['setTimeout'] });
    try {
      const { id, original } = await job();
      await summaries.summarise(id);
      const onDesk = async () => (await desk.deskView()).jobs.find((j) => j.id === id);
      expect(await onDesk()).toMatchObject({ listTitle: 'SMALL', counting: false, counts: { states: { proposed: 2 } } });
      await jobs.decide(id, [{ kind: 'pair', event: E[1], original, sourceStartFrame: 10 }]);
      await expect.poll(onDesk, { timeout: 20_000 }).toMatchObject({ counting: true, counts: { states: { paired: 0, proposed: 2 } } });
      vi.advanceTimersByTime(2000);
      await expect.poll(onDesk, { timeout: 20_000 }).toMatchObject({ counting: false, counts: { states: { paired: 1, proposed: 1 } } });
      await jobs.renameJob(id, 'Another name');
      expect(await onDesk()).toMatchObject({ title: 'Another name' });
    } finally {
      vi.useRealTimers();
    }
  });
  it('is brought back after it was deleted, and is gone with all that is its own once it was cleared away', async () => {
    const { id } = await job();
    const { id: other } = await job();
    await summaries.summarise(id);
    const onDesk = async () => (await desk.deskView()).jobs.some((j) => j.id === id);
    const changedAt = async () => (await desk.deskView('', 0, 'deleted')).jobs.find((j) => j.id === id)?.changedAt;
    const before = (await desk.deskView()).jobs.find((j) => j.id === id)?.changedAt;
    const told: string[] = [];
    const letGo = changes.watch(id, ({ kind }) => told.push(kind));
    await jobs.deleteJob(id, true);
    expect(await onDesk()).toBe(false);
    // Who works in it hears of it.
    expect(told).toEqual(['job']);
    expect(await changedAt()).toBe(before);
    expect((await views.jobView(id)).keptUntil).toBeGreaterThan(Date.now());
    letGo();
    await jobs.deleteJob(id, false);
    expect([await onDesk(), (await views.jobView(id)).keptUntil]).toEqual([true, null]);
    await jobs.deleteJob(id, true);
    const days = 24 * 3600 * 1000;
    await jobs.clearDeleted(Date.now() + 29 * days);
    expect(await states(id)).toHaveLength(3);
    await jobs.clearDeleted(Date.now() + 31 * days);
    jobs.changed(id);
    await expect(states(id)).rejects.toMatchObject({ status: 404 });
    expect(await states(other)).toHaveLength(3);
  });
  it('counts as later what arrives later, however far the clock is set back between', async () => {
    const { id } = await job();
    const { id: other } = await job();
    const { keepReference } = jobs;
    await keepReference(id, original('/first.mov', {}));
    const clock = vi.spyOn(Date, 'now').mockReturnValue(1000);
    try {
      const second = await cut(id, 'second.edl', LIST.replace('SMALL', 'SECOND'), { rate: '24' });
      await keepReference(id, original('/second.mov', {}));
      await vi.waitFor(async () => expect((await desk.deskView()).jobs.map((j) => j.id).slice(0, 2)).toEqual([id, other]));
      expect((await lists.listEntries(id)).map((l) => l.current)).toEqual([true, false]);
      expect((await lists.listEntries(id))[0]).toMatchObject({ id: second, createdAt: 1000 });
      const { workspace } = await import('./workspace');
      expect(await workspace(id)).toMatchObject({ list: { title: 'SECOND' }, reference: { movie: { path: '/second.mov' } } });
    } finally {
      clock.mockRestore();
    }
  });
  it('keeps the log of what was withdrawn, and takes it up again', async () => {
    const { id, original } = await job();
    const both = await jobs.decide(id, [
      { kind: 'pair', event: E[1], original, sourceStartFrame: 10 },
      { kind: 'pair', event: E[2], original, sourceStartFrame: 72 },
    ]);
    const slip = await jobs.decide(id, [{ kind: 'slip', event: E[2], original, sourceStartFrame: 70 }]);
    await jobs.withdraw(id, both);
    expect(await states(id)).toEqual(['proposed', 'proposed', 'exempt']);
    await jobs.withdraw(id, both);
    expect(await states(id)).toEqual(['paired', 'paired', 'exempt']);
    const { decisions } = await views.activityView(id);
    expect(decisions.map((d) => [d.text, d.withdrawn])).toEqual([
      ['Event 002: slipped to frame 70 of A001C001.mov', false],
      ['2 events: paired', false],
    ]);
    await jobs.withdraw(id, slip);
    expect((await views.activityView(id)).decisions[0]?.withdrawn).toBe(true);
    expect(await (await reading()).select().from(schema.decisions).where(eq(schema.decisions.jobId, id))).toHaveLength(3);
  });
  it('undone twice by a page that did not see the first is undone once', async () => {
    const { id, original } = await job();
    const batch = await jobs.decide(id, [{ kind: 'pair', event: E[1], original, sourceStartFrame: 10 }]);
    for (const what of ['undo', 'undo'] as const) await jobs.withdraw(id, batch, what);
    expect(await states(id)).toEqual(['proposed', 'proposed', 'exempt']);
    for (const what of ['redo', 'redo'] as const) await jobs.withdraw(id, batch, what);
    expect(await states(id)).toEqual(['paired', 'proposed', 'exempt']);
  });
  it('does not let one job withdraw what another decided', async () => {
    const [a, b] = [await job(), await job()];
    const batch = await jobs.decide(a.id, [{ kind: 'exempt', event: E[1], exempt: true }]);
    await expect(jobs.withdraw(b.id, batch)).rejects.toMatchObject({ status: 404 });
  });
  it('reads its list at the rate that is set, and infers it again when it is taken back', async () => {
    const { id } = await job();
    const list = (await lists.listEntries(id))[0]?.id ?? '';
    const read = (reading: Reading) => lists.take(id, list, { reading, as: 'cut', apart: false });
    await read({ rate: '25' });
    expect((await views.jobView(id)).list).toMatchObject({ rate: RATES['25'], rateSet: true, durationFrames: 75 });
    await read({});
    expect((await views.jobView(id)).list).toMatchObject({ rate: RATES['24'], rateSet: false, rateStated: false });
  });
  it('swaps for a larger read-out of the same clip, at the frame that stands, slip and all', async () => {
    const { id, volume, original } = await job();
    await jobs.decide(id, [
      { kind: 'pair', event: E[1], original, sourceStartFrame: 10 },
      { kind: 'slip', event: E[1], original, sourceStartFrame: 13 },
    ]);
    expect((await pairing.swapView(id, [E[1]])).decisions).toEqual([]);
    const large = path.join(path.dirname(original), 'full', 'A001C001.mov');
    const data = { ...clip(large), raster: { width: 3840, height: 2160 } };
    await write((tx) => tx.insert(schema.originals).values({ path: large, jobId: id, volumeId: volume, data, here: true }));
    jobs.changed(id);
    const found = await pairing.swapView(id, [E[1], E[2]]);
    expect(found).toMatchObject({ rasters: [{ from: '1920×1080', to: '3840×2160', events: 1 }], cut: null });
    expect(found.decisions).toMatchObject([{ original: large, sourceStartFrame: 13 }]);
    await jobs.decide(id, found.decisions);
    expect((await ledger.ledgerView(id)).rows[0]).toMatchObject({ acceptedPath: large, state: 'paired', scaled: null });
    // TRADE.md, matching: the cut's raster is set to the new size; what is smaller is then scaled, and that is visible.
    expect(found.raise).toMatchObject({ raster: '3840×2160', reading: { rate: '24', raster: '3840x2160' }, sameShape: true });
    await lists.take(id, found.raise?.list as string, { reading: found.raise?.reading as Reading, as: 'cut', apart: false });
    const { rows } = await ledger.ledgerView(id);
    expect(rows.map((r) => r.state)).toEqual(['paired', 'contested', 'exempt']);
    expect(rows.slice(0, 1).map((r) => r.scaled)).toEqual([null]);
    await jobs.decide(id, [{ kind: 'pair', event: E[2], original, sourceStartFrame: 72 }]);
    expect((await ledger.ledgerView(id)).rows[1]?.scaled).toEqual({ how: 'smaller', original: '1920×1080', cut: '3840×2160' });
    expect((await pairing.swapView(id, [E[2]])).raise).toBeNull();
  });
  it('of what is offline tells where it is used, in every version of the cut', async () => {
    const { id, volume } = await job();
    await jobs.removeVolume(id, volume);
    await cut(
      id,
      'former.edl',
      LIST.replace('TITLE: SMALL', 'TITLE: SHORTER').replaceAll('A001C001', 'a001c001_proxy.mp4'),
      { rate: '24' },
      'beside',
    );
    expect(await states(id)).toEqual(['unpaired', 'unpaired', 'exempt']);
    const uses = await pairing.eventUses(id, E[1]);
    expect(uses.map((v) => [v.is, v.uses.map((u) => u.number)])).toEqual([
      ['cut', ['001', '002']],
      ['beside', ['001', '002']],
    ]);
  });
  it('shows what other rules would change, and keeps nothing of it', async () => {
    const { id } = await job();
    const rules = rulesSchema.parse({ lines: [{ reel: 'loose', raster: 'same' }] });
    const seen = await pairing.previewView(id, [{ kind: 'rules', rules }]);
    expect(seen).toMatchObject({
      now: { proposed: 2 },
      after: { doubtful: 2 },
      changed: 2,
      samples: [{ from: 'proposed', to: 'doubtful' }, {}],
    });
    expect(await states(id)).toEqual(['proposed', 'proposed', 'exempt']);
  });
  it('pairs by the rules that are set; accepted pairs stand whatever they are', async () => {
    const { id, original } = await job();
    await jobs.decide(id, [{ kind: 'pair', event: E[1], original, sourceStartFrame: 10 }]);
    await jobs.decide(id, [{ kind: 'rules', rules: rulesSchema.parse({ lines: [{ reel: 'loose', raster: 'same' }] }) }]);
    expect(await states(id)).toEqual(['paired', 'doubtful', 'exempt']);
  });
  it('keeps a grade typed here apart from the one in the list', async () => {
    const { id } = await job();
    const grade = async () => (await ledger.ledgerView(id)).rows.map((r) => [r.cdlFrom, r.cdl?.saturation]);
    expect((await grade())[0]).toEqual(['list', 0.5]);
    const cdl = { slope: [1, 1, 1], offset: [0, 0, 0], power: [1, 1, 1], saturation: 0.8 } as const;
    await jobs.decide(id, [
      { kind: 'grade', scope: onEvent(E[1]), cdl: { ...cdl, slope: [1, 1, 1], offset: [0, 0, 0], power: [1, 1, 1] } },
    ]);
    expect((await grade())[0]).toEqual(['typed', 0.8]);
  });
});

describe('the log of decisions', () => {
  const TRIMMED = LIST.replace('01:00:03:00 01:00:04:00 10:00:01:00', '01:00:03:04 01:00:04:00 10:00:01:04');
  it('stays with its events when the list is read at another rate', async () => {
    const { id, original } = await job();
    await jobs.decide(id, [{ kind: 'pair', event: E[2], original, sourceStartFrame: 72 }]);
    const list = (await lists.listEntries(id))[0]?.id ?? '';
    await lists.take(id, list, { reading: { rate: '25' }, as: 'cut', apart: false });
    const { rows } = await ledger.ledgerView(id);
    expect(rows.map((r) => [r.id, r.accepted])).toEqual([
      [E[1], false],
      [E[2], true],
      [E[3], false],
    ]);
  });
  it('follows its events into a new version of the cut; what finds none waits, listed, and comes back with it', async () => {
    const { id, original } = await job();
    await jobs.decide(id, [
      { kind: 'pair', event: E[1], original, sourceStartFrame: 10 },
      { kind: 'pair', event: E[2], original, sourceStartFrame: 72 },
    ]);
    await cut(id, 'v2.edl', TRIMMED, { rate: '24' });
    expect((await ledger.ledgerView(id)).rows.map((r) => r.accepted)).toEqual([true, true, false]);
    const gone = LIST.split('\n')
      .filter((_, i) => i < 1 || i > 3)
      .join('\n');
    await cut(id, 'v3.edl', gone, { rate: '24' });
    expect((await ledger.ledgerView(id)).rows.map((r) => [r.number, r.accepted])).toEqual([
      ['002', true],
      ['003', false],
    ]);
    expect(await views.jobView(id)).toMatchObject({ waiting: 1, refused: 0 });
    const { decisions } = await views.activityView(id);
    expect(decisions[0]).toMatchObject({ text: '2 events: paired', waiting: ['001 (A001C001)'], withdrawn: false });
    await cut(id, 'v4.edl', LIST, { rate: '24' });
    expect(await views.jobView(id)).toMatchObject({ waiting: 0 });
    expect((await ledger.ledgerView(id)).rows.map((r) => r.accepted)).toEqual([true, true, false]);
  });
  it('takes all of a batch or none, and says what the nearest possible is', async () => {
    const { id, original } = await job();
    await jobs.decide(id, [{ kind: 'pair', event: E[1], original, sourceStartFrame: 10 }]);
    const refused = jobs.decide(id, [
      { kind: 'exempt', event: E[2], exempt: true },
      { kind: 'slip', event: E[1], original, sourceStartFrame: 500 },
    ]);
    await expect(refused).rejects.toMatchObject({
      status: 422,
      message: 'The original has not enough frames. The nearest that is possible: slipped to frame 216 of A001C001.mov.',
      details: { nearest: { kind: 'slip', event: E[1], sourceStartFrame: 216 } },
    });
    expect(await states(id)).toEqual(['paired', 'proposed', 'exempt']);
    expect((await views.activityView(id)).decisions).toHaveLength(1);
  });
  it('goes back to a point, and each that was undone can be done again', async () => {
    const { id, original } = await job();
    const pair = await jobs.decide(id, [{ kind: 'pair', event: E[1], original, sourceStartFrame: 10 }], 'ed', 'matches by eye');
    await jobs.decide(id, [{ kind: 'slip', event: E[1], original, sourceStartFrame: 12 }]);
    const last = await jobs.decide(id, [{ kind: 'slip', event: E[1], original, sourceStartFrame: 15 }]);
    const slip = async () => (await ledger.ledgerView(id)).rows[0]?.slip;
    expect(await slip()).toBe(5);
    await jobs.backTo(id, pair);
    expect(await slip()).toBe(0);
    const log = (await views.activityView(id)).decisions;
    expect(log.map((d) => [d.withdrawn, d.why, d.was])).toEqual([
      [true, '', 'was A001C001.mov from frame 12'],
      [true, '', 'was A001C001.mov from frame 10'],
      [false, 'matches by eye', ''],
    ]);
    await jobs.withdraw(id, last);
    expect(await slip()).toBe(5);
    await jobs.explain(id, last, 'sits on the beat');
    expect((await views.activityView(id)).decisions[0]).toMatchObject({ why: 'sits on the beat', withdrawn: false });
  });
  it('travels to another job as a file, and finds its events there', async () => {
    const [from, to] = [await job(), await job()];
    await jobs.decide(from.id, [
      { kind: 'exempt', event: E[2], exempt: true },
      { kind: 'rate-mode', scope: { of: 'cut' }, mode: 'real-time' },
    ]);
    const read = readDecisionsFile(JSON.stringify(await views.decisionsView(from.id)));
    if ('problem' in read) throw new Error(read.problem);
    const batch = await jobs.importDecisions(to.id, read.file.decisions, read.file.events);
    expect(await states(to.id)).toEqual(['proposed', 'exempt', 'exempt']);
    await jobs.withdraw(to.id, batch);
    expect(await states(to.id)).toEqual(['proposed', 'proposed', 'exempt']);
  });
});

describe('the ledger that a page has', () => {
  it('is after every change what the server has, by what changed alone', async () => {
    const { id, original } = await job();
    const { ledgerAfter } = await import('../contract/ledger');
    let page = ledgerAfter(undefined, await ledger.ledgerAnswer(id, null));
    const server = async () => JSON.parse(JSON.stringify((await ledger.ledgerView(id)).rows));
    expect(page.rows).toEqual(await server());
    const changes: (() => Promise<unknown>)[] = [
      () => jobs.decide(id, [{ kind: 'pair', event: E[1], original, sourceStartFrame: 10 }]),
      () => jobs.decide(id, [{ kind: 'exempt', event: E[2], exempt: true }]),
      () => jobs.decide(id, [{ kind: 'slip', event: E[1], original, sourceStartFrame: 11 }]),
      () => jobs.decide(id, [{ kind: 'unpair', event: E[1] }]),
    ];
    for (const change of changes) {
      const before = page;
      await change();
      const answer = await ledger.ledgerAnswer(id, page.version);
      page = ledgerAfter(page, answer);
      expect(page.rows).toEqual(await server());
      // What is alike is the very same row, so that nothing is drawn again.
      for (const [i, row] of page.rows.entries())
        if (JSON.stringify(row) === JSON.stringify(before.rows[i])) expect(row).toBe(before.rows[i]);
    }
    expect(await ledger.ledgerAnswer(id, page.version)).toMatchObject({ since: page.version, gone: [] });
    // A version that nobody remembers gets all.
    expect((await ledger.ledgerAnswer(id, 'of another run')).since).toBeNull();
  });
  it('loses the rows that a new version of the cut does not have', async () => {
    const { id } = await job();
    const { ledgerAfter } = await import('../contract/ledger');
    const page = ledgerAfter(undefined, await ledger.ledgerAnswer(id, null));
    const shorter = LIST.split('\n').slice(0, 4).join('\n');
    const answer = await lists.receive(id, 'shorter.edl', new TextEncoder().encode(shorter), []);
    if ('list' in answer) await lists.take(id, answer.list, { reading: { rate: '24' }, as: 'cut', apart: false });
    const change = await ledger.ledgerAnswer(id, page.version);
    expect(change.gone).toHaveLength(2);
    expect(ledgerAfter(page, change).rows).toEqual(JSON.parse(JSON.stringify((await ledger.ledgerView(id)).rows)));
  });
  it('has all of an event when that is asked for', async () => {
    const { id, original } = await job();
    const event = await ledger.eventView(id, E[1]);
    expect(event.contenders).toMatchObject([{ path: original, meets: true }]);
    expect(event.contenders[0]?.evidence.map((e) => e.criterion)).toContain('timecode');
    await expect(ledger.eventView(id, 'none')).rejects.toMatchObject({ status: 404 });
  });
});

describe('a proof holds only while what it was made from stands', () => {
  it('and is named stale after a slip, and good again when that is undone', async () => {
    const { id, original } = await job();
    await write((tx) => tx.insert(schema.references).values({ id: `ref-${id}`, jobId: id, data: clip('/ref.mov'), createdAt: 1 }));
    await jobs.decide(id, [{ kind: 'pair', event: E[1], original, sourceStartFrame: 10 }]);
    const { workspace } = await import('./workspace');
    const { proofMark } = await import('./marks');
    const w = await workspace(id);
    const shot = w.conform?.layers[0]?.shots[0];
    if (!shot || !w.conform || !w.reference) throw new Error('no shot');
    const madeFrom = proofMark(w.conform, shot, w.reference);
    await write((tx) => tx.insert(schema.eventProofs).values({ jobId: id, event: E[1], madeFrom, data: proof(E[1]) }));
    jobs.changed(id);
    const standing = async () => (await ledger.ledgerView(id)).rows[0]?.proof;
    expect(await standing()).toMatchObject({ verdict: 'same', stale: false });
    const slip = await jobs.decide(id, [{ kind: 'slip', event: E[1], original, sourceStartFrame: 11 }]);
    expect(await standing()).toMatchObject({ stale: true });
    expect((await summaries.summarise(id)).counts?.verdicts).toMatchObject({ same: 0, unchecked: 3 });
    await jobs.withdraw(id, slip);
    expect(await standing()).toMatchObject({ stale: false });
  });
});

describe('what a person sees before anything is written', () => {
  it('clips with handles, and a warning for each event that has no accepted original', async () => {
    const { id, original } = await job();
    await jobs.decide(id, [{ kind: 'pair', event: E[1], original, sourceStartFrame: 10 }]);
    const view = await views.returnView(id);
    expect(view.clips).toMatchObject([{ number: '001', frames: 46, headHandle: 10, tailHandle: 12, start: '01:00:00:00', graded: true }]);
    expect(view.warnings.map((w) => [w.event, w.code])).toEqual([
      [E[1], 'short-handles'],
      [E[2], 'not-paired'],
    ]);
  });
  it('the settings of the list beside those of the reference', async () => {
    const { id } = await job();
    await write((tx) =>
      tx
        .insert(schema.references)
        .values({ id: `ref-${id}`, jobId: id, data: { ...clip('/r.mov'), start: 864_000, frames: 71 }, createdAt: 1 }),
    );
    jobs.changed(id);
    expect((await views.jobView(id)).checks.map((c) => [c.name, c.agrees])).toEqual([
      ['Frame rate', true],
      ['Timecodes', null],
      ['Start', true],
      ['Length', false],
      ['Raster', null],
    ]);
  });
  it('which line of the text each event stands on', async () => {
    const { id } = await job();
    expect(await views.turnoverView(id)).toMatchObject({
      lines: { [E[1]]: { part: 0, line: 2 }, [E[2]]: { part: 0, line: 5 }, [E[3]]: { part: 0, line: 7 } },
      files: [{ fileName: 'small.edl', text: LIST, format: 'Edit list, CMX 3600 style' }],
    });
  });
  it('which events use an original', async () => {
    const { id } = await job();
    expect((await clips.originalRows(id)).map((o) => o.usedBy.map((u) => u.number))).toEqual([['001', '002']]);
  });
});

it('returns whose titles a file system may take for one have folders of their own, lists alone another; the same goes on in its own', async () => {
  const { id } = await job();
  const { folderOfReturn } = await import('./returns');
  const name = async (title: string, render = true) => path.basename(await folderOfReturn(id, title, render));
  expect(await name('Tür')).toBe('Tür');
  expect(await name('Tör')).toBe('Tör');
  expect(await name('tür')).toBe('tür-2');
  expect(await name('a/b')).toBe('a_b');
  expect(await name('a:b')).toBe('a_b-2');
  expect(await name('Tür', false)).toBe('Tür_list');
  // Two that begin at once; and one whose name is taken by a folder of an earlier version.
  expect(new Set(await Promise.all([name('x/y'), name('x:y'), name('x?y')]))).toEqual(new Set(['x_y', 'x_y-2', 'x_y-3']));
  mkdirSync(path.join(path.dirname(await folderOfReturn(id, 'Tür', true)), 'old'));
  expect(await name('old')).toBe('old-2');
  expect(await name('Tür')).toBe('Tür');
});

describe('volumes', () => {
  it('are given to no job that is none, and no folder is made for it', async () => {
    for (const none of ['none', '../../elsewhere', '..'])
      await expect(jobs.uploadedReferencePath(none, 'cut.mov')).rejects.toMatchObject({ status: 404 });
    expect(existsSync(path.join(folder, 'desk', 'jobs', 'none'))).toBe(false);
    expect(existsSync(path.join(folder, 'elsewhere'))).toBe(false);
    const { id } = await job();
    expect(await jobs.uploadedReferencePath(id, '../../up.mov')).toMatch(new RegExp(`${id}/reference/\\d+-up\\.mov$`));
  });
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
    await jobs.decide(id, [{ kind: 'pair', event: E[1], original, sourceStartFrame: 10 }]);
    await jobs.removeVolume(id, volume);
    expect(await states(id)).toEqual(['away', 'unpaired', 'exempt']);
  });
});

describe('lists in other formats', () => {
  it('come in by their content, whatever they are called', async () => {
    const { readList, writeOtio, writeXmeml } = await import('@gemello/core');
    const made = readList(bytes(LIST), { rate: RATES['24'] });
    if (!made) throw new Error('no list');
    for (const text of [writeOtio(made), writeXmeml(made)]) {
      const id = await jobs.createJob('Other');
      await cut(id, 'cut.txt', text);
      expect((await views.jobView(id)).list).toMatchObject({
        title: 'SMALL',
        rate: RATES['24'],
        rateStated: true,
        startTimecode: '10:00:00:00',
      });
    }
  });
  it('that are cut off show why, with the line, and cannot be taken in', async () => {
    const id = await jobs.createJob('Broken');
    const broken = '{"OTIO_SCHEMA": "Timeline.1",\n"tracks": ';
    const answer = await lists.receive(id, 'cut.otio', bytes(broken), []);
    const list = 'list' in answer ? answer.list : '';
    expect((await arrival.arrivalView(id, list, {})).notices).toMatchObject([
      { severity: 'unreadable', line: 2, fileName: 'cut.otio', text: broken, message: expect.stringContaining('not whole JSON') },
    ]);
    await expect(lists.take(id, list, { reading: {}, as: 'cut', apart: false })).rejects.toMatchObject({ status: 422 });
    expect((await views.jobView(id)).list).toBeNull();
    await lists.discard(id, list);
    expect(await lists.listEntries(id)).toEqual([]);
  });
});

describe('a list that arrives', () => {
  const arrive = async (name: string, text: string, set: string | null = null, id = '') => {
    const job = id || (await jobs.createJob('Arrival'));
    const answer = await lists.receive(job, name, bytes(text), set ? [set] : []);
    return { job, list: 'list' in answer ? answer.list : '' };
  };
  it('is not the cut before it is taken in, and says what another rate would change', async () => {
    const { job, list } = await arrive('small.edl', LIST);
    expect((await views.jobView(job)).list).toBeNull();
    const view = await arrival.arrivalView(job, list, { rate: '25', raster: '1920x1080' });
    expect(view).toMatchObject({
      figures: { rate: '25', start: '10:00:00:00', durationFrames: 75, events: 3, raster: '1920×1080' },
      before: { rate: '24', rateStated: false, durationFrames: 72, raster: null },
      moved: 3,
    });
    // Frame digits up to 24 do not exist at 24: read at 24, this label is impossible.
    const high = await arrive('high.edl', LIST.replace('01:00:00:10', '01:00:00:24'));
    expect((await arrival.arrivalView(high.job, high.list, { rate: '24' })).checks).toContainEqual(
      expect.objectContaining({ name: 'Timecodes', list: '1 impossible', agrees: false }),
    );
  });
  it('of several files is one cut of several layers, in the order a person gives, or several lists', async () => {
    const { job, list } = await arrive('cut_V2.edl', LIST.replaceAll('A001 ', 'B001 '));
    await arrive('cut_V1.edl', LIST, list, job);
    const view = await arrival.arrivalView(job, list, { rate: '24' });
    expect(view.files.map((f) => f.fileName)).toEqual(['cut_V1.edl', 'cut_V2.edl']);
    await lists.take(job, list, { reading: { rate: '24' }, as: 'cut', apart: false, order: [1, 0] });
    expect((await views.turnoverView(job))?.list.tracks.map((t) => t.events[0]?.reel)).toEqual(['B001', 'A001']);
    const turnover = await views.turnoverView(job);
    expect([turnover?.lines[turnover.list.tracks[1]?.events[1]?.key ?? ''], turnover?.files[1]?.fileName]).toEqual([
      { part: 1, line: 5 },
      'cut_V1.edl',
    ]);
    const apart = await arrive('one.edl', LIST);
    await arrive('two.edl', LIST, apart.list, apart.job);
    expect(await lists.take(apart.job, apart.list, { reading: { rate: '24' }, as: 'cut', apart: true })).toHaveLength(2);
    expect((await lists.listEntries(apart.job)).map((l) => [l.state, l.files])).toEqual(
      expect.arrayContaining([
        ['cut', ['one.edl']],
        ['beside', ['two.edl']],
      ]),
    );
  });
  it('as a table shows its columns until a person says which is which', async () => {
    const { job, list } = await arrive('sheet.csv', 'Source in,Source out,Tape no\n01:00:00:00,01:00:01:00,A7\n');
    const view = await arrival.arrivalView(job, list, {});
    expect(view.columns).toMatchObject({
      headings: ['Source in', 'Source out', 'Tape no'],
      mapping: { sourceIn: 'Source in' },
      sample: [['01:00:00:00', '01:00:01:00', 'A7']],
    });
    const columns = { sourceIn: 'Source in', sourceOut: 'Source out', reel: 'Tape no' };
    await lists.take(job, list, { reading: { columns }, as: 'cut', apart: false });
    expect((await views.turnoverView(job))?.list.tracks[0]?.events[0]?.reel).toBe('A7');
  });
  it('with several cuts in it asks which one', async () => {
    const one = (name: string) =>
      `<sequence><name>${name}</name><rate><timebase>24</timebase></rate><media><video><track><clipitem><name>c</name><start>0</start><end>24</end><in>0</in><out>24</out></clipitem></track></video></media></sequence>`;
    const { job, list } = await arrive('two.xml', `<xmeml version="5">${one('LONG')}${one('SHORT')}</xmeml>`);
    expect((await arrival.arrivalView(job, list, { sequence: 1 })).sequences.map((s) => s.name)).toEqual(['LONG', 'SHORT']);
    await lists.take(job, list, { reading: { sequence: 1 }, as: 'cut', apart: false });
    expect((await views.jobView(job)).list?.title).toBe('SHORT');
  });
  it('that is a file of grades grades the events it names, as one decision that is undone as one', async () => {
    const { id } = await job();
    const cc = (name: string) => `<ColorCorrection id="${name}"><SatNode><Saturation>0.25</Saturation></SatNode></ColorCorrection>`;
    const answer = await lists.receive(
      id,
      'g.ccc',
      bytes(`<ColorCorrectionCollection>${cc('002')}${cc('nobody').replace('0.25', '0.3')}</ColorCorrectionCollection>`),
      [],
    );
    expect(answer).toEqual({ grades: 'g.ccc: 1 events graded; 1 grades name no event of this cut', batch: expect.any(String) });
    expect((await ledger.ledgerView(id)).rows[1]).toMatchObject({ cdlFrom: 'typed', cdl: { saturation: 0.25 } });
    await expect(lists.receive(id, 'h.cc', bytes(cc('nobody')), [])).rejects.toMatchObject({ status: 422 });
  });
});

describe('two lists of the same cut', () => {
  const SPEED = LIST.replace('* ASC_SAT 0.5\n', '').replace('003  BL', 'M2   A001       012.0       01:00:03:00\n003  BL');
  it('chosen together in two formats are two lists, those of one flat format one list of several layers', async () => {
    const id = await jobs.createJob('Together');
    const give = async (name: string, text: string, sets: string[]) => {
      const answer = await lists.receive(id, name, bytes(text), sets);
      return 'list' in answer ? answer.list : '';
    };
    const timeline = JSON.stringify({ OTIO_SCHEMA: 'Timeline.1', tracks: { OTIO_SCHEMA: 'Stack.1', children: [] } });
    const first = await give('cut_V1.edl', LIST, []);
    const other = await give('cut.otio', timeline, [first]);
    const second = await give('cut_V2.edl', LIST, [first, other]);
    expect([second === first, other === first]).toEqual([true, false]);
    const entries = await lists.listEntries(id);
    expect(entries.map((e) => e.files.length).sort()).toEqual([1, 2]);
  });
  it('that are large are read and written on a thread, to the same', async () => {
    const id = await jobs.createJob('Large');
    const label = (n: number) => formatTimecode(n, RATES['24']);
    const many = Array.from({ length: 2700 }, (_, n) => {
      const [source, record] = [86_400 + n * 7, 864_000 + n * 24];
      return `${String(n + 1).padStart(4, '0')}  A001     V     C        ${label(source)} ${label(source + 24)} ${label(record)} ${label(record + 24)}`;
    }).join('\n');
    const text = `TITLE: LARGE\n${many}\n`;
    expect(text.length).toBeGreaterThan(200_000);
    const answer = await lists.receive(id, 'large.edl', bytes(text), []);
    if ('list' in answer) await lists.take(id, answer.list, { reading: { rate: '24' }, as: 'cut', apart: false });
    const { delivery } = await (await import('./workspace')).workspace(id);
    expect(delivery?.list).toEqual(readDelivery([{ fileName: 'large.edl', bytes: bytes(text) }], { rate: RATES['24'] }).list);
    expect(delivery?.files[0]?.format?.name).toBe('edl');
    const file = await lists.writtenFile(id, { format: 'edl' } as never, 'LARGE.edl');
    expect(
      new TextDecoder()
        .decode(file)
        .split('\n')
        .filter((l) => /^\d{4} /.test(l)),
    ).toHaveLength(2700);
  });
  it('are named by their path, below the folders that may be looked into', async () => {
    const id = await jobs.createJob('By path');
    const file = path.join(folder, 'named.edl');
    writeFileSync(file, LIST);
    await lists.receiveFrom(id, file);
    expect((await lists.listEntries(id)).map((e) => e.files)).toEqual([['named.edl']]);
    await expect(lists.receiveFrom(id, path.join(folder, 'none.edl'))).rejects.toMatchObject({ status: 404 });
    await expect(lists.receiveFrom(id, folder)).rejects.toMatchObject({ message: expect.stringContaining('is a folder, not a list.') });
  });
  it('are laid beside each other, and what the one lacks is carried over and undone', async () => {
    const { id } = await job();
    const other = await cut(id, 'timed.edl', SPEED, { rate: '24' }, 'beside');
    const view = await arrival.besideView(id, other);
    expect(view.summary).toEqual(
      expect.arrayContaining([
        expect.objectContaining({ aspect: 'speed', lacksHere: 1, carriable: true }),
        expect.objectContaining({ aspect: 'cdl', lacksThere: 1 }),
      ]),
    );
    const { batch, events } = await lists.carry(id, other, { aspects: ['speed', 'cdl'], events: null, onlyWhatLacks: true });
    expect(events).toBe(1);
    expect((await ledger.ledgerView(id)).rows.map((r) => r.speed)).toEqual([1, 0.5, 1]);
    // The list itself stays as it was delivered.
    expect((await views.turnoverView(id))?.list.tracks[0]?.events.map((e) => e.speed)).toEqual([1, 1, 1]);
    await jobs.withdraw(id, batch);
    expect((await ledger.ledgerView(id)).rows.map((r) => r.speed)).toEqual([1, 1, 1]);
    expect((await views.activityView(id)).decisions[0]).toMatchObject({
      text: 'Event 002: speed, source copied from timed.edl',
      withdrawn: true,
    });
  });
  it('are written in another format as they stand, with what that lacks told before', async () => {
    const { id } = await job();
    const other = await cut(id, 'timed.edl', SPEED, { rate: '24' }, 'beside');
    await lists.carry(id, other, { aspects: ['speed'], events: null, onlyWhatLacks: true });
    expect(await arrival.writtenView(id, { format: 'xml' })).toMatchObject({
      files: ['SMALL.xml'],
      notices: [{ code: 'cannot-carry-cdl' }],
    });
    const text = new TextDecoder().decode(await lists.writtenFile(id, { format: 'edl', title: 'NEW ONE' }, 'NEW_ONE.edl'));
    expect(text).toContain('M2   A001           012.0');
    await expect(lists.writtenFile(id, { format: 'edl' }, '../gemello.db')).rejects.toMatchObject({ status: 404 });
  });
});

describe('originals', () => {
  it('are corrected by decisions that hold for every cut, and undone', async () => {
    const { id, original } = await job();
    const batch = await jobs.decide(id, [{ kind: 'correct', original, reel: 'Z9', start: 0 }]);
    expect(await states(id)).toEqual(['doubtful', 'doubtful', 'exempt']);
    expect((await clips.originalRows(id))[0]).toMatchObject({ reel: 'Z9', timecodeIn: '00:00:00:00' });
    await cut(id, 'again.edl', LIST, { rate: '24' });
    expect((await clips.originalRows(id))[0]?.reel).toBe('Z9');
    expect((await views.activityView(id)).decisions[0]?.text).toBe('A001C001.mov: reel Z9, timecode set');
    await jobs.withdraw(id, batch);
    expect((await clips.originalRows(id))[0]).toMatchObject({ reel: 'A001', timecodeIn: '01:00:00:00' });
    await expect(jobs.decide(id, [{ kind: 'correct', original: '/nowhere', reel: 'A' }])).rejects.toMatchObject({ status: 422 });
  });
  it('can be corrected before there is a list', async () => {
    const id = await jobs.createJob('No list');
    const card = path.join(folder, 'cards', id);
    mkdirSync(card, { recursive: true });
    const volume = await jobs.addVolume(id, card);
    const file = path.join(card, 'x.mov');
    await write((tx) => tx.insert(schema.originals).values({ path: file, jobId: id, volumeId: volume, data: clip(file), here: true }));
    jobs.changed(id);
    await jobs.decide(id, [{ kind: 'correct', original: file, reel: 'Q1' }]);
    expect((await clips.originalRows(id))[0]?.reel).toBe('Q1');
  });
  it('of a folder are corrected at once, with what is found in it later', async () => {
    const { id, original } = await job();
    await jobs.decide(id, [{ kind: 'correct-folder', folder: path.dirname(original), shift: '+00:00:01:00' }]);
    expect((await clips.originalRows(id))[0]?.timecodeIn).toBe('01:00:01:00');
    expect((await views.activityView(id)).decisions[0]?.text).toMatch(/^all in .*: timecode shifted by \+00:00:01:00$/);
    await expect(jobs.decide(id, [{ kind: 'correct-folder', folder: '/elsewhere', reel: 'A' }])).rejects.toMatchObject({ status: 422 });
  });
  it('are set by a clip log whose columns a person names, as one decision, its notes going to the clips', async () => {
    const { id, original } = await job();
    const log = { name: 'day1.csv', path: null, text: 'Bild;Anfang;Wort\nA001C001;02:00:00:00;windy\nB9;03:00:00:00;\n' };
    expect(await logs.readLog(id, { ...log, mapping: null, take: false })).toMatchObject({ mapping: {}, changes: [], rows: 2 });
    const mapping = { clip: 'Bild', timecode: 'Anfang', notes: 'Wort' };
    const held = await logs.readLog(id, { ...log, mapping, take: false });
    expect(held).toMatchObject({ changes: [{ path: original, now: '01:00:00:00', says: '02:00:00:00' }], notes: 1, unmatched: ['B9'] });
    expect((await clips.originalRows(id))[0]?.timecodeIn).toBe('01:00:00:00');
    const { batch } = await logs.readLog(id, { ...log, mapping, take: true });
    expect((await clips.originalRows(id))[0]).toMatchObject({ timecodeIn: '02:00:00:00', note: 'windy' });
    expect((await clips.originalPage(id, original)).claims[0]).toMatchObject({ origin: 'clip log day1.csv, imported', taken: true });
    await jobs.withdraw(id, batch ?? '');
    expect((await clips.originalRows(id))[0]?.timecodeIn).toBe('01:00:00:00');
    await expect(logs.readLog(id, { ...log, mapping: {}, take: true })).rejects.toMatchObject({ status: 422 });
    await expect(logs.readLog(id, { ...log, path: '/etc/passwd', text: null, mapping: null, take: false })).rejects.toMatchObject({
      status: 404,
    });
  });
  it('are found by name, reel, folder, by a timecode that one of their frames carries, and by what was written of them', async () => {
    const { id, original } = await job();
    await clips.noteEach(id, new Map([[original, 'gulls, hazy']]));
    const found = async (typed: string) => (await pairing.clipsFound(id, typed)).map((o) => o.path);
    for (const typed of ['a001c001', 'A001 mov', path.basename(path.dirname(original)), '01:00:01:00', '01:00:01:00 a001', 'hazy'])
      expect(await found(typed), typed).toContain(original);
    for (const typed of ['00:59:59:23', '03:00:00:00', 'clear sky', '01:00:01:00 nowhere'])
      expect(await found(typed), typed).not.toContain(original);
  });
  it('show the events of every version of the cut that use them', async () => {
    const { id, original } = await job();
    await cut(
      id,
      'shorter.edl',
      LIST.split('\n')
        .filter((line) => !line.startsWith('002'))
        .join('\n'),
      { rate: '24' },
    );
    const { versions } = await clips.originalPage(id, original);
    expect(versions.map((v) => [v.is, v.fileName, v.uses.map((u) => u.number)])).toEqual([
      ['cut', 'shorter.edl', ['001']],
      ['former', expect.any(String), ['001', '002']],
    ]);
  });
  it('that are proxies, or are none, are so when a person says so', async () => {
    const { id, volume, original } = await job();
    const copy = original.replace('A001C001', 'export');
    await write((tx) => tx.insert(schema.originals).values({ path: copy, jobId: id, volumeId: volume, data: clip(copy), here: true }));
    jobs.changed(id);
    const batch = await jobs.decide(id, [{ kind: 'proxy', original: copy, of: original }]);
    expect((await clips.originalPage(id, original)).proxies).toEqual([copy]);
    expect((await views.activityView(id)).decisions[0]?.text).toBe('export.mov: a proxy of A001C001.mov');
    await jobs.withdraw(id, batch);
    expect((await clips.originalPage(id, original)).proxies).toEqual([]);
  });
  it('show which of their frames the cut uses', async () => {
    const { id } = await job();
    // Sources 01:00:00:10 to 01:00:01:10 and 01:00:03:00 to 01:00:04:00 of a clip from 01:00:00:00, at 24.
    expect((await clips.originalRows(id))[0]?.usedBy.map((u) => [u.number, u.from, u.to])).toEqual([
      ['001', 10, 34],
      ['002', 72, 96],
    ]);
  });
  it('carry tags and a note that follow the clip', async () => {
    const { id, original } = await job();
    await clips.remark(id, { paths: [original], add: ['sky', 'best'], remove: [], note: 'edge flickers' });
    await clips.remark(id, { paths: [original], add: [], remove: ['sky'], note: null });
    expect((await clips.originalRows(id))[0]).toMatchObject({ tags: ['best'], note: 'edge flickers' });
    const over = (was: string, note: string) => clips.remark(id, { paths: [original], add: [], remove: [], note, was });
    // One of two who wrote at once: what the other saved meanwhile is not replaced unseen.
    await expect(over('', 'dust at the end')).rejects.toMatchObject({ status: 409, message: expect.stringContaining('put both together') });
    expect((await clips.originalRows(id))[0]).toMatchObject({ note: 'edge flickers' });
    await over('edge flickers', 'edge flickers; dust at the end');
    // Sent twice, since the answer was lost: it is saved, and nobody else wrote.
    await over('edge flickers', 'edge flickers; dust at the end');
    await expect(clips.remark(id, { paths: ['/nowhere'], add: [], remove: [], note: null })).rejects.toMatchObject({ status: 422 });
  });
  it('are filtered in ways that are kept under a name', async () => {
    const { id } = await job();
    const filter = { words: 'pans', facets: { reel: ['A001'] } };
    await clips.saveFilter(id, 'dawn', { words: '', facets: {} });
    await clips.saveFilter(id, 'dawn', filter);
    expect(await clips.savedFilters(id)).toEqual([{ name: 'dawn', data: filter }]);
    await clips.forgetFilter(id, 'dawn');
    expect(await clips.savedFilters(id)).toEqual([]);
  });
  it('of a volume that comes back elsewhere are known again when a person says so: pairs and notes follow', async () => {
    const { id, original } = await job();
    await jobs.decide(id, [{ kind: 'pair', event: E[1], original, sourceStartFrame: 10 }]);
    await clips.remark(id, { paths: [original], add: ['kept'], remove: [], note: null });
    const old = path.dirname(original);
    const moved = path.join(folder, 'mounted', id);
    mkdirSync(moved, { recursive: true });
    rmSync(old, { recursive: true });
    expect((await states(id))[0]).toBe('away');
    const found = await jobs.addVolume(id, moved);
    const file = path.join(moved, 'A001C001.mov');
    await write((tx) => tx.insert(schema.originals).values({ path: file, jobId: id, volumeId: found, data: clip(file), here: true }));
    jobs.changed(id);
    const { volumes } = await views.jobView(id);
    const away = volumes.find((v) => !v.here);
    expect(volumes.find((v) => v.id === found)?.resembles).toMatchObject({ id: away?.id, path: old });
    await clips.rehome(id, found, away?.id ?? '');
    expect((await states(id))[0]).toBe('paired');
    expect(await clips.originalRows(id)).toMatchObject([{ path: file, here: true, tags: ['kept'] }]);
    expect((await views.jobView(id)).volumes).toMatchObject([{ id: away?.id, path: moved, here: true, resembles: null }]);
  });
  it('that are proxies are linked, and never become the pair', async () => {
    const { id, original, volume } = await job();
    const copy = path.join(path.dirname(original), 'A001C001_proxy.mp4');
    await write((tx) =>
      tx
        .insert(schema.originals)
        .values({ path: copy, jobId: id, volumeId: volume, data: { ...clip(copy), raster: { width: 480, height: 270 } }, here: true }),
    );
    jobs.changed(id);
    expect((await clips.originalRows(id)).map((o) => [o.fileName, o.proxyOf, o.proxies.length])).toEqual([
      ['A001C001.mov', null, 1],
      ['A001C001_proxy.mp4', original, 0],
    ]);
    expect((await ledger.eventView(id, E[1])).contenders.map((c) => c.fileName)).toEqual(['A001C001.mov']);
  });
  it('that are away are stood in for by a proxy, which is said', async () => {
    const { id, original } = await job();
    await jobs.decide(id, [{ kind: 'pair', event: E[1], original, sourceStartFrame: 10 }]);
    const elsewhere = path.join(folder, 'copies', id);
    mkdirSync(elsewhere, { recursive: true });
    const volume = await jobs.addVolume(id, elsewhere);
    const copy = path.join(elsewhere, 'A001C001_proxy.mp4');
    await write((tx) =>
      tx
        .insert(schema.originals)
        .values({ path: copy, jobId: id, volumeId: volume, data: { ...clip(copy), raster: { width: 480, height: 270 } }, here: true }),
    );
    jobs.changed(id);
    const { workspace } = await import('./workspace');
    expect((await workspace(id)).standIns.size).toBe(0);
    rmSync(path.dirname(original), { recursive: true });
    expect((await workspace(id)).standIns.get(original)?.path).toBe(copy);
    expect((await ledger.ledgerView(id)).rows.map((r) => [r.state, r.standIn])[0]).toEqual(['away', true]);
  });
});

it('a desk from before lists had several files keeps its lists, byte for byte, and their rates', async () => {
  const { createClient } = await import('@libsql/client');
  const { readFileSync } = await import('node:fs');
  const client = createClient({ url: `file:${path.join(folder, 'old.db')}` });
  const migrations = path.resolve(path.dirname(fileURLToPath(import.meta.url)), '..', '..', 'migrations');
  const run = async (name: string) => {
    for (const statement of readFileSync(path.join(migrations, name), 'utf8').split('--> statement-breakpoint'))
      await client.execute(statement);
  };
  await run('0000_first.sql');
  await client.execute("INSERT INTO jobs (id, title, created_at) VALUES ('j', 'Old', 1)");
  await client.execute(
    `INSERT INTO lists (id, job_id, file_name, text, rate, created_at) VALUES ('a', 'j', 'a.edl', 'TITLE: Ü', '{"num":25,"den":1,"dropFrame":false}', 1), ('b', 'j', 'b.edl', 'x', NULL, 2)`,
  );
  for (const name of ['0001_list_files.sql', '0002_lists_by_file.sql']) await run(name);
  const { rows } = await client.execute(
    'SELECT l.state, l.options, f.file_name, f.bytes FROM lists l JOIN list_files f ON f.list_id = l.id ORDER BY l.id',
  );
  expect(rows.map((r) => [r.state, JSON.parse(String(r.options)), r.file_name, new TextDecoder().decode(r.bytes as ArrayBuffer)])).toEqual([
    ['cut', { rate: RATES['25'] }, 'a.edl', 'TITLE: Ü'],
    ['cut', {}, 'b.edl', 'x'],
  ]);
  client.close();
});

it('those who watch a job hear of its changes, and of no other job', async () => {
  const [a, b] = [await job(), await job()];
  const heard: string[] = [];
  const stop = changes.watch(a.id, (c) => heard.push(c.kind));
  await jobs.decide(b.id, [{ kind: 'exempt', event: E[1], exempt: true }]);
  expect(heard).toEqual([]);
  await jobs.decide(a.id, [{ kind: 'exempt', event: E[1], exempt: true }]);
  expect(heard).toContain('ledger');
  stop();
  const before = heard.length;
  await jobs.decide(a.id, [{ kind: 'exempt', event: E[1], exempt: false }]);
  expect(heard).toHaveLength(before);
});
