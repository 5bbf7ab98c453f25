import { type BurnField, type Frames, filled, formatTimecode, inDay } from '@gemello/core';
import { makeBurnIn } from '../engine/burn';
import type { ClipMade } from './clip-made';

/** Draws the text of a burn-in into packed 8-bit RGB pictures of a clip, by their number in it. Null where none is asked for. */
export function burnOf(made: ClipMade): ((pixels: Uint8Array, i: Frames) => void) | null {
  const { burn: asked } = made.clip;
  if (!asked) return null;
  const { burnIn, burnAt, burnSize } = asked;
  const { width, height } = made.clip.raster;
  const burn = makeBurnIn(width, height, { at: burnAt, size: burnSize });
  return (pixels, i) =>
    burn(
      pixels,
      filled(burnIn, (field) => burntField(made, field as BurnField, i)),
      '',
    );
}

/** What a field of a burn-in says at frame `i` of a clip. The record timecode is said where each frame of the clip is one of the cut. */
function burntField({ clip, recordRate }: ClipMade, field: BurnField, i: Frames): string {
  switch (field) {
    case 'name':
      return clip.name;
    case 'event':
      return clip.number;
    case 'reel':
      return clip.reel;
    case 'title':
      return clip.burn?.title ?? '';
    case 'source':
      return formatTimecode(inDay(clip.start + i, clip.rate), clip.rate);
    case 'record':
      return clip.record === null ? '' : formatTimecode(inDay(clip.record + i, recordRate), recordRate);
  }
}
