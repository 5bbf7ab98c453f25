import type { Finding } from '@gemello/core';
import { newPlate, type Plate, valueAt } from './plates';
import { RASTER } from './sources';

/** How the reference really shows an event; everything but what a fault changes is as the list has it. */
export interface Shown {
  readonly take: number;
  /** Source frame that stands at record offset k from the event's record in. */
  readonly sourceAt: (k: number) => number;
  readonly pose: { readonly scale: number; readonly x: number; readonly y: number; readonly rotation: number };
  readonly flip: '' | 'horizontal' | 'vertical';
  readonly black: boolean;
  /** Something drawn over it, as shares from the top left. */
  readonly over: { readonly x: number; readonly y: number; readonly width: number; readonly height: number } | null;
}

/** What the picture of an event is at a record offset, in the frame of the cut: crop, flip, scale, rotate about its centre, move. */
export function drawn({ sourceAt, pose, flip, black, over }: Shown, plates: readonly Plate[], k: number): Plate {
  const { width, height } = RASTER;
  const out = newPlate(width, height);
  if (black) return out;
  const plate = plates[Math.min(plates.length - 1, Math.max(0, Math.floor(sourceAt(k))))] as Plate;
  const plain = pose.scale === 1 && pose.x === 0 && pose.y === 0 && pose.rotation === 0 && flip === '';
  if (plain) out.data.set(plate.data);
  else {
    const angle = (-pose.rotation * Math.PI) / 180;
    const [cos, sin] = [Math.cos(angle) / pose.scale, Math.sin(angle) / pose.scale];
    for (let y = 0, at = 0; y < height; y++)
      for (let x = 0; x < width; x++, at++) {
        const [u, v] = [x + 0.5 - width / 2 - pose.x * width, y + 0.5 - height / 2 - pose.y * height];
        const px = (flip === 'horizontal' ? -1 : 1) * (u * cos - v * sin) + width / 2 - 0.5;
        const py = (flip === 'vertical' ? -1 : 1) * (u * sin + v * cos) + height / 2 - 0.5;
        if (px >= -0.5 && px <= width - 0.5 && py >= -0.5 && py <= height - 0.5) out.data[at] = valueAt(plate, px, py);
      }
  }
  if (over) {
    const [left, top] = [Math.round(over.x * width), Math.round(over.y * height)];
    for (let y = 0; y < over.height * height; y++)
      for (let x = 0; x < over.width * width; x++) {
        const letter = (Math.floor(x / 7) * 7 + Math.floor(y / 9) * 13) % 5 < 2 && x % 7 < 4 && y % 9 < 6;
        const at = (top + y) * width + left + x;
        if (at < out.data.length) out.data[at] = letter ? 235 : (out.data[at] as number) * 0.25;
      }
  }
  return out;
}

/** A fault that was made, as the proof is to tell it. */
export type Truth = Finding | null;

const near = (a: number, b: number, by: number): boolean => Math.abs(a - b) <= by;

/** Whether a finding tells a fault as exactly as is asked: frames to the frame, scale to 1 %, place to 0.5 % of the width, rotation to 0.3 degrees. */
export function tells(finding: Finding, truth: Finding): boolean {
  if (finding.kind !== truth.kind) return false;
  switch (truth.kind) {
    case 'slipped':
      return (finding as typeof truth).frames === truth.frames;
    case 'cut-moved': {
      const f = finding as typeof truth;
      return f.edge === truth.edge && f.frames === truth.frames;
    }
    case 'wrong-picture': {
      const f = finding as typeof truth;
      return f.path === truth.path && f.sourceStartFrame === truth.sourceStartFrame;
    }
    case 'reframed': {
      const f = finding as typeof truth;
      return (
        near(f.scale / truth.scale, 1, 0.01) &&
        near(f.x, truth.x, 0.005) &&
        near(f.y, truth.y, 0.009) &&
        near(f.rotation, truth.rotation, 0.3)
      );
    }
    case 'mirrored':
      return (finding as typeof truth).axis === truth.axis;
    case 'speed-differs': {
      const f = finding as typeof truth;
      // Of a speed that changes on the way that it does is asked for, and its mean to a twentieth.
      if (truth.keys) return f.keys !== undefined && near(f.measured, truth.measured, 0.05);
      return near(f.measured, truth.measured, Math.max(0.01 * Math.abs(truth.measured), 0.004));
    }
    case 'transition-differs': {
      const f = finding as typeof truth;
      const frames = (t: typeof truth.measured) => t?.durationFrames ?? 0;
      const pattern = (t: typeof truth.measured) => `${t?.type} ${t?.wipeCode} ${t?.reverse ?? false} ${t?.to}`;
      return pattern(f.measured) === pattern(truth.measured) && near(frames(f.measured), frames(truth.measured), 1);
    }
    case 'layer-missing': {
      const f = finding as typeof truth;
      return f.side === truth.side && overlap(f.area, truth.area) >= 0.5;
    }
    case 'picture-missing':
      return (finding as typeof truth).side === truth.side;
    case 'cannot-tell':
      return true;
  }
}

interface Box {
  readonly x: number;
  readonly y: number;
  readonly width: number;
  readonly height: number;
}

/** How much two areas share of what they cover together. */
function overlap(a: Box, b: Box): number {
  const wide = Math.min(a.x + a.width, b.x + b.width) - Math.max(a.x, b.x);
  const high = Math.min(a.y + a.height, b.y + b.height) - Math.max(a.y, b.y);
  const both = Math.max(0, wide) * Math.max(0, high);
  return both / (a.width * a.height + b.width * b.height - both);
}
