import type { Frames, Original } from '@gemello/core';
import type { SoundSource } from '../engine/sound';

/** The files whose sound goes along, each where its pictures are. */
export function soundOf(original: Original): SoundSource[] {
  if (original.kind !== 'movie' || !original.sound) return [];
  const seconds = (frames: Frames) => (frames * original.clock.den) / original.clock.num;
  const pieces = original.pieces.length > 0 ? original.pieces : [original];
  let before = 0;
  return pieces.map(({ path: file, frames }) => {
    const from = seconds(before);
    before += frames;
    return { path: file, from, to: seconds(before) };
  });
}
