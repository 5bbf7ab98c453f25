import { mkdirSync, writeFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import path from 'node:path';
import { type MovieWriter, openMovieWriter } from '@gemello/media/engine';
import { type Canvas, createCanvas, GlobalFonts } from '@napi-rs/canvas';
import { AV_PIX_FMT_RGBA } from 'node-av/constants';
import { dpxFrame } from './dpx';
import { BASE, count, label } from './list';
import { CUT, CUT_LENGTH, type CutEvent, offsets, RATE, RECORD_START, type Take, takeOf } from './scenario';
import type { Ctx } from './scenes/brush';
import { drawTake } from './scenes/scenes';

/** Called once for each frame drawn. */
export type Tick = () => void;

/** Lets the canvas give back the pixels it lent; it only does so between turns of the event loop. */
const breathe = (n: number) => (n % 8 === 0 ? new Promise<void>((resolve) => setImmediate(resolve)) : null);

const fonts = createRequire(import.meta.url);
GlobalFonts.registerFromPath(fonts.resolve('@fontsource/ibm-plex-mono/files/ibm-plex-mono-latin-500-normal.woff2'), 'Plex Mono');
GlobalFonts.registerFromPath(fonts.resolve('@fontsource/ibm-plex-sans/files/ibm-plex-sans-latin-300-normal.woff2'), 'Plex Sans');

const PROXY = [480, 270] as const;
const REFERENCE = [640, 360] as const;
/** 2.39 : 1 inside 16 : 9. */
const BAR = Math.round((REFERENCE[1] - REFERENCE[0] / 2.39) / 2);

/** A take's seconds at one of its frames: whole numbers of its own rate. */
const secondsAt = (take: Take, frame: number) => (frame * take.rate.den) / take.rate.num;

function pixels(canvas: Canvas): Uint8ClampedArray {
  return canvas.getContext('2d').getImageData(0, 0, canvas.width, canvas.height).data;
}

const write = (movie: MovieWriter, canvas: Canvas) => movie.writePixels(new Uint8Array(pixels(canvas).buffer), AV_PIX_FMT_RGBA);

/** Writes one original, and its proxy beside the others, from the same drawing. */
export async function renderTake(take: Take, media: string, proxies: string, tick: Tick): Promise<void> {
  const folder = path.join(media, take.folder);
  mkdirSync(folder, { recursive: true });
  const [width, height] = take.raster;
  const canvas = createCanvas(width, height);
  const ctx = canvas.getContext('2d');
  const base = Math.round(take.rate.num / take.rate.den);
  const file = path.join(folder, take.file);
  if (take.writer === 'png') {
    drawTake(ctx, width, height, take.scene, take.look, 0);
    writeFileSync(file, canvas.toBuffer('image/png'));
    tick();
    return;
  }
  const settings = { rate: take.rate, timecode: take.start, reel: take.reel };
  const movie = take.writer === 'dpx' ? null : openMovieWriter(file, { ...settings, writer: take.writer, raster: { width, height } });
  const small = createCanvas(...PROXY);
  const proxy = take.proxy
    ? openMovieWriter(path.join(proxies, `${take.clip}_proxy.mp4`), {
        ...settings,
        writer: 'long-gop-small',
        raster: { width: PROXY[0], height: PROXY[1] },
      })
    : null;
  for (let n = 0; n < take.frames; n++) {
    await breathe(n);
    drawTake(ctx, width, height, take.scene, take.look, secondsAt(take, n));
    if (n < take.frames - (take.trimmed ?? 0)) {
      if (movie) write(movie, canvas);
      else writeDpx(take, file, canvas, n, base);
    }
    if (proxy) {
      small.getContext('2d').drawImage(canvas, 0, 0, ...PROXY);
      write(proxy, small);
    }
    tick();
  }
  movie?.close();
  proxy?.close();
}

function writeDpx(take: Take, pattern: string, canvas: Canvas, n: number, base: number): void {
  const frame = count(take.start, base) + n;
  const name = path.basename(pattern).replace('%07d', String(86400 + n).padStart(7, '0'));
  const fields = { timecode: label(frame, base), framesPerSecond: take.rate.num / take.rate.den, device: take.reel, name, position: n };
  writeFileSync(path.join(path.dirname(pattern), name), dpxFrame(pixels(canvas), canvas.width, canvas.height, fields));
}

/** The frame of the take seen `k` frames into an event: the demo's own reckoning, not Gemello's. */
function sourceFrame(event: CutEvent, k: number): number {
  const speed = event.speed ?? 1;
  if (speed === 0) return event.at;
  if (speed < 0) return event.at - Math.floor(k * -speed);
  const { rate } = takeOf(event.clip ?? '');
  // The offline system plays footage of another rate in real time: 25 frames of it go by while the cut shows 23.976.
  if (speed === 1 && Math.round(rate.num / rate.den) !== BASE)
    return event.at + Math.floor((k * rate.num * RATE.den) / (rate.den * RATE.num));
  return event.at + Math.floor(k * speed);
}

/** Draws an event's own picture, `k` frames from its record in; k may run past its end under a dissolve. */
function drawEvent(ctx: Ctx, event: CutEvent, k: number): void {
  const [width, height] = REFERENCE;
  if (!event.clip) {
    ctx.fillStyle = 'black';
    ctx.fillRect(0, 0, width, height);
    return;
  }
  const take = takeOf(event.clip);
  ctx.save();
  drawTake(ctx, width, height, take.scene, take.look, secondsAt(take, take.writer === 'png' ? 0 : sourceFrame(event, k)));
  ctx.restore();
}

/** Draws the cut from the scenes themselves: layers, transitions, sizes, title, letterbox, burn-ins; with its guide sound. */
export async function renderReference(file: string, guide: string, tick: Tick): Promise<void> {
  const [width, height] = REFERENCE;
  const movie = openMovieWriter(file, {
    writer: 'long-gop-small',
    raster: { width, height },
    rate: RATE,
    timecode: RECORD_START,
    reel: null,
    sound: [{ path: guide, from: 0, to: (CUT_LENGTH * RATE.den) / RATE.num }],
  });
  const [canvas, under] = [createCanvas(width, height), createCanvas(width, height)];
  const [ctx, underCtx] = [canvas.getContext('2d'), under.getContext('2d')];
  const starts = offsets();
  const main = CUT.filter((e) => e.track === 'V');
  for (let n = 0; n < CUT_LENGTH; n++) {
    await breathe(n);
    const index = main.findIndex((e) => n < (starts.get(e) ?? 0) + e.length);
    const event = main[index] as CutEvent;
    const k = n - (starts.get(event) ?? 0);
    drawMain(ctx, underCtx, under, event, main[index - 1] ?? null, k);
    for (const layer of CUT)
      if (layer.track === 'V2') {
        const into = n - (starts.get(layer) ?? 0);
        if (into < 0 || into >= layer.length) continue;
        if (layer.title) drawTitle(ctx, layer.title, into / layer.length);
        else drawEvent(ctx, layer, into);
      }
    drawBurnIn(ctx, n);
    write(movie, canvas);
    tick();
  }
  movie.close();
}

function drawMain(ctx: Ctx, underCtx: Ctx, under: Canvas, event: CutEvent, previous: CutEvent | null, k: number): void {
  const [width, height] = REFERENCE;
  const { join, reframe } = event;
  ctx.save();
  if (reframe) {
    ctx.translate(width / 2 + reframe.x * width, height / 2 + reframe.y * height);
    ctx.scale(reframe.scale, reframe.scale);
    ctx.translate(-width / 2, -height / 2);
    drawEvent(underCtx, event, k);
    ctx.drawImage(under, 0, 0);
  } else drawEvent(ctx, event, k);
  ctx.restore();
  if (!join || k >= join.frames) return;

  const leaving = join.fromBlack || !previous ? null : previous;
  if (leaving) drawEvent(underCtx, leaving, leaving.length + k);
  else {
    underCtx.fillStyle = 'black';
    underCtx.fillRect(0, 0, width, height);
  }
  const share = (k + 1) / (join.frames + 1);
  if (join.code === 'D') {
    ctx.globalAlpha = 1 - share;
    ctx.drawImage(under, 0, 0);
    ctx.globalAlpha = 1;
  } else ctx.drawImage(under, share * width, 0, width * (1 - share), height, share * width, 0, width * (1 - share), height);
}

function drawTitle(ctx: Ctx, text: string, progress: number): void {
  const [width, height] = REFERENCE;
  ctx.globalAlpha = Math.min(1, progress * 6, (1 - progress) * 6);
  ctx.fillStyle = 'white';
  ctx.font = '30px "Plex Sans"';
  ctx.textAlign = 'center';
  ctx.letterSpacing = '10px';
  ctx.fillText(text, width / 2, height / 2 + 10);
  ctx.letterSpacing = '0px';
  ctx.textAlign = 'left';
  ctx.globalAlpha = 1;
}

function drawBurnIn(ctx: Ctx, n: number): void {
  const [width, height] = REFERENCE;
  ctx.fillStyle = 'black';
  ctx.fillRect(0, 0, width, BAR);
  ctx.fillRect(0, height - BAR, width, BAR);
  ctx.fillStyle = 'rgb(220,220,220)';
  ctx.font = '18px "Plex Mono"';
  ctx.fillText(label(count(RECORD_START) + n), 18, height - 14);
  ctx.fillText('V04  FOR CONFORM', width - 190, height - 14);
  ctx.globalAlpha = 0.22;
  ctx.font = '15px "Plex Sans"';
  ctx.fillText('SALT YEAR · NOT FOR RELEASE', width - 250, BAR + 26);
  ctx.globalAlpha = 1;
}
