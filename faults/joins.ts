import type { Passage, Transition } from '@gemello/core';
import { newPlate, type Plate } from './plates';

/** Whether the incoming picture is seen at a point of the frame (shares, right and down) when a wipe has come so far, 0..1. */
type Wiped = (x: number, y: number, come: number) => boolean;

const WIDER = 16 / 9;

/**
 * Wipes as this laboratory draws them, with the number by which they are known (SMPTE ST 258; the shapes as W3C SMIL 2.0 gives
 * them, from memory), and whether they run the other way.
 */
const PATTERNS = [
  { code: '001', reverse: false, wiped: (x, _, come) => x < come },
  { code: '001', reverse: true, wiped: (x, _, come) => x > 1 - come },
  { code: '002', reverse: false, wiped: (_, y, come) => y < come },
  { code: '119', reverse: false, wiped: (x, y, come) => Math.hypot((x - 0.5) * WIDER, y - 0.5) < (come * Math.hypot(WIDER, 1)) / 2 },
  { code: '041', reverse: false, wiped: (x, y, come) => x + y < 2 * come },
] as const satisfies readonly { code: string; reverse: boolean; wiped: Wiped }[];

export type Pattern = (typeof PATTERNS)[number];

/** The patterns one after the other, and round again. */
export const patternAt = (n: number): Pattern => PATTERNS[n % PATTERNS.length] as Pattern;

/** How a reference goes over into an event, from its record in on. */
export type Join =
  | { readonly kind: 'dissolve'; readonly frames: number }
  | { readonly kind: 'fade'; readonly frames: number }
  | { readonly kind: 'wipe'; readonly frames: number; readonly pattern: Pattern };

/** The picture `into` frames after a transition began. */
export function joined(join: Join, into: number, old: Plate, picture: Plate): Plate {
  const come = (into + 1) / (join.frames + 1);
  const { width, height } = picture;
  const out = newPlate(width, height);
  for (let y = 0, at = 0; y < height; y++)
    for (let x = 0; x < width; x++, at++) {
      const [a, b] = [join.kind === 'fade' ? 0 : (old.data[at] as number), picture.data[at] as number];
      if (join.kind === 'wipe') out.data[at] = join.pattern.wiped((x + 0.5) / width, (y + 0.5) / height, come) ? b : a;
      else out.data[at] = a * (1 - come) + b * come + 0.5;
    }
  return out;
}

/** A picture of which so much has gone into black. */
export const fading = (picture: Plate, gone: number): Plate => ({ ...picture, data: picture.data.map((v) => v * (1 - gone) + 0.5) });

const typeOf = (join: Join) => (join.kind === 'wipe' ? 'wipe' : 'dissolve');
const isReverse = (join: Join): boolean => join.kind === 'wipe' && join.pattern.reverse;
const codeOf = (join: Join): string | null => (join.kind === 'wipe' ? join.pattern.code : null);

/** As the list would have it. */
export const transitionOf = (join: Join): Transition => ({
  type: typeOf(join),
  duration: join.frames,
  before: 0,
  from: join.kind === 'fade' ? 'black' : 'previous',
  wipeCode: codeOf(join),
  ...(isReverse(join) ? { look: { reverse: true, softness: 0, border: null } } : {}),
});

/** As the proof is to tell it. */
export const passageOf = (join: Join): Passage => ({
  type: typeOf(join),
  durationFrames: join.frames,
  offsetFrames: 0,
  wipeCode: codeOf(join),
  ...(isReverse(join) ? { reverse: true } : {}),
  ...(join.kind === 'fade' ? { from: 'black' as const } : {}),
});
