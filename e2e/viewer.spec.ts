import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { type Decision, FILLING, RATES, type StandingEvent } from '@gemello/core';
import { type APIRequestContext, expect, type Page, test } from '@playwright/test';
import { numberIn, RASTER, writeClip } from '../media/test/footage';
import { untilIdle } from './demo';

/**
 * The viewer, held against pictures that carry their own number (twelve bars), and against what the server's compositor draws of the
 * originals. Clips begin at 10:00:00:00; frame n of A carries n, of B 1000 + n, of C (25 a second) 2000 + n.
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
`;
/** Record frames from the first of the cut, by what is to be seen there; null where two numbers are mixed. */
const SEEN: readonly (readonly [what: string, frame: number, number: number | null])[] = [
  ['a cut', 0, 10],
  ['its last frame', 23, 33],
  ['a dissolve, in its middle', 30, null],
  ['after a dissolve', 40, 1000 + 20 + 16],
  ['a wipe, in its middle', 53, null],
  ['after a wipe', 70, 48 + 22],
  ['half speed', 72 + 11, 72 + 5],
  ['double speed', 96 + 11, 1000 + 24 + 22],
  ['reverse', 120 + 5, 119 - 5],
  ['a freeze', 144 + 20, 1000 + 77],
  ['another rate, in real time', 168 + 12, 2000 + 25 + 12],
  ['a picture that was placed', 192 + 6, null],
];

/** Record in of the cut, in frames. */
const START = 86_400;

let folder: string;
test.beforeAll(() => {
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
  writeClip(path.join(folder, 'REFERENCE.mov'), { writer: 'intra', rate: RATES['24'], reel: '', start: '01:00:00:00', frames: 216 }, 3000);
});
test.afterAll(() => rmSync(folder, { recursive: true }));

/** The job that all tests of this file look at, made once. */
let job: Promise<string> | null = null;
const jobOf = (request: APIRequestContext): Promise<string> => {
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
  return id;
}

/** Waits until the viewer of a page shows a record frame. */
const shown = (page: Page, frame: number) =>
  page.waitForFunction((at) => (document.querySelector('[data-testid=compared]') as HTMLElement)?.dataset.drawn === `${at}`, frame);

/** What the viewer puts together of the conform at a record frame: R, G, B, rows from the top. */
async function seenAt(page: Page, frame: number) {
  const { width, height, encoded } = await page.evaluate(async (at) => {
    type Thread = {
      show(frame: number, comparing: object): Promise<void>;
      read(side: string): Promise<{ width: number; height: number; pixels: Uint8Array }>;
    };
    const canvas = document.querySelector('[data-testid=compared] canvas') as HTMLCanvasElement & { viewer: Thread };
    await canvas.viewer.show(at, { shows: 'facing', line: 0.5, angle: 0, gain: 1, blend: 0.5, tinted: 0 });
    const read = await canvas.viewer.read('conform');
    // As text: arrays of numbers take a second to go to another process.
    const encoded = btoa(Array.from(read.pixels, (v) => String.fromCharCode(v)).join(''));
    return { width: read.width, height: read.height, encoded };
  }, frame);
  return { width, height, rgb: withoutAlpha(encoded) };
}

/** The same picture as the compositor draws it of the originals. */
async function drawnAt(page: Page, job: string, frame: number): Promise<Uint8Array> {
  const encoded = await page.evaluate(async (address) => {
    const png = await createImageBitmap(await (await fetch(address)).blob(), { colorSpaceConversion: 'none' });
    const context = new OffscreenCanvas(png.width, png.height).getContext('2d') as OffscreenCanvasRenderingContext2D;
    context.drawImage(png, 0, 0);
    const { data } = context.getImageData(0, 0, png.width, png.height);
    return btoa(Array.from(data, (v) => String.fromCharCode(v)).join(''));
  }, `/api/jobs/${job}/still?frame=${frame}&show=conform`);
  return withoutAlpha(encoded);
}

function withoutAlpha(encoded: string): Uint8Array {
  const pixels = Buffer.from(encoded, 'base64');
  const rgb = new Uint8Array((pixels.length / 4) * 3);
  for (let i = 0, o = 0; i < pixels.length; i += 4) for (let c = 0; c < 3; c++) rgb[o++] = pixels[i + c] as number;
  return rgb;
}

/** Peak signal to noise ratio of 8-bit pictures, in dB (ITU-T J.340). */
function likeness(a: Uint8Array, b: Uint8Array): number {
  let square = 0;
  for (let i = 0; i < a.length; i++) square += ((a[i] as number) - (b[i] as number)) ** 2;
  return 10 * Math.log10(255 ** 2 / (square / a.length));
}

test('every kind of event is put together to the frame, as the compositor draws it', async ({ request, page }) => {
  const job = await jobOf(request);
  const { conform } = await (await request.get(`/api/jobs/${job}/ledger?of=conform`)).json();
  const events = conform.list.tracks[0].events as StandingEvent[];
  const accepted = events.flatMap(({ key, pair }): Decision[] =>
    pair ? [{ kind: 'pair', event: key, original: pair.original, sourceStartFrame: pair.sourceStartFrame, rate: pair.rate }] : [],
  );
  const placed: Decision = {
    kind: 'placement',
    event: events.at(-1)?.key ?? '',
    placement: { ...FILLING, scaleX: 0.6, scaleY: 0.6, x: 0.12, y: -0.1, rotation: 8 },
  };
  await request.post(`/api/jobs/${job}/decisions`, { data: { decisions: [...accepted, placed] } });
  await page.goto(`/job/${job}/proof?frame=${START}`);
  await shown(page, START);
  for (const [what, at, number] of SEEN) {
    const { width, height, rgb } = await seenAt(page, START + at);
    expect([width, height]).toEqual([RASTER.width, RASTER.height]);
    if (number !== null) expect(numberIn(rgb, width, height), what).toBe(number);
    expect(likeness(rgb, await drawnAt(page, job, START + at)), what).toBeGreaterThan(40);
  }
});

test('going through three hundred frames leaves no more open than it may hold', async ({ request, page }) => {
  const job = await jobOf(request);
  await page.goto(`/job/${job}/proof?frame=${START}`);
  await shown(page, START);
  const { frames, textures, before } = await page.evaluate(async (start) => {
    type Open = { frames: number; textures: number };
    type Thread = { show(frame: number, comparing: object): Promise<void>; open(): Promise<Open> };
    const canvas = document.querySelector('[data-testid=compared] canvas') as HTMLCanvasElement & { viewer: Thread };
    const comparing = { shows: 'facing', line: 0.5, angle: 0, gain: 1, blend: 0.5, tinted: 0 };
    const first = await canvas.viewer.open();
    // All over the cut, as one who looks for something does: steps of a number that has no factor in common with its length.
    for (let i = 0; i < 300; i++) await canvas.viewer.show(start + ((i * 89) % 216), comparing);
    return { ...(await canvas.viewer.open()), before: first.textures };
  }, START);
  // Fourteen runs of twelve pictures.
  expect(frames).toBeLessThanOrEqual(14 * 12);
  expect(textures).toBe(before);
});

test('what is seen plays at the rate of the cut, both sides in step, and stops where the event ends', async ({ request, page }) => {
  await page.goto(`/job/${await jobOf(request)}/proof?frame=${START}`);
  await shown(page, START);
  const began = Date.now();
  await page.keyboard.press('Space');
  await shown(page, START + 23);
  // The event lasts a second.
  expect(Date.now() - began).toBeGreaterThan(900);
});
