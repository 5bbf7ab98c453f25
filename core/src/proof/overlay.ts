import { GRID, GRID_SIZE, type Luma, type Mask } from './pictures';

/** Blocks that pictures are held against each other by, 6 x 6 points each. */
const BLOCK = 6;
const WIDE = GRID.width / BLOCK;
const HIGH = GRID.height / BLOCK;
export const BLOCKS = WIDE * HIGH;

/** Which blocks of the reference show something that the source does not explain: 1 where they do. */
export type Blocks = Uint8Array;

/** A block below this agreement, and with so many times the usual error, shows something else. */
const UNLIKE = 0.5;
const TIMES = 6;
const FLAT = 30;

/**
 * Holds the pictures of an event against what should stand there, block by block over all of its frames: what agrees
 * elsewhere and not here has something laid over it.
 */
export function unexplained(references: readonly Luma[], sources: readonly Luma[], mask: Mask): Blocks {
  const sums = Array.from({ length: 6 }, () => new Float64Array(BLOCKS));
  const [rr, ss, rs, r1, s1, nn] = sums as [Float64Array, Float64Array, Float64Array, Float64Array, Float64Array, Float64Array];
  references.forEach((reference, k) => {
    const source = sources[k] as Luma;
    for (let at = 0; at < GRID_SIZE; at++) {
      if (!mask[at]) continue;
      const b = blockOf(at);
      const [r, s] = [reference[at] as number, source[at] as number];
      rr[b] = (rr[b] as number) + r * r;
      ss[b] = (ss[b] as number) + s * s;
      rs[b] = (rs[b] as number) + r * s;
      r1[b] = (r1[b] as number) + r;
      s1[b] = (s1[b] as number) + s;
      nn[b] = (nn[b] as number) + 1;
    }
  });
  // One straight line from source values to reference values for all blocks: temporary grades are smooth.
  const total = (v: Float64Array) => v.reduce((a, b) => a + b, 0);
  const [n, sr, sss] = [total(nn), total(r1), total(s1)];
  if (n === 0) return new Uint8Array(BLOCKS);
  const gain = (total(rs) - (sr * sss) / n) / Math.max(1, total(ss) - (sss * sss) / n);
  const offset = (sr - gain * sss) / n;
  const errors = new Float64Array(BLOCKS);
  const like = new Float64Array(BLOCKS).fill(1);
  for (let b = 0; b < BLOCKS; b++) {
    const c = nn[b] as number;
    if (c === 0) continue;
    const [r, s] = [(r1[b] as number) / c, (s1[b] as number) / c];
    errors[b] =
      ((rr[b] as number) +
        gain * gain * (ss[b] as number) -
        2 * gain * (rs[b] as number) -
        2 * offset * (r1[b] as number) +
        2 * gain * offset * (s1[b] as number)) /
        c +
      offset * offset;
    const [vr, vs] = [(rr[b] as number) / c - r * r, (ss[b] as number) / c - s * s];
    like[b] = ((rs[b] as number) / c - r * s) / Math.sqrt(Math.max(1, vr) * Math.max(1, vs));
  }
  const there = [...errors].filter((_, b) => (nn[b] as number) > 0).sort((a, b) => a - b);
  const usual = Math.max(FLAT, there[there.length >> 1] ?? 0);
  const out = new Uint8Array(BLOCKS);
  for (let b = 0; b < BLOCKS; b++)
    out[b] = (nn[b] as number) > 0 && (like[b] as number) < UNLIKE && (errors[b] as number) > TIMES * usual ? 1 : 0;
  return out;
}

const blockOf = (at: number): number => Math.floor(Math.floor(at / GRID.width) / BLOCK) * WIDE + Math.floor((at % GRID.width) / BLOCK);

/** What lies over so many events alike is the reference's own: a burn-in, a watermark. */
const ALIKE = 3;
/** Groups of blocks are alike where they share so much of what both cover. */
const SAME_GROUP = 0.6;

/**
 * The mask less what the reference prints over events alike: the blocks that a third of the events show, three at the least, with
 * those beside them that a third as many do, since a faint print is lost over some pictures; and whole groups that are alike in three
 * events.
 */
export function withoutPrinted(mask: Mask, events: readonly Blocks[]): Mask {
  const counts = Array.from({ length: BLOCKS }, (_, b) => events.reduce((sum, e) => sum + (e[b] as number), 0));
  const needed = Math.max(ALIKE, Math.ceil(events.length / 3));
  const seeds = counts.flatMap((count, b) => (count >= needed ? [b] : []));
  const printed = new Set([...grown(seeds, (b) => (counts[b] as number) >= Math.max(ALIKE, needed / 3)), ...groupsAlike(events)]);
  return mask.map((seen, at) => (printed.has(blockOf(at)) ? 0 : seen));
}

/** Blocks of groups that lie over three events alike. */
function groupsAlike(events: readonly Blocks[]): number[] {
  const groups = events.flatMap((blocks, event) => groupsOf(blocks).map((group) => ({ event, group: new Set(group) })));
  const alike = (a: ReadonlySet<number>, b: ReadonlySet<number>) => {
    const shared = [...a].filter((block) => b.has(block)).length;
    return shared >= SAME_GROUP * (a.size + b.size - shared);
  };
  return groups.flatMap(({ group }) => {
    const others = groups.filter((o) => alike(group, o.group));
    return new Set(others.map((o) => o.event)).size >= ALIKE ? [...group] : [];
  });
}

