import { type Rate, sameSpeed } from '@gemello/core/time';
import type { OriginalRow, UsedSpan } from '../../../contract';

/** A clip on its reel's line of timecode. */
export interface PlacedClip {
  readonly path: string;
  readonly fileName: string;
  readonly start: number;
  readonly frames: number;
  readonly here: boolean;
  readonly used: readonly UsedSpan[];
  readonly lane: number;
  readonly overlaps: boolean;
}

/** One reel: its clips in order of timecode, over the span they cover. Clips of another rate make a line of their own. */
export interface ReelLine {
  readonly key: string;
  readonly reel: string;
  readonly rate: Rate;
  readonly from: number;
  readonly to: number;
  readonly clips: readonly PlacedClip[];
  readonly lanes: number;
  readonly gaps: number;
  readonly overlaps: number;
}

/** The reels of what is shown, by name; clips without timecode, stills and proxies are left out. */
export function reelLines(originals: readonly OriginalRow[]): ReelLine[] {
  const groups = new Map<string, OriginalRow[]>();
  for (const o of originals) {
    if (o.start === null || o.kind === 'still' || o.proxyOf) continue;
    const key = `${o.reel.toLowerCase()} ${o.rate.num}/${o.rate.den}`;
    const group = groups.get(key);
    if (group) group.push(o);
    else groups.set(key, [o]);
  }
  return [...groups]
    .map(([key, clips]) => lineOf(key, clips))
    .sort((a, b) => (a.reel < b.reel ? -1 : a.reel > b.reel ? 1 : sameSpeed(a.rate, b.rate) ? 0 : 1));
}

function lineOf(key: string, clips: OriginalRow[]): ReelLine {
  const inOrder = [...clips].sort((a, b) => (a.start ?? 0) - (b.start ?? 0));
  const ends: number[] = [];
  let [gaps, furthest] = [0, Number.NEGATIVE_INFINITY];
  const placed = inOrder.map((o, i): PlacedClip => {
    const start = o.start ?? 0;
    const end = start + o.frames;
    if (i > 0 && start > furthest) gaps++;
    const free = ends.findIndex((e) => e <= start);
    const lane = free < 0 ? ends.length : free;
    ends[lane] = end;
    const before = i > 0 && start < furthest;
    const after = (inOrder[i + 1]?.start ?? Number.POSITIVE_INFINITY) < end;
    furthest = Math.max(furthest, end);
    return { path: o.path, fileName: o.fileName, start, frames: o.frames, here: o.here, used: o.usedBy, lane, overlaps: before || after };
  });
  const first = inOrder[0] as OriginalRow;
  return {
    key,
    reel: first.reel,
    rate: first.rate,
    from: first.start ?? 0,
    to: furthest,
    clips: placed,
    lanes: ends.length,
    gaps,
    overlaps: placed.filter((c) => c.overlaps).length,
  };
}

/** Width of a gap that is drawn short, in pixels. */
const BREAK = 40;

/** Where frames of a reel stand across a width: clips to scale with one another, long gaps between them drawn short. */
export interface ReelScale {
  /** Frames and the pixels they stand at, in pairs, for a scale that runs evenly between them. */
  readonly frames: readonly number[];
  readonly pixels: readonly number[];
  /** The gaps that were drawn short: from where to where in pixels, and how many frames they are long. */
  readonly breaks: readonly { readonly from: number; readonly to: number; readonly frames: number }[];
}

/** Lays a reel across `width` pixels. Gaps that would be wider than a break are drawn as one. */
export function reelScale(line: ReelLine, width: number): ReelScale {
  const parts: { from: number; to: number }[] = [];
  for (const clip of line.clips) {
    const last = parts.at(-1);
    if (last && clip.start <= last.to) last.to = Math.max(last.to, clip.start + clip.frames);
    else parts.push({ from: clip.start, to: clip.start + clip.frames });
  }
  const covered = parts.reduce((sum, p) => sum + p.to - p.from, 0);
  const gap = parts.length > 1 ? Math.min(BREAK, (width * 0.4) / (parts.length - 1)) : 0;
  const perFrame = Math.max(0, width - gap * (parts.length - 1)) / Math.max(1, covered);
  const [frames, pixels]: [number[], number[]] = [[], []];
  const breaks: { from: number; to: number; frames: number }[] = [];
  let at = 0;
  parts.forEach((part, i) => {
    const before = parts[i - 1];
    if (before) {
      const wide = Math.min(gap, (part.from - before.to) * perFrame);
      if (wide === gap) breaks.push({ from: at, to: at + wide, frames: part.from - before.to });
      at += wide;
    }
    frames.push(part.from, part.to);
    pixels.push(at, at + (part.to - part.from) * perFrame);
    at += (part.to - part.from) * perFrame;
  });
  return { frames, pixels, breaks };
}

/** The lane a clip is drawn in where there is room for `lanes`. */
export const laneOf = (clip: PlacedClip, lanes: number): number => Math.min(clip.lane, lanes - 1);
