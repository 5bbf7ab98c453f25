import type { SKRSContext2D } from '@napi-rs/canvas';

/** Scenes are drawn on a stage of 16 x 9 units, whatever the raster. `t` is seconds from the take's first frame. */
export type Ctx = SKRSContext2D;

/** What sets one take of a scene apart: light, place of the camera, and the seed of everything scattered. */
export interface TakeLook {
  readonly seed: number;
  /** Camera drift in stage units per second. */
  readonly driftX: number;
  readonly driftY: number;
  /** Magnification at the start, and its growth per second. */
  readonly zoom: number;
  readonly push: number;
  /** Time of day: 0 night, 0.25 dawn, 0.5 noon, 0.75 dusk. */
  readonly hour: number;
}

export type Scene = (ctx: Ctx, t: number, look: TakeLook) => void;

/** A number 0..1 that depends only on its arguments (integer hash; no state, so any frame can be drawn alone). */
export function scatter(seed: number, index: number): number {
  let h = (seed * 374761393 + index * 668265263) | 0;
  h = Math.imul(h ^ (h >>> 13), 1274126177);
  return ((h ^ (h >>> 16)) >>> 0) / 4294967296;
}

const mix = (a: number, b: number, k: number) => a + (b - a) * k;

/** Colours of the day by hour: sky above, sky at the horizon, land. */
const DAY: [number, [number, number, number], [number, number, number], [number, number, number]][] = [
  [0, [14, 20, 34], [34, 44, 60], [18, 22, 28]],
  [0.25, [70, 92, 128], [242, 178, 128], [66, 58, 58]],
  [0.5, [88, 138, 178], [206, 222, 224], [118, 110, 92]],
  [0.75, [62, 62, 102], [232, 128, 88], [58, 46, 52]],
  [1, [14, 20, 34], [34, 44, 60], [18, 22, 28]],
];

/** The three colours at an hour, as CSS. `gain` brightens or darkens. */
export function light(
  hour: number,
  gain = 1,
): { sky: string; horizon: string; land: string; rgb: (which: 1 | 2 | 3, k?: number) => string } {
  let at = 0;
  while (at < DAY.length - 2 && (DAY[at + 1]?.[0] ?? 1) < hour) at++;
  const [a, b] = [DAY[at], DAY[at + 1]] as const;
  const k = a && b ? (hour - a[0]) / (b[0] - a[0]) : 0;
  const rgb = (which: 1 | 2 | 3, dim = 1) => {
    const [from, to] = [a?.[which], b?.[which]] as [number[], number[]];
    return `rgb(${from.map((v, i) => Math.round(Math.min(255, mix(v, to[i] ?? 0, k) * gain * dim))).join(',')})`;
  };
  return { sky: rgb(1), horizon: rgb(2), land: rgb(3), rgb };
}

/** Fills the stage, well past its edges, with a vertical run of colours. */
export function backdrop(ctx: Ctx, stops: readonly [number, string][], top = -3, bottom = 12): void {
  const gradient = ctx.createLinearGradient(0, top, 0, bottom);
  for (const [at, colour] of stops) gradient.addColorStop(at, colour);
  ctx.fillStyle = gradient;
  ctx.fillRect(-8, top, 32, bottom - top);
}

/** A soft round light. */
export function glow(ctx: Ctx, x: number, y: number, radius: number, colour: string, strength: number): void {
  const gradient = ctx.createRadialGradient(x, y, 0, x, y, radius);
  gradient.addColorStop(0, colour.replace('rgb(', 'rgba(').replace(')', `,${strength})`));
  gradient.addColorStop(1, colour.replace('rgb(', 'rgba(').replace(')', ',0)'));
  ctx.fillStyle = gradient;
  ctx.fillRect(x - radius, y - radius, radius * 2, radius * 2);
}

/** Fills a closed shape given as points. */
export function shape(ctx: Ctx, points: readonly (readonly [number, number])[], colour: string): void {
  ctx.fillStyle = colour;
  ctx.beginPath();
  points.forEach(([x, y], i) => {
    if (i === 0) ctx.moveTo(x, y);
    else ctx.lineTo(x, y);
  });
  ctx.closePath();
  ctx.fill();
}

/** A line of given width. */
export function stroke(ctx: Ctx, x0: number, y0: number, x1: number, y1: number, width: number, colour: string): void {
  ctx.strokeStyle = colour;
  ctx.lineWidth = width;
  ctx.beginPath();
  ctx.moveTo(x0, y0);
  ctx.lineTo(x1, y1);
  ctx.stroke();
}

/** Drifting clouds between two heights. */
export function clouds(ctx: Ctx, t: number, look: TakeLook, top: number, bottom: number, speed: number, colour: string): void {
  for (let i = 0; i < 14; i++) {
    const depth = 0.5 + scatter(look.seed, i + 40);
    const x = ((((scatter(look.seed, i) * 30 + t * speed * depth) % 30) + 30) % 30) - 7;
    const y = mix(top, bottom, scatter(look.seed, i + 20));
    ctx.save();
    ctx.translate(x, y);
    ctx.scale(2.4 * depth, 0.32 * depth);
    glow(ctx, 0, 0, 1, colour, 0.55);
    ctx.restore();
  }
}

/** A worker in silhouette, feet at x, y; `lean` and `reach` move the body and the tool. */
export function figure(ctx: Ctx, x: number, y: number, size: number, lean: number, reach: number, colour: string): void {
  ctx.save();
  ctx.translate(x, y);
  ctx.scale(size, size);
  ctx.lineCap = 'round';
  stroke(ctx, -0.12, 0, -0.02 + lean * 0.2, -0.55, 0.13, colour);
  stroke(ctx, 0.16, 0, 0.02 + lean * 0.2, -0.55, 0.13, colour);
  stroke(ctx, lean * 0.2, -0.55, lean * 0.55, -1.1, 0.26, colour);
  ctx.fillStyle = colour;
  ctx.beginPath();
  ctx.arc(lean * 0.66, -1.38, 0.15, 0, Math.PI * 2);
  ctx.fill();
  ctx.fillRect(lean * 0.66 - 0.24, -1.49, 0.48, 0.06);
  stroke(ctx, lean * 0.5, -1.02, 0.55 + reach * 0.35, -0.72, 0.09, colour);
  stroke(ctx, 0.1 + reach * 0.2, -0.95, 1.5 + reach * 0.8, -0.04, 0.045, colour);
  stroke(ctx, 1.4 + reach * 0.8, 0, 1.62 + reach * 0.8, -0.1, 0.09, colour);
  ctx.restore();
}
