import {
  covers,
  type Frame,
  inOrderDrawn,
  isUndrawnWipe,
  type Lay,
  type ListEvent,
  type Part,
  type Picture,
  type Raster,
  snapped,
  wipeMask,
  wipePattern,
} from '@gemello/core';
import type { Frame as VideoFrame } from 'node-av/lib';
import { hasAlpha } from '../engine/reader';
import { type Canvas, clear, layOver, mixInto, newCanvas, paint } from './canvas';
import { place, sizeFor } from './place';
import { isUngraded, type Sources, UNGRADED } from './sources';
import { type CoveredArea, drawBars, drawSlate, drawText } from './stand-ins';

/** What a picture is made of and how it is drawn. */
export interface Composition {
  /** From the bottom up. */
  readonly parts: readonly Part[];
  /** The frame of the cut. */
  readonly frame: Frame;
}

/** What there was to say of a picture when it was drawn. */
export interface Drawing {
  /** Parts of the frame that titles cover, so that a comparison leaves them out. */
  readonly covered: readonly CoveredArea[];
  /** Keys of events whose picture was not there: no original, or no such frame of it. */
  readonly missing: readonly string[];
  /** Keys of events that come in with a wipe whose pattern is not drawn; it was mixed. */
  readonly mixed: readonly string[];
}

interface Draft {
  readonly covered: CoveredArea[];
  readonly missing: string[];
  readonly mixed: string[];
}

/**
 * The one compositor: draws what stands at a record frame, at any size, for screens, stills and renders alike; the proof
 * lays its single shots by the same rules (`luma.ts`). Canvases are kept for the next picture of their size.
 */
export interface Compositor {
  /** Draws onto a canvas of its own, which the next call overwrites. */
  draw(composition: Composition, width: number, height: number): { canvas: Canvas; drawing: Drawing };
  /**
   * Hands over the decoded frame where a picture is nothing but one frame that fills it, ungraded: it need not be drawn
   * to be written. False where it must be drawn.
   */
  through(composition: Composition, width: number, height: number, take: (frame: VideoFrame) => void): boolean;
  close(): void;
}

export function openCompositor(sources: Sources): Compositor {
  let canvases: Canvas[] = [];
  const canvas = (at: number, width: number, height: number): Canvas => {
    const known = canvases[at];
    if (known?.width === width && known.height === height) {
      clear(known);
      return known;
    }
    if (at === 0) canvases = [];
    const made = newCanvas(width, height);
    canvases[at] = made;
    return made;
  };
  return {
    draw(composition, width, height) {
      const target = canvas(0, width, height);
      const drawing: Draft = { covered: [], missing: [], mixed: [] };
      const { parts, frame } = composition;
      const from = lowestSeen(parts, frame, target, sources);
      for (const one of inOrderDrawn(parts.slice(from), (part) => part)) {
        if ('alone' in one) drawPart(target, one.alone, frame, sources, drawing);
        else join(target, one.leaving, one.incoming, frame, sources, drawing, (at) => canvas(at, width, height));
      }
      return { canvas: target, drawing };
    },
    through({ parts, frame }, width, height, take) {
      const at = lowestSeen(parts, frame, { width, height }, sources);
      const part = parts[at];
      if (!part || at !== parts.length - 1 || !isWhole(part, frame, { width, height })) return false;
      const { original } = part.shot;
      if (original === null || sources.alphaOf(original) === true) return false;
      let taken = false;
      // Whether it has an alpha is known once a frame of it was decoded, which may be this one.
      sources.frame(original, part.sourceFrame, useOf(part), (one) => {
        if (hasAlpha(one)) return;
        take(one);
        taken = true;
      });
      return taken;
    },
    close() {
      canvases = [];
      sources.close();
    },
  };
}

/**
 * The place of the lowest part that is seen: the topmost one that hides all below it. Whether a picture has an alpha is
 * only known once one of its frames was decoded; the answer is kept.
 */
function lowestSeen(parts: readonly Part[], frame: Frame, canvas: Raster, sources: Sources): number {
  for (let i = parts.length - 1; i > 0; i--) {
    const part = parts[i] as Part;
    if (part.side !== 'alone') continue;
    const { drawn, original } = part.shot;
    if (drawn === 'black' || drawn === 'bars' || drawn === 'missing') {
      if (part.pose.opacity === 1) return i;
      continue;
    }
    if (drawn !== 'picture' || !original || !covers(snapped(part, frame, canvas), part.pose, canvas)) continue;
    const known = sources.alphaOf(original);
    if (known === undefined) {
      const size = sizeFor(snapped(part, frame, canvas), original.raster.width, original.raster.height);
      if (sources.pixels(original, part.sourceFrame, size, UNGRADED, useOf(part))?.alpha) continue;
      return i;
    }
    if (!known) return i;
  }
  return 0;
}

