import { execFileSync } from 'node:child_process';
import { mkdirSync } from 'node:fs';
import path from 'node:path';
import { type Browser, chromium, type Page } from '@playwright/test';
import { CHROMIUM } from '../e2e/chromium';
import { type Figure, inFolder } from './measure';
import { ask, BASE, emptyJob, fill, serve, stop } from './server';

/** Steps, jumps and edits that are timed, frames that are gone through to see whether anything is left open, and seconds that are played. */
const [STEPS, JUMPS, EDITS, VISITS, PLAYED] = [80, 40, 30, 10_000, 8];
/** Pixels across of what is played. */
const WIDTHS = [640, 960] as const;
/** Events of the cut whose lanes are drawn. */
const EVENTS = 10_000;
const [CLIPS, LENGTH] = [4, 240];

/**
 * The viewer and the lanes in headless chromium, which draws in software: from a key to the picture, from a jump, from an edit; frames
 * that are passed over while both sides play; ten thousand events on the lanes. The
 * yardstick is an empty page that paints after a key. Needs `npm run build`.
 */
export const viewer = (): Promise<Figure[]> =>
  inBrowser(async ({ folder, browser, many }) => {
    const blank = await emptyPage(await browser.newPage());
    const job = await movingJob(folder, 1280);
    const page = await browser.newPage({ viewport: { width: 1280, height: 800 } });
    const figures = await seen(page, job, blank);
    await page.close();
    for (const width of WIDTHS) figures.push(await played(browser, job, width));
    return [...figures, ...(await drawn(await browser.newPage({ viewport: { width: 1280, height: 800 } }), many, blank))];
  });

/** Ten thousand frames all over a cut, one after the other: nothing more may be open at their end. It takes a quarter of an hour. */
export const scrubbing = (): Promise<Figure[]> =>
  inBrowser(async ({ folder, browser }) => {
    const job = await movingJob(folder, 640);
    const page = await browser.newPage({ viewport: { width: 1280, height: 800 } });
    await open(page, job);
    return [await visited(page)];
  });

interface Bench {
  readonly folder: string;
  readonly browser: Browser;
  /** A job of ten thousand events. */
  readonly many: string;
}

function inBrowser(work: (bench: Bench) => Promise<Figure[]>): Promise<Figure[]> {
  return inFolder(async (folder) => {
    const empty = await serve(folder);
    const many = await emptyJob(folder, 1000, EVENTS);
    await stop(empty);
    await fill(folder, many);
    const server = await serve(folder);
    const browser = await chromium.launch(CHROMIUM);
    try {
      return await work({ folder, browser, many: many.id });
    } finally {
      await browser.close();
      await stop(server);
    }
  });
}

/** Frames of 24 a second, from the frame that shows one hour. */
const label = (n: number): string =>
  [Math.floor(n / 86_400), Math.floor(n / 1440) % 60, Math.floor(n / 24) % 60, n % 24].map((v) => String(v).padStart(2, '0')).join(':');
const START = 86_400;

