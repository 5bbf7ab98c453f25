import { execFileSync } from 'node:child_process';
import {
  appendFileSync,
  copyFileSync,
  mkdirSync,
  mkdtempSync,
  readdirSync,
  readFileSync,
  renameSync,
  rmSync,
  statSync,
  symlinkSync,
  utimesSync,
  writeFileSync,
} from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { fileURLToPath } from 'node:url';
import { type EventProof, formatTimecode, RATES, USUAL_RETURN } from '@gemello/core';
import { HALF } from '@gemello/media/plain';
import { eq, sql } from 'drizzle-orm';
import sharp from 'sharp';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { gradeAll } from '../../../../demo/src/room';
import { numberIn, RASTER, writeClip, writeFrames } from '../../../../media/test/footage';
import type { TaskOptions } from '../../contract/tasks';

/** Tasks as the runner runs them, on threads, with media of their own; no browser and no HTTP. */
const folder = mkdtempSync(path.join(tmpdir(), 'gemello-tasks-'));
process.env.GEMELLO_DATA = path.join(folder, 'desk');
process.env.GEMELLO_ROOT = path.resolve(path.dirname(fileURLToPath(import.meta.url)), '..', '..', '..', '..');
process.env.GEMELLO_LOG = 'silent';
const jobs = await import('../jobs');
const clips = await import('../originals');
const lists = await import('../lists');
const views = await import('../views');
const ledger = await import('../ledger');
const { mediaThreads } = await import('../media');
const { picture, still } = await import('../pictures');
const { workspace } = await import('../workspace');
const { allTasks, goOn, openTasks, pauseTask, resumeTasks, startTask, stopAll, stopTask } = await import('./runner');
const schema = await import('../db/schema');
const { database, write } = await import('../db/open');

const cards = path.join(folder, 'SALT_01');
const at = (...parts: string[]) => path.join(cards, ...parts);
const take = (name: string, start: string, more: { frames?: number; first?: number } = {}) =>
  writeClip(at('A001', name), { writer: 'intra-8bit', rate: RATES['24'], reel: 'A001', start, frames: more.frames ?? 24 }, more.first ?? 0);
let job: string;
let volume: string;

beforeAll(async () => {
  take('A001C001.mov', '01:00:00:00');
  take('A001C002.mov', '01:00:10:00', { first: 500 });
  writeFrames(at('S004'), 12);
  job = await jobs.createJob('Tasks');
  volume = await jobs.addVolume(job, cards);
});
afterAll(async () => {
  await mediaThreads().close();
  rmSync(folder, { recursive: true });
});

/** A task as the runner knows it, which may be ahead of what could be written. */
async function taskOf(id: string) {
  const [row] = await (await database()).select().from(schema.tasks).where(eq(schema.tasks.id, id));
  return row && (await allTasks(row.jobId)).find((t) => t.id === id);
}
/** Starts a task and waits until it has ended. */
async function done(options: TaskOptions, id?: string) {
  const task = id ?? (await startTask(job, options));
  for (;;) {
    const row = await taskOf(task);
    if (row && row.state !== 'waiting' && row.state !== 'running') return row;
    await new Promise((resolve) => setTimeout(resolve, 20));
  }
}
const scan = { kind: 'scan', volumes: null } as const;
const rows = () => clips.originalRows(job);
const row = async (name: string) => (await rows()).find((o) => o.fileName === name);

describe('a scan', () => {
  it('takes in what is there, and the second time opens nothing', async () => {
    expect((await done(scan)).message).toBe('3 originals found');
    expect((await rows()).map((o) => [o.fileName, o.reel, o.timecodeIn, o.frames])).toEqual([
      ['A001C001.mov', 'A001', '01:00:00:00', 24],
      ['A001C002.mov', 'A001', '01:00:10:00', 24],
      ['S004.0001001.dpx', 'S004', '04:00:00:00', 12],
    ]);
    expect((await done(scan)).message).toBe('3 originals found; 0 of them new or changed');
  });
  it('looks again at what changed, and only at that', async () => {
    take('A001C002.mov', '02:00:00:00', { first: 500 });
    expect((await done(scan)).message).toBe('3 originals found; 1 of them new or changed');
    expect((await row('A001C002.mov'))?.timecodeIn).toBe('02:00:00:00');
  });
  it('keeps what is gone as away, with what was decided and noted about it', async () => {
    const file = at('A001', 'A001C002.mov');
    await clips.remark(job, { paths: [file], add: ['windy'], remove: [], note: 'keep' });
    renameSync(file, path.join(folder, 'aside.mov'));
    expect((await done(scan)).message).toBe('2 originals found; 0 of them new or changed');
    expect(await row('A001C002.mov')).toMatchObject({ here: false, tags: ['windy'], note: 'keep' });
    renameSync(path.join(folder, 'aside.mov'), file);
    await done(scan);
    expect(await row('A001C002.mov')).toMatchObject({ here: true, tags: ['windy'], note: 'keep' });
  });
  it('names what cannot be read, and goes on', async () => {
    writeFileSync(at('A001', 'empty.mov'), '');
    writeFileSync(at('A001', 'noise.mxf'), Buffer.alloc(5000, 7));
    const ended = await done(scan);
    expect(ended.message).toContain('3 originals found; 0 of them new or changed; 2 files could not be read');
    expect((ended.result as { problems: { message: string }[] }).problems.map((p) => p.message)).toEqual([
      'empty.mov is empty (0 bytes). Copy it again from the card.',
      expect.stringContaining('Cannot open noise.mxf'),
    ]);
    for (const name of ['empty.mov', 'noise.mxf']) rmSync(at('A001', name));
  });
  it('of a volume that is not mounted leaves its originals away until it comes back', async () => {
    renameSync(cards, `${cards}.unplugged`);
    expect((await done(scan)).message).toBe('0 originals found; not here: SALT_01');
    expect((await rows()).map((o) => o.here)).toEqual([false, false, false]);
    renameSync(`${cards}.unplugged`, cards);
    await done(scan);
    expect((await rows()).map((o) => o.here)).toEqual([true, true, true]);
  });
});

