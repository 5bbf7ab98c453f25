import { joined, withoutExtension, withoutProxyTail } from '../../originals';
import { EXACT, type Grade, type Normalisation } from './grade';

const separators = (text: string): string => joined(text);

/**
 * How two names agree once they are freed, step by step, of what says nothing: extension, letter case, the tail of a
 * proxy, separators. Null where they do not.
 */
export function compareNames(a: string, b: string): Grade | null {
  if (a === b) return EXACT;
  const steps: readonly (readonly [Normalisation, (text: string) => string])[] = [
    ['extension', withoutExtension],
    ['case', (text) => text.toLowerCase()],
    ['proxy-tail', withoutProxyTail],
    ['separators', separators],
  ];
  let [one, other] = [a.trim(), b.trim()];
  const by: Normalisation[] = [];
  for (const [name, free] of steps) {
    const [x, y] = [free(one), free(other)];
    if (x !== one || y !== other) by.push(name);
    [one, other] = [x, y];
    if (one === '') return null;
    // An extension is no part of a name: containers change, and names stay.
    if (one === other) return by.every((step) => step === 'extension') ? EXACT : { grade: 'normalised', by: by.filter(isNeeded) };
  }
  return null;
}

const isNeeded = (step: Normalisation): boolean => step !== 'extension';