/** True when a part is a picture as its original has it, laid exactly over the whole canvas. */
function isWhole(part: Part, frame: Frame, canvas: Raster): boolean {
  const { shot, pose } = part;
  if (part.side !== 'alone' || shot.drawn !== 'picture' || !shot.original || pose.opacity < 1) return false;
  if (!isUngraded(shot)) return false;
  return fillsExactly(snapped(part, frame, canvas), shot.original.raster, canvas);
}

/** True when a lay shows all of a picture over all of a canvas, upright. */
export const fillsExactly = ({ a, b, c, d, e, f, crop }: Lay, picture: Raster, canvas: Raster): boolean =>
  b === 0 &&
  c === 0 &&
  e === 0 &&
  f === 0 &&
  near(a * picture.width, canvas.width) &&
  near(d * picture.height, canvas.height) &&
  crop.left === 0 &&
  crop.top === 0 &&
  crop.right === picture.width &&
  crop.bottom === picture.height;

const near = (a: number, b: number): boolean => Math.abs(a - b) < 1e-6;

/** Two sides of a dissolve are read at two places of what may be one file: each has a reader of its own. */
const useOf = (part: Part): string => part.shot.event.key;

function drawPart(canvas: Canvas, part: Part, frame: Frame, sources: Sources, drawing: Draft): void {
  const { shot, pose } = part;
  const { event, original } = shot;
  switch (shot.drawn) {
    case 'nothing':
      return;
    case 'black':
      paint(canvas, [0, 0, 0], pose.opacity === 1 ? null : new Float32Array(canvas.width * canvas.height).fill(pose.opacity));
      return;
    case 'bars':
      drawBars(canvas, pose.opacity);
      return;
    case 'title':
    case 'generator':
      drawTitle(canvas, titleText(event), pose.opacity, drawing);
      return;
    case 'missing':
      drawing.missing.push(event.key);
      drawSlate(canvas, `No original: ${event.clipName || event.fileName || event.reel}`);
      return;
    case 'picture': {
      if (!original) return;
      const { width, height } = original.raster;
      const lay = snapped(part, frame, canvas);
      const pixels = sources.pixels(original, part.sourceFrame, sizeFor(lay, width, height), shot, useOf(part));
      if (pixels) place(canvas, pixels, lay, width, height, pose.opacity);
      else {
        if (!drawing.missing.includes(event.key)) drawing.missing.push(event.key);
        drawSlate(canvas, `${original.fileName} has no frame ${part.sourceFrame}`);
      }
    }
  }
}

/** What stands for a title or a generator: its name, as the list has it. */
export const titleText = ({ clipName, reel, kind }: ListEvent): string => clipName || reel || kind;

/** A title lies plainly over what is there; where nothing is, it stands on a slate. */
function drawTitle(canvas: Canvas, text: string, opacity: number, drawing: Draft): void {
  if (isEmpty(canvas)) drawSlate(canvas, text);
  else drawing.covered.push(drawText(canvas, text, opacity));
}

/** True when nothing was drawn, not even in a corner. Mostly the first pixels tell. */
function isEmpty({ data }: Canvas): boolean {
  for (let i = 3; i < data.length; i += 4) if ((data[i] as number) > 0) return false;
  return true;
}

/**
 * Both sides of a transition, over what lies below: mixed, wiped, or for a key the incoming over the leaving one with
 * its own alpha. Without a leaving side it comes in from what lies below, which is black where nothing does.
 */
function join(
  canvas: Canvas,
  leaving: Part | null,
  incoming: Part,
  frame: Frame,
  sources: Sources,
  drawing: Draft,
  fresh: (at: number) => Canvas,
): void {
  const [a, b] = [fresh(1), fresh(2)];
  if (leaving) drawPart(a, leaving, frame, sources, drawing);
  drawPart(b, incoming, frame, sources, drawing);
  const transition = incoming.join;
  if (!transition) return;
  if (transition.type === 'key') {
    layOver(a, b);
  } else {
    const pattern = wipePattern(transition);
    if (isUndrawnWipe(transition)) drawing.mixed.push(incoming.shot.event.key);
    if (pattern) {
      const mask = wipeMask(pattern, transition.look, incoming.share, canvas.width, canvas.height);
      mixInto(a, b, mask.incoming);
      if (mask.border && transition.look?.border) paint(a, transition.look.border.colour, mask.border);
    } else mixInto(a, b, incoming.share);
  }
  layOver(canvas, a);
}

/** What stands at a frame, as something that can be drawn. */
export const compositionOf = ({ parts, count }: Picture, frame: Frame): Composition => ({ parts: parts.slice(0, count), frame });
