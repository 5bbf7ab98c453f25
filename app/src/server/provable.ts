import {
  type Conform,
  compile,
  type Original,
  type Paired,
  pictureEvents,
  type Standing,
  type StandingEvent,
  withPairs,
} from '@gemello/core';
import type { Survey } from './survey';

/** The cut as it is proved: accepted pairs, with proxies in place of originals that are away. */
export interface Provable {
  readonly list: Standing;
  readonly conform: Conform;
  /** Originals that a picture may come from: proxies only where they stand in, since they show what their originals do. */
  readonly originals: readonly Original[];
  /** Events that a proxy stands in for. */
  readonly standIns: number;
}

/** `conform` is what comes of the list as it stands, which is proved as it is while nothing stands in. */
export function provableOf(list: Standing, conform: Conform, { reachable, proxyOf, standIns }: Survey): Provable {
  const pairs = new Map<string, Paired>();
  const used = new Set<string>();
  for (const { key, pair, bake } of pictureEvents(list) as StandingEvent[]) {
    if (bake) used.add(bake.original);
    if (!pair) continue;
    const light = reachable.has(pair.original) ? undefined : standIns.get(pair.original);
    if (light) pairs.set(key, { ...pair, original: light.path });
    used.add(light?.path ?? pair.original);
  }
  const originals = [...reachable.values()].filter((o) => !proxyOf.has(o.path) || used.has(o.path));
  if (pairs.size === 0) return { list, conform, originals, standIns: 0 };
  const proved = withPairs(list, pairs);
  return { list: proved, conform: compile(proved, originals), originals, standIns: pairs.size };
}