/** A job of some clips that move, cut into events of two seconds, with a reference; viewing copies of all of it made. */
async function movingJob(folder: string, width: number): Promise<string> {
  const at = path.join(folder, `moving-${width}`);
  const height = (width * 9) / 16;
  const events = Array.from({ length: CLIPS * 4 }, (_, i) => ({ reel: `A00${(i % CLIPS) + 1}`, from: 24 + 40 * (i % 4), at: i * 48 }));
  const lines = events.map(({ reel, from, at: rec }, i) => {
    const [src, into] = [864_000 + from, START + rec];
    const times = [src, src + 48, into, into + 48].map(label).join(' ');
    return `${String(i + 1).padStart(3, '0')}  ${reel}     V     C        ${times}\n* FROM CLIP NAME: ${reel}C001`;
  });
  const movie = (file: string, source: string, frames: number, timecode: string, reel: string) => {
    mkdirSync(path.dirname(file), { recursive: true });
    const draw = [
      '-f',
      'lavfi',
      '-i',
      source,
      '-frames:v',
      String(frames),
      '-c:v',
      'libx264',
      '-preset',
      'ultrafast',
      '-pix_fmt',
      'yuv420p',
    ];
    execFileSync('ffmpeg', ['-v', 'error', '-y', ...draw, '-timecode', timecode, '-metadata:s:v:0', `reel_name=${reel}`, file]);
  };
  for (let i = 0; i < CLIPS; i++) {
    const drawing = `testsrc2=s=${width}x${height}:r=24,hue=h=${i * 40}`;
    movie(path.join(at, 'CARDS', `A00${i + 1}`, `A00${i + 1}C001.mov`), drawing, LENGTH, '10:00:00:00', `A00${i + 1}`);
  }
  movie(path.join(at, 'REFERENCE.mov'), `testsrc2=s=${width}x${height}:r=24`, events.length * 48, '01:00:00:00', '');
  const { id } = await ask('POST', '/api/jobs', JSON.stringify({ title: `${width} wide` }));
  const { list } = await ask('PUT', `/api/jobs/${id}/lists?name=cut.edl`, `TITLE: MOVING\n${lines.join('\n')}\n`);
  await ask('POST', `/api/jobs/${id}/lists/${list}`, JSON.stringify({ reading: { rate: '24' }, as: 'cut' }));
  await ask('POST', `/api/jobs/${id}/volumes`, JSON.stringify({ path: path.join(at, 'CARDS') }));
  await ask('POST', `/api/jobs/${id}/reference`, JSON.stringify({ path: path.join(at, 'REFERENCE.mov') }));
  await untilIdle(id);
  const { rows } = await ask('GET', `/api/jobs/${id}/ledger?as=rows`);
  type Row = { id: string; chosen: { path: string; sourceStartFrame: number } };
  const decisions = (rows as Row[]).map(({ id: event, chosen }) => ({
    kind: 'pair',
    event,
    original: chosen.path,
    sourceStartFrame: chosen.sourceStartFrame,
  }));
  await ask('POST', `/api/jobs/${id}/decisions`, JSON.stringify({ decisions }));
  await ask('POST', `/api/jobs/${id}/tasks`, JSON.stringify({ kind: 'copies' }));
  await untilIdle(id);
  return id;
}

async function untilIdle(job: string): Promise<void> {
  do await new Promise((resolve) => setTimeout(resolve, 300));
  while ((await ask('GET', `/api/jobs/${job}`)).tasks.length > 0);
}

/** What the page needs to see when a picture changes: as text, since the loader's names do not exist there. */
const WATCH = `
  const canvas = document.querySelector('[data-testid=compared] canvas, #blank');
  const small = new OffscreenCanvas(120, 34).getContext('2d', { willReadFrequently: true });
  const look = () => {
    small.drawImage(canvas, 0, 0, 120, 34);
    return small.getImageData(0, 0, 120, 34).data.join();
  };
  const press = (key, more = {}) => document.activeElement.dispatchEvent(new KeyboardEvent('keydown', { key, code: key, bubbles: true, ...more }));
  const painted = (act) => new Promise((resolve) => {
    const before = look();
    const from = performance.now();
    act();
    const step = () => (look() !== before ? resolve(performance.now() - from) : performance.now() - from > 5000 ? resolve(5000) : requestAnimationFrame(step));
    requestAnimationFrame(step);
  });
  const wait = (ms) => new Promise((resolve) => setTimeout(resolve, ms));
  const timed = async (count, act) => {
    const times = [];
    for (let i = 0; i < count; i++) { times.push(await painted(() => act(i))); await wait(60 + (i % 7) * 5); }
    return times;
  };`;
const run = <T>(page: Page, text: string): Promise<T> => page.evaluate<T>(`(async () => { ${WATCH} ${text} })()`);

interface Times {
  readonly middle: number;
  readonly late: number;
}
/** The middle of some times and the 95th of a hundred, in seconds. */
function told(times: number[]): Times {
  const sorted = times.toSorted((a, b) => a - b);
  const at = (share: number) => (sorted[Math.min(sorted.length - 1, Math.floor(sorted.length * share))] ?? Number.NaN) / 1000;
  return { middle: at(0.5), late: at(0.95) };
}

