import { createCanvas } from '@napi-rs/canvas';
import { takeOf } from './scenario';
import { drawTake } from './scenes/scenes';

/** The first frames of a take as grey pictures of one size, a byte a pixel, rows from the top: its drawing alone, without a movie. */
export function greyFrames(clip: string, width: number, height: number, frames: number): Uint8Array[] {
  const take = takeOf(clip);
  const canvas = createCanvas(width, height);
  const ctx = canvas.getContext('2d');
  return Array.from({ length: frames }, (_, n) => {
    drawTake(ctx, width, height, take.scene, take.look, (n * take.rate.den) / take.rate.num);
    const { data } = ctx.getImageData(0, 0, width, height);
    // Luma of Rec. 709.
    return Uint8Array.from({ length: width * height }, (_, i) =>
      Math.round(0.2126 * (data[4 * i] as number) + 0.7152 * (data[4 * i + 1] as number) + 0.0722 * (data[4 * i + 2] as number)),
    );
  });
}
