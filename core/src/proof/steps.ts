import type { Step } from '../conform';
import type { Frames } from '../time';

/** Frames that a reference is thought to lose or double in one place at most, and events that must say so, one after the other. */
const [MOST, SAYING]: readonly [Frames, number] = [6, 3];
/** An event says so where even the worst of its frames agrees so well, and so much better than where it was. */
const [AGREES, BETTER] = [0.5, 0.05];

/** An event of which a reference tells whether it keeps pace: frames at which it stands alone, in order. */
export interface Paced {
  readonly alone: readonly Frames[];
}

/**
 * Finds where a reference lost or doubled frames. `agree` tells how well its picture `by` frames aside agrees with what the conform has
 * at a record frame, null where there is none. An event that merely slipped agrees aside too, but not at its edge, where the
 * reference already shows its neighbour; so the worst of its first, middle and last frame counts.
 */
export function stepsOf(events: readonly Paced[], agree: (record: Frames, by: Frames) => number | null): Step[] {
  const worst = ({ alone }: Paced, by: Frames): number => {
    const looked = [alone[0], alone[alone.length >> 1], alone.at(-1)];
    return looked.reduce<number>((least, n) => Math.min(least, (n === undefined ? null : agree(n, by)) ?? -1), 1);
  };
  const steps: Step[] = [];
  let now: Frames = 0;
  for (let i = 0; i < events.length; i++) {
    const here = events[i] as Paced;
    const standing = worst(here, now);
    if (standing >= AGREES) continue;
    const by = bestAside(here, now, standing, worst);
    if (by === null) continue;
    if (!lasts(events.slice(i, i + 2 * SAYING), now, by, worst)) continue;
    steps.push({ from: beginning(events[i - 1] ?? null, here, now, by, agree), by });
    now = by;
  }
  return steps;
}

function bestAside(event: Paced, now: Frames, standing: number, worst: (event: Paced, by: Frames) => number): Frames | null {
  let best: { by: Frames; value: number } | null = null;
  for (let by = now - MOST; by <= now + MOST; by++) {
    if (by === now) continue;
    const value = worst(event, by);
    if (value >= AGREES && value > standing + BETTER && value > (best?.value ?? 0)) best = { by, value };
  }
  return best?.by ?? null;
}

/** True where most of the next few events keep the new pace; one that is at fault by itself says nothing. */
function lasts(events: readonly Paced[], now: Frames, by: Frames, worst: (event: Paced, by: Frames) => number): boolean {
  const [before, after] = [now, by].map((pace) => events.filter((e) => worst(e, pace) >= AGREES).length) as [number, number];
  return after >= SAYING && after > before;
}

/** The frame at which it begins: inside the event before, where that agrees at its head as it was and at its tail as it is now. */
function beginning(
  before: Paced | null,
  event: Paced,
  now: Frames,
  by: Frames,
  agree: (record: Frames, by: Frames) => number | null,
): Frames {
  const first = event.alone[0] ?? 0;
  if (!before) return first;
  const gains = before.alone.map((n) => (agree(n, by) ?? 0) - (agree(n, now) ?? 0));
  let [best, from, sum] = [0, first, 0];
  for (let i = gains.length - 1; i >= 0; i--) {
    sum += gains[i] as number;
    if (sum > best) [best, from] = [sum, before.alone[i] as Frames];
  }
  return from;
}