/** A page with nothing but a canvas that a thread fills anew after a key, as the viewer's does. */
async function emptyPage(page: Page): Promise<Times> {
  await page.setContent('<canvas id="blank" width="872" height="243"></canvas>');
  const times = await run<number[]>(
    page,
    `const fill = "let n = 0, c; onmessage = ({ data }) => { if (data) { c = data.getContext('2d'); return; } c.fillStyle = 'hsl(' + (n++ * 47) % 360 + ' 90% 50%)'; c.fillRect(0, 0, 872, 243); }";
     const thread = new Worker(URL.createObjectURL(new Blob([fill])));
     const offscreen = canvas.transferControlToOffscreen();
     thread.postMessage(offscreen, [offscreen]);
     document.addEventListener('keydown', () => thread.postMessage(null));
     await wait(300);
     return timed(${STEPS}, () => press('ArrowRight'));`,
  );
  await page.close();
  return told(times);
}

/** From a key to both pictures. */
async function seen(page: Page, job: string, blank: Times): Promise<Figure[]> {
  await open(page, job);
  await page.locator('[aria-label^="Lanes: "]').focus();
  // Once unmeasured, so that every copy is in the browser.
  await run(page, `await timed(${JUMPS}, (i) => press(i % 20 < 10 ? 'PageDown' : 'PageUp'));`);
  const step = told(await run<number[]>(page, `return timed(${STEPS}, () => press('ArrowRight'));`));
  const jump = told(await run<number[]>(page, `return timed(${JUMPS}, (i) => press(i % 20 < 10 ? 'PageDown' : 'PageUp'));`));
  await page.getByLabel('Arrows move').selectOption('source');
  await page.locator('[aria-label^="Lanes: "]').focus();
  const edit = told(await run<number[]>(page, `return timed(${EDITS}, () => press('ArrowRight'));`));
  await page.keyboard.press('Escape');
  await page.keyboard.press('Escape');
  const figure = (name: string, { middle, late }: Times, within: string): Figure => ({
    name,
    ours: late,
    yardstick: blank.late,
    yardstickName: 'an empty page paints after a key',
    note: `95th of a hundred, asked ${within}; middle ${(middle * 1000).toFixed(0)} ms, empty page ${(blank.middle * 1000).toFixed(0)} ms`,
  });
  return [
    figure('from a key to both pictures', step, 'under 80 ms and 1.5 times the empty page'),
    figure('from a jump to another cut to both pictures', jump, 'under 200 ms'),
    figure('from a slip to both pictures', edit, 'under 120 ms'),
  ];
}

async function open(page: Page, job: string): Promise<void> {
  await page.goto(`${BASE}/job/${job}/proof?frame=${START + 10}`);
  await page.locator(`[data-testid=compared][data-drawn="${START + 10}"]`).waitFor();
}

/** Frames that are passed over while both sides play in the full window, each so many pixels across. */
async function played(browser: Browser, job: string, width: number): Promise<Figure> {
  const page = await browser.newPage({ viewport: { width: 2 * width + 40, height: Math.round((width * 9) / 16) + 160 } });
  await open(page, job);
  await page.keyboard.press('f');
  await page.keyboard.press('Home');
  await page.waitForTimeout(1500);
  const across = await page.evaluate<number>(`JSON.parse(document.querySelector('[data-comparing]').dataset.comparing).across`);
  await page.keyboard.press('l');
  await page.waitForTimeout(PLAYED * 1000);
  const { shown, dropped } = await page.evaluate<{ shown: number; dropped: number }>(
    `(({ shown, dropped }) => ({ shown: Number(shown), dropped: Number(dropped) }))(document.querySelector('[data-testid=compared]').dataset)`,
  );
  await page.close();
  return {
    name: `both sides play for ${PLAYED} s, each ${across} pixels across`,
    ours: PLAYED,
    yardstick: (shown + dropped) / 24,
    yardstickName: 'frames gone through, at 24 a second',
    note: `${dropped} of ${shown + dropped} frames passed over`,
  };
}