describe('what was scanned is held', () => {
  it('through decisions, until whoever writes originals says so', async () => {
    const [first] = (await workspace(job)).originals;
    const batch = await jobs.decide(job, [{ kind: 'correct', original: at('A001', 'A001C001.mov'), reel: 'Z9' }]);
    expect((await row('A001C001.mov'))?.reel).toBe('Z9');
    await jobs.withdraw(job, batch);
    expect((await row('A001C001.mov'))?.reel).toBe('A001');
    await clips.renameVolume(job, volume, 'FIRST CARD');
    expect((await rows())[0]?.volume).toBe('FIRST CARD');
    expect((await workspace(job)).originals[0]?.original).toEqual(first?.original);

    const extra = { ...(first as NonNullable<typeof first>).original, path: at('A001', 'A001C009.mov'), fileName: 'A001C009.mov' };
    await write((tx) => tx.insert(schema.originals).values({ path: extra.path, jobId: job, volumeId: volume, data: extra, here: true }));
    await clips.renameVolume(job, volume, 'SALT_01');
    expect(await row('A001C009.mov')).toBeUndefined();
    jobs.changed(job);
    expect(await row('A001C009.mov')).toMatchObject({ here: true });
    await write((tx) => tx.delete(schema.originals).where(eq(schema.originals.path, extra.path)));
    jobs.changed(job);
  });
});

describe('checksums', () => {
  it('are measured once, kept, and held against the manifest of the card', async () => {
    const file = at('A001', 'A001C001.mov');
    const md5 = execFileSync('md5sum', [file]).toString().slice(0, 32);
    const manifest = (sum: string) =>
      `<?xml version="1.0"?><hashlist version="1.1"><hash><file>A001/A001C001.mov</file><size>${statSync(file).size}</size><md5>${sum}</md5></hash></hashlist>`;
    writeFileSync(at('card.mhl'), manifest(md5));
    await done(scan);
    expect((await done({ kind: 'checksums', paths: [file] })).message).toBe('1 clip measured');
    const page = await clips.originalPage(job, file);
    expect(page.measured.find((m) => m.algorithm === 'md5')?.value).toBe(md5);
    expect(page.warnings.map((w) => w.code)).not.toContain('checksum-differs');

    writeFileSync(at('card.mhl'), manifest('0'.repeat(32)));
    await done(scan);
    expect((await done({ kind: 'checksums', paths: [file] })).message).toBe('1 clip measured; 1 not as a manifest states');
    expect((await row('A001C001.mov'))?.warnings.map((w) => w.code)).toContain('checksum-differs');
    rmSync(at('card.mhl'));
    await done(scan);
  });
  it('do not outlive a change of the file', async () => {
    const file = at('A001', 'A001C002.mov');
    await done({ kind: 'checksums', paths: [file] });
    expect((await clips.originalPage(job, file)).measured.length).toBeGreaterThan(0);
    appendFileSync(file, Buffer.alloc(8));
    await done(scan);
    expect((await clips.originalPage(job, file)).measured).toEqual([]);
  });
});

describe('proxies', () => {
  const options = {
    kind: 'proxies',
    paths: [at('A001', 'A001C001.mov')],
    codec: 'proxy-small',
    size: 'half',
    burnIn: false,
  } as const satisfies TaskOptions;
  it('become a volume of the job and are linked; made again they are not', async () => {
    expect((await done(options)).message).toBe('1 proxy made');
    const copy = (await rows()).find((o) => o.proxyOf !== null);
    expect(copy).toMatchObject({ fileName: 'A001C001.mov', timecodeIn: '01:00:00:00', frames: 24, proxyOf: at('A001', 'A001C001.mov') });
    expect((await row('A001C001.mov'))?.proxies).toEqual([copy?.path]);
    const made = statSync(copy?.path ?? '').mtimeMs;
    expect((await done(options)).message).toBe('1 proxy made; 1 of them before');
    expect(statSync(copy?.path ?? '').mtimeMs).toBe(made);
  });
  it('of what has no moving picture are refused by name', async () => {
    writeFileSync(
      at('still.png'),
      await sharp({ create: { width: 64, height: 36, channels: 3, background: '#345' } })
        .png()
        .toBuffer(),
    );
    await done(scan);
    expect((await done({ ...options, paths: [at('still.png')] })).message).toContain('still.png has no moving picture to make a proxy of.');
    rmSync(at('still.png'));
    await done(scan);
  });
});