/** A part of the frame, as shares from its upper left corner. */
export interface Box {
  readonly x: number;
  readonly y: number;
  readonly width: number;
  readonly height: number;
}

/** How far beyond the blocks of a group its edges are looked for, in points. */
const MARGIN = 9;
/** A point belongs to what lies over the picture when its error is so many times the usual. */
const POINT_TIMES = 4;

/** And at least this share of what is strong in the group. */
const OF_STRONG = 0.2;

/** What lies over the pictures of an event, as a box: the largest group of blocks, its edges told point by point. Null where there is none. */
export function layerBox(references: readonly Luma[], sources: readonly Luma[], mask: Mask): Box | null {
  const group = largestGroup(unexplained(references, sources, mask));
  if (!group) return null;
  const errors = new Float64Array(GRID_SIZE);
  references.forEach((reference, k) => {
    const source = sources[k] as Luma;
    let [r1, s1, rs, ss, n] = [0, 0, 0, 0, 0];
    for (let i = 0; i < GRID_SIZE; i++) {
      if (!mask[i] || isIn(group, i, 0)) continue;
      const [r, s] = [reference[i] as number, source[i] as number];
      r1 += r;
      s1 += s;
      rs += r * s;
      ss += s * s;
      n++;
    }
    const gain = n > 0 ? (rs - (r1 * s1) / n) / Math.max(1, ss - (s1 * s1) / n) : 1;
    const offset = n > 0 ? (r1 - gain * s1) / n : 0;
    for (let i = 0; i < GRID_SIZE; i++)
      if (mask[i]) errors[i] = (errors[i] as number) + ((reference[i] as number) - gain * (source[i] as number) - offset) ** 2;
  });
  const outside = [...errors].filter((_, i) => mask[i] && !isIn(group, i, MARGIN)).sort((a, b) => a - b);
  const inside = [...errors].filter((_, i) => mask[i] && isIn(group, i, 0)).sort((a, b) => a - b);
  const usual = Math.max(
    FLAT * references.length,
    outside[Math.floor(outside.length * 0.7)] ?? 0,
    ((inside[Math.floor(inside.length * 0.8)] ?? 0) * OF_STRONG) / POINT_TIMES,
  );
  const rows = new Uint16Array(GRID.height);
  const columns = new Uint16Array(GRID.width);
  for (let i = 0; i < GRID_SIZE; i++) {
    if ((errors[i] as number) < POINT_TIMES * usual || !isIn(group, i, MARGIN)) continue;
    const [x, y] = [i % GRID.width, Math.floor(i / GRID.width)];
    rows[y] = (rows[y] as number) + 1;
    columns[x] = (columns[x] as number) + 1;
  }
  const [top, bottom] = extent(rows, OF_LINE * group.width * GRID.width);
  const [left, right] = extent(columns, OF_LINE * group.height * GRID.height);
  if (bottom <= top || right <= left) return group;
  return { x: left / GRID.width, y: top / GRID.height, width: (right - left) / GRID.width, height: (bottom - top) / GRID.height };
}

/** A row or column belongs to it when so much of it does. */
const OF_LINE = 0.2;

/** Where a line of counts begins and ends, those below `least` aside. */
function extent(counts: Uint16Array, least: number): [number, number] {
  let [from, to] = [0, counts.length];
  while (from < to && (counts[from] as number) < least) from++;
  while (to > from && (counts[to - 1] as number) < least) to--;
  return [from, to];
}

function isIn({ x, y, width, height }: Box, at: number, margin: number): boolean {
  const [px, py] = [at % GRID.width, Math.floor(at / GRID.width)];
  return (
    px >= x * GRID.width - margin &&
    px < (x + width) * GRID.width + margin &&
    py >= y * GRID.height - margin &&
    py < (y + height) * GRID.height + margin
  );
}

/** Blocks with those that touch them and are `of` the same, and so on. */
function grown(from: readonly number[], of: (block: number) => boolean): number[] {
  const found = new Set(from);
  const pending = [...from];
  for (let b = pending.pop(); b !== undefined; b = pending.pop()) {
    const [x, y] = [b % WIDE, Math.floor(b / WIDE)];
    for (let j = Math.max(0, y - 1); j < Math.min(HIGH, y + 2); j++)
      for (let i = Math.max(0, x - 1); i < Math.min(WIDE, x + 2); i++) {
        const p = j * WIDE + i;
        if (found.has(p) || !of(p)) continue;
        found.add(p);
        pending.push(p);
      }
  }
  return [...found];
}

/** The groups of two blocks and more that touch each other. */
function groupsOf(blocks: Blocks): number[][] {
  const seen = new Set<number>();
  const groups: number[][] = [];
  for (let start = 0; start < BLOCKS; start++) {
    if (!blocks[start] || seen.has(start)) continue;
    const group = grown([start], (b) => blocks[b] === 1);
    for (const b of group) seen.add(b);
    if (group.length > 1) groups.push(group);
  }
  return groups;
}

/** The largest group, as a box; null where there is none. */
function largestGroup(blocks: Blocks): Box | null {
  const [best] = groupsOf(blocks).sort((a, b) => b.length - a.length);
  if (!best) return null;
  const xs = best.map((b) => b % WIDE);
  const ys = best.map((b) => Math.floor(b / WIDE));
  const [left, top] = [Math.min(...xs), Math.min(...ys)];
  return {
    x: left / WIDE,
    y: top / HIGH,
    width: (Math.max(...xs) + 1 - left) / WIDE,
    height: (Math.max(...ys) + 1 - top) / HIGH,
  };
}