/** Ten thousand frames all over the cut: what is open before, after a tenth of them and after all. */
async function visited(page: Page): Promise<Figure> {
  const session = await page.context().newCDPSession(page);
  const heap = async () => {
    await session.send('HeapProfiler.collectGarbage');
    return ((await page.evaluate<number>('performance.memory.usedJSHeapSize')) as number) / 1e6;
  };
  const visit = (count: number) =>
    page.evaluate<{ frames: number; textures: number; ms: number }>(`(async () => {
      const canvas = document.querySelector('[data-testid=compared] canvas');
      const comparing = JSON.parse(canvas.closest('[data-comparing]').dataset.comparing);
      const from = performance.now();
      for (let i = 0; i < ${count}; i++) {
        const at = ${START} + ((i * 89) % ${CLIPS * 4 * 48});
        await canvas.viewer.show([at, at], [{ of: 'reference' }, { of: 'conform' }], comparing);
      }
      return { ...(await canvas.viewer.open()), ms: performance.now() - from };
    })()`);
  const first = await visit(VISITS / 10);
  const [held, before] = [first, await heap()];
  const all = await visit((VISITS * 9) / 10);
  return {
    name: `${VISITS} frames all over the cut, one after the other`,
    ours: (first.ms + all.ms) / 1000,
    yardstick: (first.ms * 10) / 1000,
    yardstickName: `ten times the first ${VISITS / 10}`,
    note: `decoded pictures open ${held.frames} then ${all.frames}, textures ${held.textures} then ${all.textures}, heap of the page ${before.toFixed(0)} then ${(await heap()).toFixed(0)} MB`,
  };
}

/** Ten thousand events on the lanes, and from one stage to another. */
async function drawn(page: Page, job: string, blank: Times): Promise<Figure[]> {
  await page.goto(`${BASE}/job/${job}/proof`);
  await page.locator('[aria-label^="Lanes: "][data-drawn]').waitFor({ timeout: 120_000 });
  await page.waitForTimeout(3000);
  const panned = (scale: number) =>
    page.evaluate<{ script: number[]; fps: number }>(`new Promise((resolve) => {
      const canvas = document.querySelector('[aria-label^="Lanes: "]');
      const { left, top, width } = canvas.getBoundingClientRect();
      const wheel = (more) => canvas.dispatchEvent(new WheelEvent('wheel', { clientX: left + width / 2, clientY: top + 40, bubbles: true, cancelable: true, ...more }));
      for (let i = 0; i < ${scale}; i++) wheel({ deltaY: -200, ctrlKey: true });
      const script = [];
      let count = -30;
      let began = 0;
      requestAnimationFrame(function step() {
        wheel({ deltaX: count % 120 < 60 ? 25 : -25 });
        if (count++ === 0) began = performance.now();
        if (count > 0) script.push(Number(canvas.dataset.drawn));
        if (count < 150) requestAnimationFrame(step);
        else resolve({ script, fps: (count * 1000) / (performance.now() - began) });
      });
    })`);
  const whole = await panned(0);
  const near = await panned(6);
  const session = await page.context().newCDPSession(page);
  await session.send('Performance.enable');
  const script = async () => {
    const { metrics } = await session.send('Performance.getMetrics');
    return metrics.find((m) => m.name === 'ScriptDuration')?.value ?? 0;
  };
  const changes: number[] = [];
  for (const stage of ['Pairing', 'Proof', 'Grade', 'Proof', 'Originals', 'Proof', 'Pairing', 'Proof']) {
    const before = await script();
    // A locator would look through all of the page, by script that is not the page's.
    await page.evaluate((name) => {
      const stages = document.querySelectorAll<HTMLElement>('nav[aria-label=Stages] button');
      [...stages].find((b) => b.textContent?.startsWith(name.toLowerCase()))?.click();
    }, stage);
    await page.waitForTimeout(700);
    changes.push(((await script()) - before) * 1000);
  }
  const change = told(changes);
  const figure = (name: string, ours: number, note: string): Figure => ({
    name: `${EVENTS} events: ${name}`,
    ours,
    yardstick: blank.late,
    yardstickName: 'an empty page paints after a key',
    note,
  });
  return [
    figure(
      'script to draw the lanes, whole cut',
      told(whole.script).late,
      `asked under 8 ms; ${whole.fps.toFixed(0)} frames/s while panned, asked 20`,
    ),
    figure(
      'script to draw the lanes, near',
      told(near.script).late,
      `asked under 8 ms; ${near.fps.toFixed(0)} frames/s while panned, asked 20`,
    ),
    figure(
      'script to change the stage',
      change.late,
      `asked under 100 ms; middle ${(change.middle * 1000).toFixed(0)} ms, the most of eight changes`,
    ),
  ];
}
