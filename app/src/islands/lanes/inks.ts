import { PAIR_STATES } from '@gemello/core/pairing';
import type { Inks } from './draw';

const known = new Map<string, Inks>();

/** The colours of a theme, as the page has them. */
export function inksOf(theme: string): Inks {
  const held = known.get(theme);
  if (held) return held;
  const style = getComputedStyle(document.documentElement);
  const of = (name: string) => style.getPropertyValue(name).trim();
  const made: Inks = {
    ink: of('--color-base-content'),
    ground: of('--color-base-100'),
    raised: of('--color-base-200'),
    accent: of('--color-accent'),
    reference: of('--reference'),
    finding: of('--state-unpaired'),
    states: Object.fromEntries(PAIR_STATES.map((s) => [s, of(`--state-${s}`)])) as Inks['states'],
  };
  known.set(theme, made);
  return made;
}
