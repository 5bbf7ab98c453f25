import type { Transition, WipeLook } from '../edit';

/**
 * Where on the frame a wipe's incoming picture is seen first and last: 0 where it begins, 1 where it ends. `x` and `y`
 * go from 0 to 1, right and down; `aspect` is the frame's width over its height, so that circles are round.
 */
type Pattern = (x: number, y: number, aspect: number) => number;

const far = (v: number) => 2 * Math.abs(v - 0.5);
/** Share of a full turn from a direction, clockwise; the frame's own shape is taken for square. */
const clock = (from: number) => (x: number, y: number, aspect: number) =>
  (((Math.atan2(y - 0.5, (x - 0.5) * aspect) / (2 * Math.PI) - from) % 1) + 1) % 1;
// Asked of every point of a picture, where Math.hypot takes thirty times as long as a root.
const circle = (wide: number, high: number) => (x: number, y: number, aspect: number) =>
  2 * Math.sqrt((((x - 0.5) * aspect * wide) ** 2 + ((y - 0.5) * high) ** 2) / ((aspect * wide) ** 2 + high ** 2));

/**
 * Patterns by their SMPTE number (SMPTE ST 258 names wipes by it; the list of numbers and shapes as W3C SMIL 2.0 gives
 * it in its taxonomy of transitions; from memory). Run in reverse, what grows shrinks, so that bars and diagonals go in
 * all eight directions.
 */
const PATTERNS: Readonly<Record<number, Pattern>> = {
  1: (x) => x,
  2: (_, y) => y,
  3: (x, y) => Math.max(x, y),
  4: (x, y) => Math.max(1 - x, y),
  5: (x, y) => Math.max(1 - x, 1 - y),
  6: (x, y) => Math.max(x, 1 - y),
  7: (x, y) => Math.max(1 - far(x), 1 - far(y)),
  8: (x, y) => Math.max(far((x * 2) % 1), far((y * 2) % 1)),
  21: (x) => far(x),
  22: (_, y) => far(y),
  23: (x, y) => Math.max(far(x), y),
  24: (x, y) => Math.max(1 - x, far(y)),
  25: (x, y) => Math.max(far(x), 1 - y),
  26: (x, y) => Math.max(x, far(y)),
  41: (x, y) => (x + y) / 2,
  42: (x, y) => (1 - x + y) / 2,
  45: (x, y) => Math.abs(x + y - 1),
  46: (x, y) => Math.abs(x - y),
  101: (x, y) => Math.max(far(x), far(y)),
  102: (x, y) => (far(x) + far(y)) / 2,
  119: circle(1, 1),
  120: circle(0.5, 1),
  121: circle(1, 0.5),
  201: clock(-0.25),
  202: clock(0),
  203: clock(0.25),
  204: clock(0.5),
};

/** The numbers of the patterns that are drawn. */
export const WIPE_CODES: readonly number[] = Object.keys(PATTERNS).map(Number);

/** The pattern of a transition; null where it is no wipe, or one whose pattern is not drawn and which is mixed instead. */
export function wipePattern({ type, wipeCode }: Pick<Transition, 'type' | 'wipeCode'>): Pattern | null {
  if (type !== 'wipe') return null;
  return PATTERNS[Number.parseInt(wipeCode || '1', 10)] ?? null;
}

/** True for a wipe whose pattern is not drawn, so that it is shown as a dissolve. */
export const isUndrawnWipe = (join: Transition): boolean => join.type === 'wipe' && wipePattern(join) === null;

const PLAIN: WipeLook = { reverse: false, softness: 0, border: null };

/**
 * How much of the incoming picture is seen at each pixel of a frame, 0..1, and how much of the border lies over both.
 * `share` is how far the wipe has come, 0..1. Edges are as soft as a pixel at least. Rows from the top.
 */
export function wipeMask(
  pattern: Pattern,
  look: WipeLook = PLAIN,
  share: number,
  width: number,
  height: number,
): { incoming: Float32Array; border: Float32Array | null } {
  const incoming = new Float32Array(width * height);
  const edge = look.border ? new Float32Array(width * height) : null;
  const half = (look.border?.width ?? 0) / 2;
  const soft = Math.max(look.softness, 1 / width);
  // The edge comes in from outside the frame and leaves it altogether.
  const reach = soft / 2 + half;
  const at = share * (1 + 2 * reach) - reach;
  for (let row = 0, i = 0; row < height; row++) {
    const y = (row + 0.5) / height;
    for (let column = 0; column < width; column++, i++) {
      const found = pattern((column + 0.5) / width, y, width / height);
      const ahead = at - (look.reverse ? 1 - found : found);
      incoming[i] = ramp(ahead / soft + 0.5);
      if (edge) edge[i] = ramp((half - Math.abs(ahead)) / soft + 0.5);
    }
  }
  return { incoming, border: edge };
}

const ramp = (v: number): number => Math.min(1, Math.max(0, v));
