import { execFileSync } from 'node:child_process';
import path from 'node:path';
import { apart, bringClose, coloursOf } from '@gemello/core';
import { describe, expect, it } from 'vitest';

/** Real photographs (a package of pictures for tests), the two halves of each as two shots of one scene, changed by filters of the ffmpeg program that are no CDL. */
const PHOTOGRAPHS = process.env.PHOTOGRAPHS ?? path.resolve('.venv', 'photographs', 'skimage', 'data');
const SCENES = ['astronaut.png', 'coffee.png', 'chelsea.png', 'motorcycle_left.png', 'rocket.jpg'];
/** Like another stop, lamps of another colour, and a flat picture with little colour. */
const CHANGED = ['eq=gamma=0.75:brightness=0.03', 'colortemperature=temperature=4300', 'eq=contrast=0.75:saturation=0.6'];

const half = (scene: string, side: 'left' | 'right', filter: string) => {
  const crop = `crop=iw/2:ih:${side === 'left' ? '0' : 'iw/2'}:0,scale=96:96:flags=area`;
  const args = ['-v', 'error', '-i', path.join(PHOTOGRAPHS, scene), '-vf', `${crop}${filter && `,${filter}`}`];
  return coloursOf(execFileSync('ffmpeg', [...args, '-pix_fmt', 'rgb24', '-f', 'rawvideo', '-']), 3);
};

describe('shots of one scene that look otherwise', () => {
  it.each(SCENES)('are brought as near as the two halves of %s are by themselves, or nearly so', (scene) => {
    const measure = half(scene, 'right', '');
    const alike = apart(half(scene, 'left', ''), measure);
    for (const filter of CHANGED) {
      const { before, after } = bringClose(half(scene, 'left', filter), measure);
      console.log(`${scene} ${filter}: ${before.toFixed(3)} apart, ${after.toFixed(3)} after; its halves are ${alike.toFixed(3)}`);
      expect(after).toBeLessThanOrEqual(before);
      expect(after).toBeLessThan(Math.max(alike, 0.02) + 0.01);
    }
  });
});