describe('pictures, proof and return', () => {
  const label = (frames: number) => formatTimecode(frames, RATES['24']);
  const LIST = `TITLE: SMALL
001  A001     V     C        01:00:00:04 01:00:00:16 10:00:00:00 10:00:00:12
* FROM CLIP NAME: A001C001
002  A001     V     C        02:00:00:02 02:00:00:14 10:00:00:12 10:00:01:00
* FROM CLIP NAME: A001C002
`;
  /** The number that a picture of the footage carries, read from the JPEG the screen gets. */
  const seen = async (
    side: 'conform' | 'reference' | 'candidate' | 'original' | 'event',
    frame: number,
    more: { event?: string; file?: string } = {},
  ) => {
    const request = { side, frame, event: more.event ?? null, path: more.file ?? null, width: RASTER.width, cdl: null } as const;
    const { data, info } = await sharp(await picture(await workspace(job), request))
      .raw()
      .toBuffer({ resolveWithObject: true });
    expect([info.width, info.height]).toEqual([RASTER.width, RASTER.height]);
    return numberIn(new Uint8Array(data), info.width, info.height);
  };
  beforeAll(async () => {
    const answer = await lists.receive(job, 'small.edl', new TextEncoder().encode(LIST), []);
    if ('list' in answer) await lists.take(job, answer.list, { reading: { rate: '24' }, as: 'cut', apart: false });
    // The reference holds what the list asks for: frames 4 to 15 of the one, 2 to 13 of the other.
    for (const [name, first] of [
      ['a', 4],
      ['b', 502],
    ] as const)
      writeClip(
        path.join(folder, `${name}.mov`),
        { writer: 'intra-8bit', rate: RATES['24'], reel: '', start: label(864_000), frames: 12 },
        first,
      );
    const inputs = ['a', 'b'].flatMap((n) => ['-i', path.join(folder, `${n}.mov`)]);
    const joined = [
      '-filter_complex',
      '[0:v][1:v]concat=n=2:v=1,format=yuv420p',
      '-timecode',
      label(864_000),
      '-c:v',
      'libx264',
      '-crf',
      '20',
    ];
    execFileSync('ffmpeg', ['-v', 'error', '-y', ...inputs, ...joined, path.join(folder, 'reference.mp4')]);
    await jobs.addReference(job, path.join(folder, 'reference.mp4'));
    const { rows: events } = await ledger.ledgerView(job);
    await jobs.decide(
      job,
      events.flatMap((e) =>
        e.chosen ? [{ kind: 'pair', event: e.id, original: e.chosen.path, sourceStartFrame: e.chosen.sourceStartFrame } as const] : [],
      ),
    );
  });
  const eventAt = async (n: number) => (await ledger.ledgerView(job)).rows[n]?.id ?? '';
  it('show the very frame, on whichever side it is asked for', async () => {
    const [one, two] = [864_000 + 3, 864_000 + 12 + 5];
    expect([await seen('conform', one), await seen('conform', two)]).toEqual([7, 507]);
    expect([await seen('reference', one), await seen('reference', two)]).toEqual([7, 507]);
    expect(await seen('event', two, { event: await eventAt(1) })).toBe(507);
    expect(await seen('candidate', one, { event: await eventAt(0), file: at('A001', 'A001C001.mov') })).toBe(7);
    expect(await seen('original', 11, { file: at('S004', 'S004.0001001.dpx') })).toBe(11);
  });
  it('where there is none say so', async () => {
    await expect(seen('reference', 900_000)).rejects.toMatchObject({ status: 404, message: 'There is no picture here.' });
    await expect(seen('original', 0, { file: '/etc/hostname' })).rejects.toMatchObject({ status: 404 });
    renameSync(at('S004', 'S004.0001006.dpx'), path.join(folder, 'frame.dpx'));
    await done(scan);
    const run = { file: at('S004', 'S004.0001001.dpx') };
    await expect(seen('original', 5, run)).rejects.toMatchObject({ status: 404, message: 'The original has no such frame.' });
    expect([await seen('original', 4, run), await seen('original', 6, run)]).toEqual([4, 6]);
    renameSync(path.join(folder, 'frame.dpx'), at('S004', 'S004.0001006.dpx'));
    await done(scan);
    expect(await seen('original', 5, run)).toBe(5);
  });
  it('prove each event and keep the proof', async () => {
    expect((await done({ kind: 'proof', events: null })).message).toMatch(/^24 frames compared in [\d.]+ s; nothing differs$/);
    expect((await ledger.ledgerView(job)).rows.map((r) => r.proof?.verdict)).toEqual(['same', 'same']);
    const second = (await ledger.ledgerView(job)).rows[1];
    const slip = { kind: 'slip', event: second?.id ?? '', original: at('A001', 'A001C002.mov'), sourceStartFrame: 4 } as const;
    await jobs.decide(job, [slip]);
    expect((await done({ kind: 'proof', events: [await eventAt(1)] })).message).toMatch(
      /^12 frames compared in [\d.]+ s; 1 event differs$/,
    );
    expect((await ledger.ledgerView(job)).rows[1]?.proof?.findings).toMatchObject([{ kind: 'slipped', frames: -2 }]);
  });
  it('are put into a report with both pictures of each event, as a page and as a document', async () => {
    for (const format of ['html', 'pdf'] as const) {
      const ended = await done({ kind: 'proof-report', format });
      expect(ended.message).toBe(`2 events in SMALL_proof.${format}`);
      const { file } = ended.result as { file: string };
      const written = readFileSync(file, 'latin1');
      if (format === 'html') {
        expect(written.match(/src="data:image\/jpeg;base64,/g)).toHaveLength(4);
        expect(written).toContain('Slipped: the reference shows the source 2 frames earlier');
      } else {
        expect([written.startsWith('%PDF-'), written.trimEnd().endsWith('%%EOF')]).toEqual([true, true]);
        expect(written.match(/\/Subtype \/Image/g)).toHaveLength(4);
        expect(written.match(/\/Type \/Page\b/g)).toHaveLength(1);
      }
      expect(await views.fileWritten(job, 'proof-report')).toBe(file);
    }
  });
  it('prove only what is left when a task goes on after a restart', async () => {
    const task = await startTask(job, { kind: 'proof', events: null });
    await done(scan, task);
    const kept = async () =>
      new Map((await (await database()).select().from(schema.eventProofs)).map((p) => [p.event, p.data.score] as const));
    const [one, two] = [await eventAt(0), await eventAt(1)];
    // As if the server had gone down after the first event, and the clock had been set back meanwhile.
    const proved = {
      ...(await (await database()).select().from(schema.eventProofs).where(eq(schema.eventProofs.event, one)))[0]?.data,
      score: 0.123,
    };
    await write(async (tx) => {
      await tx.delete(schema.eventProofs).where(eq(schema.eventProofs.event, two));
      await tx.update(schema.eventProofs).set({ data: proved as EventProof });
      await tx
        .update(schema.tasks)
        .set({ state: 'running', endedAt: null, createdAt: Date.now() + 1e9 })
        .where(eq(schema.tasks.id, task));
    });
    await resumeTasks();
    expect((await done(scan, task)).message).toMatch(/^24 frames compared in [\d.]+ s; 1 event differs$/);
    const after = await kept();
    expect(after.get(one)).toBe(0.123);
    expect(after.get(two)).toBeGreaterThan(0.123);
    // Asked for anew, all of it is.
    await done({ kind: 'proof', events: null });
    expect((await kept()).get(one)).toBeGreaterThan(0.123);
  });
  it('let one file that cannot be read fail alone, by name', async () => {
    const file = at('A001', 'A001C001.mov');
    copyFileSync(file, path.join(folder, 'kept.mov'));
    const { atimeMs, mtimeMs } = statSync(file);
    writeFileSync(file, Buffer.alloc(statSync(file).size, 7));
    utimesSync(file, atimeMs / 1000, mtimeMs / 1000);
    const ended = await done({ kind: 'proof', events: null });
    expect(ended.state).toBe('done');
    expect((ended.result as { problems: { path: string }[] }).problems.map((p) => p.path)).toEqual([file]);
    expect((await ledger.ledgerView(job)).rows.map((r) => r.proof?.verdict)).toEqual(['unchecked', 'differs']);
    copyFileSync(path.join(folder, 'kept.mov'), file);
    await done(scan);
  });
  it('write a still of what is seen, and the whole conform as a movie to look at', async () => {
    const { still } = await import('../pictures');
    const png = await sharp(await still(await workspace(job), 864_003, 'facing')).metadata();
    expect([png.format, png.width, png.height, png.depth]).toEqual(['png', RASTER.width * 2, RASTER.height, 'ushort']);
    const mixed = await done({ kind: 'review', burnIn: true, sound: true, mix: path.join(folder, 'none.wav') });
    expect(mixed).toMatchObject({ state: 'failed', message: expect.stringContaining('There is no file') });
    const ended = await done({ kind: 'review', burnIn: true, sound: true, mix: '' });
    expect(ended.message).toBe('24 frames in SMALL_review.mp4; every picture there; there is no sound to go along');
    const { file } = ended.result as { file: string };
    expect(path.relative(path.join(folder, 'desk'), file).startsWith('..')).toBe(false);
    expect(await views.fileWritten(job, 'review')).toBe(file);
  });
  it('write a return into a folder of the job, and nothing beside the originals', async () => {
    const before = readdirSync(cards, { recursive: true }).sort();
    const ended = await done({ ...USUAL_RETURN, kind: 'return', title: 'BACK', handles: 2, render: true });
    expect(ended.message).toBe('2 clips written; all as planned');
    const { folder: out } = ended.result as { folder: string };
    expect(path.relative(path.join(folder, 'desk'), out).startsWith('..')).toBe(false);
    expect(readFileSync(path.join(out, 'BACK.edl'), 'utf8')).toContain('A001C002');
    expect(readdirSync(cards, { recursive: true }).sort()).toEqual(before);
    expect((await views.returnView(job)).last?.stale).toEqual([]);
  });
  it('come back graded from an outside room: matched to their events, shown in their place, and never a pair', async () => {
    const { homecomingView, takeIn } = await import('../homecoming');
    const [sent, room] = [path.join(folder, 'desk', 'jobs', job, 'returns', 'BACK'), path.join(folder, 'room')];
    gradeAll(sent, room, 1);
    gradeAll(sent, room, 2);
    const states = async () => (await ledger.ledgerView(job)).rows.map((r) => r.state);
    const [before, shown] = [await states(), await seen('conform', 864_003)];
    // By way of a link: the job knows the folder by its own path.
    symlinkSync(room, path.join(folder, 'link to the room'));
    await done(scan, (await takeIn(job, path.join(folder, 'link to the room'))).task);
    const { volumes } = await views.jobView(job);
    const volume = volumes.find((v) => v.path === room)?.id ?? '';
    const [batch] = (await views.activityView(job)).decisions.filter((d) => d.text.includes('made elsewhere')).map((d) => d.batch);
    // They have reel, name and timecode of their sources, and make no event contested.
    expect(await states()).toEqual(before);
    const { back, out, strangers } = await homecomingView(job);
    expect(back.map((b) => [b.number, b.offers.map((o) => o.version)])).toEqual([
      ['001', [2, 1]],
      ['002', [2, 1]],
    ]);
    expect([out, strangers]).toEqual([[], []]);
    const baked = await jobs.decide(
      job,
      back.map(({ event, offers: [newest] }) => ({
        kind: 'bake' as const,
        event,
        bake: {
          original: newest?.path ?? '',
          sourceStartFrame: newest?.sourceStartFrame ?? 0,
          pairedAt: newest?.pairedAt ?? 0,
          graded: true,
        },
      })),
    );
    expect(await seen('conform', 864_003)).toBe(shown);
    expect((await homecomingView(job)).back.map((b) => path.basename(b.shown ?? ''))).toEqual(back.map((b) => b.offers[0]?.fileName));
    await jobs.withdraw(job, baked);
    // One more without timecode, reel or a name that says anything: its picture tells, however it was graded.
    const graded = readdirSync(room).find((name) => name.startsWith('A001C002')) ?? '';
    const bare = ['-map_metadata', '-1', '-map', '0:v', '-write_tmcd', '0', '-c', 'copy', path.join(room, 'final look.mov')];
    execFileSync('ffmpeg', ['-v', 'error', '-i', path.join(room, graded), ...bare]);
    await done({ kind: 'scan', volumes: [volume] });
    expect((await homecomingView(job)).strangers).toMatchObject([{ fileName: 'final look.mov', why: 'no-event' }]);
    expect((await done({ kind: 'recognise' })).message).toBe('1 of 1 clip recognised by its pictures');
    const seenBack = await homecomingView(job);
    expect(seenBack.strangers).toEqual([]);
    const [, second] = seenBack.back;
    expect(second?.offers.at(-1)).toMatchObject({
      fileName: 'final look.mov',
      by: ['picture'],
      sourceStartFrame: back[1]?.offers[0]?.sourceStartFrame,
    });
    await jobs.withdraw(job, batch ?? '');
    await jobs.removeVolume(job, volume);
    expect(await states()).toEqual(before);
  });
  it('speak for and against candidates, as long as the files are what they were', async () => {
    const [one, two] = [at('A001', 'A001C001.mov'), at('A001', 'A001C002.mov')];
    const said = async () => {
      const { contenders } = await ledger.eventView(job, await eventAt(1));
      return Object.fromEntries(contenders.map((c) => [c.path, c.evidence.find((e) => e.criterion === 'picture')?.grade]));
    };
    expect(await said()).toEqual({ [two]: 'unknown' });
    const ended = await done({ kind: 'compare', events: [await eventAt(1)] });
    expect(ended.message).toBe('The picture of 1 of 1 event found among the originals');
    expect(await said()).toEqual({ [two]: 'exact' });
    utimesSync(two, new Date(), new Date());
    await done(scan);
    expect(await said()).toEqual({ [two]: 'unknown' });
    expect(one).not.toBe(two);
  });
  it('are proved by a proxy while their original is away, which is said, and no longer once it is back', async () => {
    const file = at('A001', 'A001C001.mov');
    renameSync(file, path.join(folder, 'away.mov'));
    await done(scan);
    const ended = await done({ kind: 'proof', events: [await eventAt(0)] });
    expect(ended.message).toMatch(/nothing differs\. 1 event by its proxy, the original being away$/);
    expect((await ledger.ledgerView(job)).rows[0]).toMatchObject({ state: 'away', proof: { verdict: 'same', stale: false } });
    renameSync(path.join(folder, 'away.mov'), file);
    await done(scan);
    expect((await ledger.ledgerView(job)).rows[0]?.proof?.stale).toBe(true);
  });
  it('stop for want of room on the disk, and go on when there is some', async () => {
    const full = { ...USUAL_RETURN, kind: 'return', title: 'FULL', handles: 2, render: true } as const;
    const { folder: out } = (await done(full)).result as { folder: string };
    const names = readdirSync(out).filter((name) => name.endsWith('.mov'));
    // One clip is to be written again, to a device on which no room is ever found (full(4)).
    rmSync(path.join(out, names[1] ?? ''));
    symlinkSync('/dev/full', path.join(out, HALF + names[1]));
    const task = await startTask(job, full);
    expect(await done(scan, task)).toMatchObject({
      state: 'failed',
      message: expect.stringMatching(/is full\. Make room on it, about \d+ kB for what is left, then go on/),
    });
    const made = statSync(path.join(out, names[0] ?? '')).mtimeMs;
    await goOn(job, task);
    expect(await done(scan, task)).toMatchObject({ state: 'done', message: '2 clips written; all as planned' });
    expect(statSync(path.join(out, names[0] ?? '')).mtimeMs).toBe(made);
  });
  it('no longer hold once a file was replaced under its name, of the same size: proof, picture and returned clip', async () => {
    expect((await done({ kind: 'proof', events: null })).state).toBe('done');
    const before = (await ledger.ledgerView(job)).rows;
    expect(before.map((r) => r.proof?.stale)).toEqual([false, false]);
    const file = at('A001', 'A001C001.mov');
    const { size } = statSync(file);
    // Other pictures, padded to the same size: a free atom at its end says nothing.
    const other = path.join(folder, 'other.mov');
    writeClip(other, { writer: 'intra-8bit', rate: RATES['24'], reel: 'A001', start: '01:00:00:00', frames: 24 }, 300);
    const bytes = readFileSync(other);
    writeFileSync(file, Buffer.concat([bytes, Buffer.alloc(Math.max(0, size - bytes.length))]));
    await done(scan);
    const after = (await ledger.ledgerView(job)).rows;
    expect(after.map((r) => r.proof?.stale)).toEqual([true, false]);
    expect([after[0]?.look !== before[0]?.look, after[1]?.look === before[1]?.look]).toEqual([true, true]);
    expect((await views.returnView(job)).last?.stale).toHaveLength(1);
    expect(await seen('conform', 864_003)).toBe(307);
  });
  it('nor a clip and the pictures once a look-up table they were made with was replaced', async () => {
    const lut = path.join(folder, 'look.cube');
    const corners = (top: number) => [
      '0 0 0',
      `${top} 0 0`,
      `0 ${top} 0`,
      `${top} ${top} 0`,
      `0 0 ${top}`,
      `${top} 0 ${top}`,
      `0 ${top} ${top}`,
      `${top} ${top} ${top}`,
    ];
    writeFileSync(lut, `LUT_3D_SIZE 2\n${corners(1).join('\n')}\n`);
    const [row] = (await ledger.ledgerView(job)).rows;
    const batch = await jobs.decide(job, [{ kind: 'lut', scope: { of: 'event', event: row?.id ?? '' }, lut }]);
    await done({ ...USUAL_RETURN, kind: 'return', title: 'LOOKED', handles: 2, render: true });
    const standing = async () => {
      const { rows } = await ledger.ledgerView(job);
      return { looks: rows.map((r) => r.look), stale: (await views.returnView(job)).last?.stale };
    };
    const before = await standing();
    expect(before.stale).toEqual([]);
    writeFileSync(lut, `LUT_3D_SIZE 2\n${corners(0.5).join('\n')}\n`);
    const after = await standing();
    expect(after.stale).toHaveLength(1);
    expect(after.looks[0]).not.toBe(before.looks[0]);
    await jobs.withdraw(job, batch, 'undo');
  });
  it('nor once the reference was', async () => {
    expect((await done({ kind: 'proof', events: null })).state).toBe('done');
    const reference = path.join(folder, 'reference.mp4');
    // The same pictures in a new file: it is another file all the same.
    copyFileSync(reference, path.join(folder, 'again.mp4'));
    renameSync(path.join(folder, 'again.mp4'), reference);
    await done(scan);
    expect((await ledger.ledgerView(job)).rows.map((r) => r.proof?.stale)).toEqual([true, true]);
    await done({ kind: 'proof', events: null });
    expect((await ledger.ledgerView(job)).rows.map((r) => r.proof?.stale)).toEqual([false, false]);
  });
  it('find a reference that begins with leader, has no timecode and shows the picture small: viewers and stills show it as the proof found it', async () => {
    const [small, leader] = ['scale=192:108,pad=240:180:12:48', 'tpad=start=20'];
    const made = ['-vf', `${small},${leader},format=yuv420p`, '-map_metadata', '-1', '-write_tmcd', '0', '-c:v', 'libx264', '-crf', '18'];
    // Twenty frames of leader are mute; a tone begins with the cut.
    const tone = ['-f', 'lavfi', '-i', "aevalsrc='gte(t,20/24)*0.5*sin(2*PI*440*t)':d=2:s=48000"];
    const input = ['-i', path.join(folder, 'reference.mp4'), ...tone, '-map', '0:v', '-map', '1:a', '-c:a', 'aac'];
    execFileSync('ffmpeg', ['-v', 'error', '-y', ...input, ...made, path.join(folder, 'leader.mp4')]);
    await jobs.addReference(job, path.join(folder, 'leader.mp4'));
    // Of two events both have to be right, for how a reference lies is told by the most.
    const second = (await ledger.ledgerView(job)).rows[1]?.id ?? '';
    await jobs.decide(job, [{ kind: 'slip', event: second, original: at('A001', 'A001C002.mov'), sourceStartFrame: 2 }]);
    const start = async () => (await views.jobView(job)).checks.find((c) => c.name === 'Start');
    expect((await start())?.detail).toBe('The cut is taken to begin with the reference; a proof finds out by its pictures.');
    expect((await done({ kind: 'proof', events: null })).state).toBe('done');
    expect((await start())?.detail).toBe('By its pictures the cut begins 20 frames into the reference, as the proof found.');
    expect([await seen('reference', 864_000 + 3), await seen('reference', 864_000 + 12 + 5)]).toEqual([7, 507]);
    const { data, info } = await sharp(await still(await workspace(job), 864_000 + 3, 'reference'))
      .removeAlpha()
      .toColourspace('srgb')
      .raw()
      .toBuffer({ resolveWithObject: true });
    expect(numberIn(new Uint8Array(data), info.width, info.height)).toBe(7);
    // The sound of a review begins with the cut, not with the leader.
    const { file } = (await done({ kind: 'review', burnIn: false, sound: true, mix: '' })).result as { file: string };
    const pcm = execFileSync('ffmpeg', ['-v', 'error', '-i', file, '-t', '0.2', '-ac', '1', '-f', 's16le', '-']);
    const heard = new Int16Array(pcm.buffer, pcm.byteOffset, pcm.length / 2);
    expect(Math.hypot(...heard) / Math.sqrt(heard.length) / 32_768).toBeCloseTo(0.5 / Math.SQRT2, 1);
  });
});

describe('the reference by itself', () => {
  it('is looked through for cuts, and marks make a list that arrives like any other', async () => {
    const { listFromMarks } = await import('../cuts');
    const { cutsView } = views;
    expect(await cutsView(job)).toMatchObject({ movie: { fileName: 'leader.mp4' }, found: null });
    expect((await done({ kind: 'cuts' })).state).toBe('done');
    const { movie, found } = await cutsView(job);
    expect(found?.change).toHaveLength(movie?.frames ?? 0);
    const made = await listFromMarks(job, [{ kind: 'cut', frame: 20, frames: 0, score: 1 }]);
    const arrived = (await lists.listEntries(job)).find((l) => 'list' in made && l.id === made.list);
    expect(arrived).toMatchObject({ state: 'arrived', files: ['leader_cuts.otio'] });
    if ('list' in made) await lists.discard(job, made.list);
  });
  it('is rebuilt from the originals: each shot is found, and the list that says so arrives', async () => {
    await jobs.addReference(job, path.join(folder, 'reference.mp4'));
    const ended = await done({ kind: 'rebuild', marks: [{ kind: 'cut', frame: 12, frames: 0, score: 1 }] });
    expect(ended.message).toBe('2 shots, 2 found in the originals; the list waits under Turnover');
    const { list } = ended.result as { list: string };
    const { arrivalView } = await import('../arrival');
    expect((await arrivalView(job, list, {})).figures.events).toBe(2);
    await lists.discard(job, list);
  });
});

describe('a search for what is offline', () => {
  const LOOKED = `TITLE: LOOKED FOR
001  A007     V     C        07:00:00:04 07:00:00:16 10:00:00:00 10:00:00:12
* FROM CLIP NAME: A007C001
002  A007     V     C        07:00:10:04 07:00:10:16 10:00:00:12 10:00:01:00
* FROM CLIP NAME: A007C002
003  A007     V     C        09:00:10:04 09:00:10:16 10:00:01:00 10:00:01:12
* FROM CLIP NAME: A007C009
`;
  it('finds files by name, then by reel and timecode, takes nothing in, and keeps what it found', async () => {
    const id = await jobs.createJob('Looked for');
    const answer = await lists.receive(id, 'looked.edl', new TextEncoder().encode(LOOKED), []);
    if ('list' in answer) await lists.take(id, answer.list, { reading: { rate: '24' }, as: 'cut', apart: false });
    const drive = path.join(folder, 'DRIVE');
    const clip = (name: string, start: string) =>
      writeClip(path.join(drive, 'deep', 'CARD', name), { writer: 'intra-8bit', rate: RATES['24'], reel: 'A007', start, frames: 24 });
    clip('a007c001.mov', '07:00:00:00');
    clip('untitled 4.mov', '07:00:10:00');
    clip('other.mov', '08:00:00:00');
    const ended = await done({ kind: 'search', folder: drive }, await startTask(id, { kind: 'search', folder: drive }));
    expect(ended.message).toBe('2 files found for 2 offline events; 1 has none there');
    const search = await views.searchView(id);
    const at = (name: string) => path.join(drive, 'deep', 'CARD', name);
    expect(search?.result).toMatchObject({
      opened: 3,
      finds: [
        { path: at('a007c001.mov'), by: 'name', events: [expect.any(String)] },
        { path: at('untitled 4.mov'), by: 'timecode', events: [expect.any(String)] },
      ],
    });
    expect(await clips.originalRows(id)).toEqual([]);
    // What was found is brought in by adding its folder; what was paired and moved is then known again by its size.
    const added = await jobs.addVolume(id, path.join(drive, 'deep'));
    await done(scan, await startTask(id, scan));
    expect((await ledger.ledgerView(id)).rows.map((r) => r.state)).toEqual(['proposed', 'proposed', 'unpaired']);
    const [first] = (await ledger.ledgerView(id)).rows;
    await jobs.decide(id, [{ kind: 'pair', event: first?.id as string, original: at('a007c001.mov'), sourceStartFrame: 4 }]);
    renameSync(at('a007c001.mov'), path.join(folder, 'DRIVE', 'renamed.mov'));
    await done(scan, await startTask(id, scan));
    expect((await ledger.ledgerView(id)).rows[0]?.state).toBe('away');
    await done({ kind: 'search', folder: drive }, await startTask(id, { kind: 'search', folder: drive }));
    expect((await views.searchView(id))?.result?.finds).toMatchObject([{ path: path.join(drive, 'renamed.mov'), by: 'size' }]);
    await jobs.removeVolume(id, added);
  });
  it('of a folder that is not there says so', async () => {
    const ended = await done({ kind: 'search', folder: path.join(folder, 'NOWHERE') });
    expect([ended.state, ended.message]).toEqual(['failed', expect.stringContaining('There is no folder')]);
  });
});

describe('the runner', () => {
  it('runs tasks one after the other; one that is stopped while it waits is never begun', async () => {
    const [first, second, third] = [await startTask(job, scan), await startTask(job, scan), await startTask(job, scan)];
    await stopTask(job, second);
    expect((await done(scan, first)).state).toBe('done');
    expect(await done(scan, second)).toMatchObject({ state: 'stopped', message: 'Stopped before it began' });
    expect((await done(scan, third)).state).toBe('done');
  });
  it('ends all that a job has in hand when the job is deleted, and lets it go on when that is undone', async () => {
    const [first, second] = [await startTask(job, scan), await startTask(job, scan)];
    await stopAll(job);
    await done(scan, first);
    expect(await done(scan, second)).toMatchObject({ state: 'stopped' });
    expect(await openTasks(job)).toEqual([]);
    await goOn(job, second);
    expect((await done(scan, second)).state).toBe('done');
  });
  it('lets a task rest, also over a restart, and go on', async () => {
    const [first, second] = [await startTask(job, scan), await startTask(job, scan)];
    await pauseTask(job, second);
    expect((await done(scan, first)).state).toBe('done');
    await resumeTasks();
    expect((await openTasks(job)).map((t) => [t.id, t.state])).toEqual([[second, 'paused']]);
    await goOn(job, second);
    expect((await done(scan, second)).state).toBe('done');
    await expect(goOn(job, second)).rejects.toMatchObject({ status: 409 });
  });
  it('says that there is no room for what was found, and goes on when there is', async () => {
    const bare = await jobs.createJob('Full');
    const many = path.join(folder, 'MANY');
    mkdirSync(many);
    for (let n = 0; n < 1500; n++) writeFileSync(path.join(many, `${String(n).padStart(150, '0')}.mov`), '');
    await jobs.addVolume(bare, many);
    const pages = (n: number | null) =>
      write(async (tx) => tx.run(sql.raw(`PRAGMA max_page_count = ${n ?? (await tx.values<[number]>(sql`PRAGMA page_count`))[0]?.[0]}`)));
    await pages(null);
    const task = await startTask(bare, scan);
    const ended = await done(scan, task);
    await pages(1_000_000);
    expect(ended).toMatchObject({ state: 'failed', message: expect.stringContaining('is full. Make room on it, then go on') });
    await goOn(bare, task);
    expect(await done(scan, task)).toMatchObject({ state: 'done', message: '0 originals found; 1500 files could not be read' });
    rmSync(many, { recursive: true });
  });
  it('takes up what was running when the server went down', async () => {
    const started = await startTask(job, scan);
    const ended = await done(scan, started);
    await write((tx) => tx.update(schema.tasks).set({ state: 'running', message: '', endedAt: null }).where(eq(schema.tasks.id, started)));
    await resumeTasks();
    expect(await done(scan, started)).toMatchObject({ state: 'done', message: ended.message });
  });
  it('says in plain words why a task failed, and goes on with the next', async () => {
    const bare = await jobs.createJob('Bare');
    const task = await startTask(bare, { kind: 'proof', events: null });
    expect(await done(scan, task)).toMatchObject({ state: 'failed', message: 'There is no list yet.' });
    expect((await done(scan)).state).toBe('done');
  });
  it('leaves no half of what it was writing where it ends early, and nothing of a person is taken for one', async () => {
    const bare = await jobs.createJob('Tidy');
    const back = path.join(folder, 'desk', 'jobs', bare, 'returns', 'BACK');
    mkdirSync(back, { recursive: true });
    for (const name of [`${HALF}A001C001.mov`, 'A001C001.part.mov', 'A001C002.mov']) writeFileSync(path.join(back, name), '');
    utimesSync(path.join(back, `${HALF}A001C001.mov`), 1000, 1000);
    expect(await done(scan, await startTask(bare, { kind: 'proof', events: null }))).toMatchObject({ state: 'failed' });
    expect(readdirSync(back).sort()).toEqual(['A001C001.part.mov', 'A001C002.mov']);
  });
  it('finds no half at start either, of a clip or of what was being sent', async () => {
    const bare = await jobs.createJob('Start');
    const own = (...parts: string[]) => path.join(folder, 'desk', 'jobs', bare, ...parts);
    for (const part of ['reference', 'proxies/CARD']) mkdirSync(own(part), { recursive: true });
    for (const file of ['reference/cut.mov', 'reference/next.mov.part', `proxies/CARD/${HALF}A001C001.mov`, 'proxies/CARD/A001C002.mov'])
      writeFileSync(own(file), '');
    await jobs.clearUnfinished();
    expect(readdirSync(own('reference'))).toEqual(['cut.mov']);
    expect(readdirSync(own('proxies/CARD'))).toEqual(['A001C002.mov']);
  });
  it('knows no task of another job', async () => {
    const task = await startTask(job, scan);
    await expect(stopTask('another', task)).rejects.toMatchObject({ status: 404 });
    await done(scan, task);
  });
});
