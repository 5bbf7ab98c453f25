import { existsSync, readFileSync } from 'node:fs';
import { gradePixels, isNeutral, type Lut, type LutUse, lookUpPixels, readCube, type Viewing } from '@gemello/core';
import { LRUCache } from 'lru-cache';
import { MediaError } from '../plain';
import { stampOf } from '../probe';

/** Takes packed 16-bit pixels, R, G, B first of their channels, through one step of a grade; in place. */
type Step = (pixels: Uint16Array, channels: 3 | 4) => void;

/** Tables of a step are made once for a grade; a shot has many frames. */
const KEPT = { max: 8 };
const [graders, lookUps, luts] = [new LRUCache<string, Step>(KEPT), new LRUCache<string, Step>(KEPT), new LRUCache<string, Lut>(KEPT)];

function kept<V extends object>(held: LRUCache<string, V>, key: string, make: () => V): V {
  const known = held.get(key) ?? make();
  held.set(key, known);
  return known;
}

/** What colours go through, one after the other; nothing where they stay. Throws MediaError with what is wrong with a LUT. */
export const stepsOf = ({ cdl, lut }: Viewing): Step[] => [
  ...(cdl && !isNeutral(cdl) ? [kept(graders, JSON.stringify(cdl), () => gradePixels(cdl, 65536))] : []),
  ...(lut ? [lookUpOf(lut)] : []),
];

function lookUpOf({ file, between }: LutUse): Step {
  const lut = lutOf(file);
  return kept(lookUps, `${between} ${stampOf([file]).stamp}`, () => lookUpPixels(lut, between));
}

/** What a `.cube` file holds. Throws MediaError with what is wrong with it. */
export function lutOf(file: string): Lut {
  if (!existsSync(file)) throw new MediaError(`The LUT ${file} is not here. Bring its volume back, or take the LUT away.`);
  return kept(luts, stampOf([file]).stamp, () => {
    const lut = readCube(readFileSync(file, 'utf8'));
    if ('fault' in lut) throw new MediaError(`The LUT ${file} cannot be read: ${lut.fault}`);
    return lut;
  });
}
