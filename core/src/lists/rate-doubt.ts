import type { EditList } from '../edit';
import { nominal, type Rate, sameSpeed } from '../time';

/**
 * The rates that speak against the one a list was read at, the most frequent first: those of the media at hand, where the list states no rate, and none
 * of it runs at the rate that was assumed. Empty where nothing speaks against it. Rates that cannot hold the list's frame digits are no answer
 * and are left out. Frame digits alone prove little: a list whose digits go to 20 may count at any rate above.
 */
export function ratesAgainst(list: EditList, media: readonly Rate[]): readonly Rate[] {
  if (!list.notices.some((n) => n.code === 'rate-assumed') || media.some((rate) => sameSpeed(rate, list.rate))) return [];
  const counts = new Map<string, { rate: Rate; clips: number }>();
  for (const rate of media) {
    if (nominal(rate) < nominal(list.rate)) continue;
    const name = `${rate.num}/${rate.den}`;
    const known = counts.get(name);
    if (known) known.clips++;
    else counts.set(name, { rate, clips: 1 });
  }
  return [...counts.values()].sort((a, b) => b.clips - a.clips).map(({ rate }) => rate);
}
