import { execFileSync } from 'node:child_process';
import { mkdirSync, mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { type Decision, FILLING, RATES, type StandingEvent } from '@gemello/core';
import { type APIRequestContext, type Page, test } from '@playwright/test';
import { numbered, RASTER, writeClip } from '../media/test/footage';
import { untilIdle } from './demo';

/**
 * A job whose pictures carry their own number (twelve bars). Clips begin at 10:00:00:00; frame n of A carries n, of B 1000 + n, of C
 * (25 a second) 2000 + n, the still 3900, frame n of the reference 3000 + n. The reference is silent but for a click that begins with
 * its frame 120.
 */
const LIST = `TITLE: VIEWER
001  A001     V     C        10:00:00:10 10:00:01:10 01:00:00:00 01:00:01:00
* FROM CLIP NAME: A001C001
002  A001     V     C        10:00:01:10 10:00:01:10 01:00:01:00 01:00:01:00
* FROM CLIP NAME: A001C001
002  B001     V     D    012 10:00:00:20 10:00:01:20 01:00:01:00 01:00:02:00
* TO CLIP NAME: B001C001
003  B001     V     C        10:00:01:20 10:00:01:20 01:00:02:00 01:00:02:00
* FROM CLIP NAME: B001C001
003  A001     V     W001 010 10:00:02:00 10:00:03:00 01:00:02:00 01:00:03:00
* TO CLIP NAME: A001C001
004  A001     V     C        10:00:03:00 10:00:03:12 01:00:03:00 01:00:04:00
M2   A001     012.0                10:00:03:00
* FROM CLIP NAME: A001C001
005  B001     V     C        10:00:01:00 10:00:03:00 01:00:04:00 01:00:05:00
M2   B001     048.0                10:00:01:00
* FROM CLIP NAME: B001C001
006  A001     V     C        10:00:04:00 10:00:05:00 01:00:05:00 01:00:06:00
M2   A001     -024.0               10:00:04:00
* FROM CLIP NAME: A001C001
007  B001     V     C        10:00:03:05 10:00:03:06 01:00:06:00 01:00:07:00
M2   B001     000.0                10:00:03:05
* FROM CLIP NAME: B001C001
008  C001     V     C        10:00:01:00 10:00:02:00 01:00:07:00 01:00:08:00
* FROM CLIP NAME: C001C001
009  B001     V     C        10:00:04:00 10:00:05:00 01:00:08:00 01:00:09:00
* FROM CLIP NAME: B001C001
010  S001     V     C        00:00:00:00 00:00:01:00 01:00:09:00 01:00:10:00
* FROM CLIP NAME: S001C001
011  A001     V     C        10:00:01:00 10:00:02:00 01:00:10:00 01:00:11:00
* FROM CLIP NAME: A001C001
012  A001     V     C        10:00:02:00 10:00:03:00 01:00:11:00 01:00:12:00
* FROM CLIP NAME: A001C001
013  B001     V     C        10:00:02:00 10:00:03:00 01:00:12:00 01:00:13:00
* FROM CLIP NAME: B001C001
`;
/** Record in of the cut, in frames, and how many it has. */
export const LENGTH = 288;
export const START = 86_400;

/** The frame of the reference at which its click begins. */
export const CLICK_AT = 120;

/** A lattice of five along each side that turns colours about, no axis like another (Cube LUT specification 1.0). */
const FIVE = [0, 1, 2, 3, 4].map((n) => n / 4);
const WARM = [
  'LUT_3D_SIZE 5',
  ...FIVE.flatMap((b) =>
    FIVE.flatMap((g) => FIVE.map((r) => [r ** 0.7, 0.8 * g + 0.2 * r * b, b ** 1.6].map((v) => v.toFixed(6)).join(' '))),
  ),
  '',
].join('\n');
/** Only white is white: between black and white the ways to look up in it are far apart. */
const CORNER = ['LUT_3D_SIZE 2', ...Array(7).fill('0 0 0'), '1 1 1', ''].join('\n');
/** A file of the job's volume: look-up tables, `warm.cube` and `corner.cube`, and one that ends too soon, `cut off.cube`. */
export const onVolume = (name: string): string => path.join(folder, 'CARDS', name);

let folder: string;
/** Writes the files of the job before the tests of a file, and takes them away after them. */
export function withNumberedFiles(): void {
  test.beforeAll(() => {
    // Files of tests share this module, but not what lies on the disk.
    job = null;
    folder = mkdtempSync(path.join(tmpdir(), 'gemello-viewer-'));
    const clip = (name: string, rate: keyof typeof RATES, first: number) =>
      writeClip(
        path.join(folder, 'CARDS', name.slice(0, 4), `${name}.mov`),
        { writer: 'intra', rate: RATES[rate], reel: name.slice(0, 4), start: '10:00:00:00', frames: 150 },
        first,
      );
    clip('A001C001', '24', 0);
    clip('B001C001', '24', 1000);
    clip('C001C001', '25', 2000);
    mkdirSync(path.join(folder, 'CARDS', 'S001'));
    const { width, height } = RASTER;
    const raw = ['-f', 'rawvideo', '-pix_fmt', 'rgba', '-s', `${width}x${height}`, '-i', '-'];
    execFileSync('ffmpeg', ['-v', 'error', ...raw, path.join(folder, 'CARDS', 'S001', 'S001C001.png')], { input: numbered(3900) });
    writeFileSync(path.join(folder, 'CARDS', 'warm.cube'), WARM);
    writeFileSync(path.join(folder, 'CARDS', 'corner.cube'), CORNER);
    writeFileSync(path.join(folder, 'CARDS', 'cut off.cube'), WARM.slice(0, WARM.length / 2));
    const click = path.join(folder, 'click.wav');
    const sound = `aevalsrc='if(between(t,${CLICK_AT / 24},${CLICK_AT / 24}+0.02),0.9*sin(2*PI*1000*t),0)':s=48000:d=${LENGTH / 24}:c=stereo`;
    execFileSync('ffmpeg', ['-v', 'error', '-y', '-f', 'lavfi', '-i', sound, '-c:a', 'pcm_s16le', click]);
    const reference = { writer: 'intra', rate: RATES['24'], reel: '', start: '01:00:00:00', frames: LENGTH } as const;
    writeClip(path.join(folder, 'REFERENCE.mov'), { ...reference, sound: [{ path: click, from: 0, to: LENGTH / 24 }] }, 3000);
  });
  test.afterAll(() => rmSync(folder, { recursive: true }));
}

/** The job that all tests of a file look at, made once. */
let job: Promise<string> | null = null;
export const jobOf = (request: APIRequestContext): Promise<string> => {
  job ??= newJob(request);
  return job;
};

async function newJob(request: APIRequestContext): Promise<string> {
  const { id } = await (await request.post('/api/jobs', { data: { title: 'Viewer' } })).json();
  const { list } = await (await request.put(`/api/jobs/${id}/lists?name=viewer.edl`, { data: Buffer.from(LIST) })).json();
  await request.post(`/api/jobs/${id}/lists/${list}`, { data: { reading: { rate: '24' }, as: 'cut' } });
  await request.post(`/api/jobs/${id}/volumes`, { data: { path: path.join(folder, 'CARDS') } });
  await request.post(`/api/jobs/${id}/reference`, { data: { path: path.join(folder, 'REFERENCE.mov') } });
  await untilIdle(request, id);
  await request.post(`/api/jobs/${id}/decisions`, { data: { decisions: await settled(request, id) } });
  return id;
}

/** The events of the cut, by their number. */
export async function eventsOf(request: APIRequestContext, job: string): Promise<ReadonlyMap<string, StandingEvent>> {
  const { conform } = await (await request.get(`/api/jobs/${job}/ledger?of=conform`)).json();
  const tracks = conform.list.tracks as { events: StandingEvent[] }[];
  return new Map(tracks.flatMap((t) => t.events.map((e) => [e.number, e] as const)));
}

/** All pairs accepted; 009 placed, 011 with a speed that changes on the way, 013 over 012 on a layer of its own. */
async function settled(request: APIRequestContext, job: string): Promise<Decision[]> {
  const events = await eventsOf(request, job);
  const key = (number: string) => events.get(number)?.key ?? '';
  const keys = [
    { record: 0, source: 0 },
    { record: 12, source: 6 },
    { record: 24, source: 24 },
  ];
  return [
    ...[...events.values()].flatMap(({ key: event, pair }): Decision[] =>
      pair ? [{ kind: 'pair', event, original: pair.original, sourceStartFrame: pair.sourceStartFrame, rate: pair.rate }] : [],
    ),
    { kind: 'placement', event: key('009'), placement: { ...FILLING, scaleX: 0.6, scaleY: 0.6, x: 0.12, y: -0.1, rotation: 8 } },
    { kind: 'speed', event: key('011'), retime: { kind: 'keyed', keys }, stays: 0 },
    { kind: 'layer', event: key('013'), layer: 'V2' },
    { kind: 'move', event: key('013'), frames: -24 },
    { kind: 'placement', event: key('013'), placement: { ...FILLING, scaleX: 0.5, scaleY: 0.5, x: 0.25, y: 0.25, opacity: 1 } },
  ];
}

/** Waits until the viewer of a page shows a record frame. */
export const shown = (page: Page, frame: number) =>
  page.waitForFunction((at) => (document.querySelector('[data-testid=compared]') as HTMLElement)?.dataset.drawn === `${at}`, frame);
