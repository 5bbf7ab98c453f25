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

/** The reels of what is shown, by name; clips without timecode, stills and light copies are left out. */
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

/** The lane a clip is drawn in where there is room for `lanes`. */
export const laneOf = (clip: PlacedClip, lanes: number): number => Math.min(clip.lane, lanes - 1);
