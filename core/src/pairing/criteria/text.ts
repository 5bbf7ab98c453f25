import { joined, withoutExtension, withoutProxyTail } from '../../originals';
import { EXACT, type Grade, type Normalisation } from './grade';

/** What names are freed of, in turn. */
const STEPS: readonly (readonly [Normalisation, (text: string) => string])[] = [
  ['extension', withoutExtension],
  ['case', (text) => text.toLowerCase()],
  ['proxy-tail', withoutProxyTail],
  ['separators', joined],
];

/**
 * How two names agree once they are freed, step by step, of what says nothing: extension, letter case, the tail of a
 * proxy, separators. Null where they do not.
 */
export function compareNames(a: string, b: string): Grade | null {
  if (a === b) return EXACT;
  let [one, other] = [a.trim(), b.trim()];
  const by: Normalisation[] = [];
  for (const [name, free] of STEPS) {
    const [x, y] = [free(one), free(other)];
    if (x !== one || y !== other) by.push(name);
    [one, other] = [x, y];
    if (one === '') return null;
    if (one === other) {
      // An extension is no part of a name: containers change, and names stay.
      const needed = by.filter((step) => step !== 'extension');
      return needed.length === 0 ? EXACT : { grade: 'normalised', by: needed };
    }
  }
  return null;
}
