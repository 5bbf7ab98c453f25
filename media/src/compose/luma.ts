import { type Frame, type Frames, type Original, type Part, type Raster, snapped, wholePart } from '@gemello/core';
import { AV_PIX_FMT_GRAY8, AV_PIX_FMT_RGBA64LE, SWS_AREA } from 'node-av/constants';
import { openPictures } from '../engine/reader';
import { makeScaler } from '../engine/scaler';
import { clear, newCanvas, toLuma } from './canvas';
import { fillsExactly } from './compose';
import { place, sizeFor } from './place';

/** The frame of a clip by itself. */
export const frameOfClip = (clip: Original): Frame => ({ raster: clip.raster, pixelAspect: clip.pixelAspect ?? 1 });

/**
 * Small luma pictures of frames `first` up to `end` (exclusive) of a part's original, laid as the cut lays them, one byte
 * a pixel, full range; what they leave free is black. The grid shows the whole frame. `use` gets a view that is only
 * valid during the call; it stops the reading by returning false. With a `step`, of each so many frames one.
 */
export function readPartLuma(
  part: Part,
  frame: Frame,
  grid: Raster,
  first: Frames,
  end: Frames,
  use: (luma: Uint8Array, number: Frames) => boolean | undefined,
  step: Frames = 1,
): void {
  const { original } = part.shot;
  if (!original) return;
  const { width, height } = original.raster;
  const lay = snapped(part, frame, grid);
  const reader = openPictures(original, 2, 'small');
  const plain = fillsExactly(lay, original.raster, grid);
  const size = plain ? grid : sizeFor(lay, width, height);
  const scaler = makeScaler(size.width, size.height, plain ? AV_PIX_FMT_GRAY8 : AV_PIX_FMT_RGBA64LE, 'full', SWS_AREA);
  const canvas = newCanvas(grid.width, grid.height);
  const luma = new Uint8Array(grid.width * grid.height);
  try {
    reader.read(
      first,
      end,
      (decoded, number) => {
        const bytes = scaler.convert(decoded).toBuffer();
        if (plain) return use(bytes, number);
        const data = new Uint16Array(new Uint8Array(bytes).buffer);
        clear(canvas);
        place(canvas, { ...size, data }, lay, width, height, part.pose.opacity);
        return use(toLuma(canvas, luma), number);
      },
      step,
    );
  } finally {
    scaler.free();
    reader.close();
  }
}

/** The same of a whole clip, which fills the grid. */
export const readLuma = (
  clip: Original,
  grid: Raster,
  first: Frames,
  end: Frames,
  use: (luma: Uint8Array, number: Frames) => boolean | undefined,
  step: Frames = 1,
): void => readPartLuma(wholePart(clip, 0), frameOfClip(clip), grid, first, end, use, step);
