import type { Cdl, Raster } from '@gemello/core';
import { type Conform, inOrderDrawn, type Part, snapped, wipeMask, wipePattern } from '@gemello/core/conform';
import { gradePixels, type Lut, lookUpPixels } from '@gemello/core/grade';
import {
  CHANNELS,
  type ColourStep,
  type Comparing,
  type Decoded,
  type Drawing,
  GAP,
  type Laid,
  type Shows,
  type Side,
  scalesOf,
  sizeOf,
  stepsOf,
  TINT,
} from './drawing';
import type { Tables } from './tables';

type Context = OffscreenCanvasRenderingContext2D;

/** Cells of a checker across and down the frame. */
const CELLS = { across: 8, down: 4.5 } as const;

type Taking = ReturnType<typeof lookUpPixels>;
/** What takes pixels through a step: made once for each, since a shot keeps its grade from picture to picture. */
const made = { cdl: new WeakMap<Cdl, Taking>(), tetrahedral: new WeakMap<Lut, Taking>(), trilinear: new WeakMap<Lut, Taking>() };
const kept = <K extends object>(held: WeakMap<K, Taking>, one: K, make: () => Taking): Taking => {
  const known = held.get(one) ?? make();
  held.set(one, known);
  return known;
};
const takingOf = (step: ColourStep): Taking =>
  'slope' in step
    ? kept(made.cdl, step, () => gradePixels(step, 65_536))
    : kept(made[step.between], step.lut, () => lookUpPixels(step.lut, step.between));

/**
 * Draws on a plain canvas, where there is no graphics card: the same pictures by the same rules. A turned picture is sampled in the
 * canvas's own way: `openFine` gives what draws as well as can be what stands still, or null, and is called when it is first needed.
 */
export function openPlainDrawing(canvas: OffscreenCanvas, tables: Tables, openFine: () => Drawing | null): Drawing | null {
  const screen = canvas.getContext('2d', { alpha: false });
  if (!screen) return null;
  const plain = (): Context => new OffscreenCanvas(2, 2).getContext('2d', { willReadFrequently: true }) as Context;
  const targets: Record<Side, Context> = { a: plain(), b: plain() };
  const held = { leaving: plain(), incoming: plain(), mixed: plain(), mask: plain(), viewed: plain() };
  const graded = plain();
  let fine: Drawing | null | undefined;
  let size: Raster = { width: 2, height: 2 };

  const cleared = (one: Context): Context => {
    one.reset();
    return one;
  };
  /** A picture with its colours taken through the steps of its shot; of what is seen smaller, no more pixels than are seen. */
  const coloured = (part: Part, decoded: Decoded, scale: number, roughly: boolean): CanvasImageSource => {
    const steps = stepsOf(part.shot, tables);
    if (steps.length === 0) return decoded;
    const [width, height] = sizeOf(decoded).map((n) => Math.max(1, Math.round(n * Math.min(1, scale)))) as [number, number];
    const { canvas: onto } = graded;
    [onto.width, onto.height] = [width, height];
    graded.imageSmoothingQuality = qualityOf(scale, roughly);
    graded.drawImage(decoded, 0, 0, width, height);
    const image = graded.getImageData(0, 0, width, height);
    const { data } = image;
    // Between steps as between those of a render: in 16 bits.
    const deep = new Uint16Array(data.length);
    for (let i = 0; i < data.length; i++) deep[i] = (data[i] as number) * 257;
    for (const step of steps) takingOf(step)(deep, 4);
    for (let i = 0; i < data.length; i++) data[i] = (deep[i] as number) >> 8;
    graded.putImageData(image, 0, 0);
    return onto;
  };
  const place = (onto: Context, part: Part, decoded: Decoded | null, frame: Conform['frame'], roughly: boolean) => {
    const { shot, pose } = part;
    onto.save();
    onto.globalAlpha = pose.opacity;
    if (!decoded) onto.fillRect(0, 0, size.width, size.height);
    else {
      const { width, height } = shot.original?.raster ?? frame.raster;
      const { crop, ...lay } = snapped(part, frame, size);
      const scale = Math.min(...scalesOf(lay, { width, height }, decoded));
      onto.imageSmoothingQuality = qualityOf(scale, roughly);
      onto.setTransform(lay.a, lay.b, lay.c, lay.d, lay.e, lay.f);
      onto.beginPath();
      onto.rect(crop.left, crop.top, crop.right - crop.left, crop.bottom - crop.top);
      onto.clip();
      onto.drawImage(coloured(part, decoded, scale, roughly), 0, 0, width, height);
    }
    onto.restore();
  };
  /** How much of the incoming side is taken, pixel by pixel, as an alpha. */
  const masked = (seen: Float32Array): OffscreenCanvas => {
    const image = held.mask.createImageData(size.width, size.height);
    seen.forEach((share, i) => {
      image.data[4 * i + 3] = share * 255 + 0.5;
    });
    held.mask.putImageData(image, 0, 0);
    return held.mask.canvas;
  };
  const joined = (onto: Context, from: Laid | null, to: Laid, frame: Conform['frame'], roughly: boolean) => {
    cleared(held.leaving);
    if (from) place(held.leaving, from.part, from.picture, frame, roughly);
    place(cleared(held.incoming), to.part, to.picture, frame, roughly);
    const { join, share } = to.part;
    const pattern = join && wipePattern(join);
    const mixing = cleared(held.mixed);
    if (join && pattern) {
      const through = masked(wipeMask(pattern, join.look, share, size.width, size.height).incoming);
      held.leaving.globalCompositeOperation = 'destination-out';
      held.leaving.drawImage(through, 0, 0);
      held.incoming.globalCompositeOperation = 'destination-in';
      held.incoming.drawImage(through, 0, 0);
      mixing.globalCompositeOperation = 'lighter';
      mixing.drawImage(held.leaving.canvas, 0, 0);
      mixing.drawImage(held.incoming.canvas, 0, 0);
    } else {
      mixing.globalCompositeOperation = 'lighter';
      mixing.globalAlpha = 1 - share;
      mixing.drawImage(held.leaving.canvas, 0, 0);
      mixing.globalAlpha = share;
      mixing.drawImage(held.incoming.canvas, 0, 0);
    }
    onto.drawImage(mixing.canvas, 0, 0);
  };

  /** A side as it is looked at: enlarged, tinted, one colour alone. What comes back is overwritten by the next call. */
  const looked = (side: Side, { zoom, tinted, channel }: Comparing): OffscreenCanvas => {
    const { canvas: whole } = targets[side];
    const much = tinted[side];
    if (zoom.times === 1 && channel === 'colour' && much === 0) return whole;
    const { width, height } = size;
    const onto = cleared(held.viewed);
    onto.fillRect(0, 0, width, height);
    onto.imageSmoothingEnabled = zoom.times === 1;
    onto.setTransform(zoom.times, 0, 0, zoom.times, width * (0.5 - zoom.x * zoom.times), height * (0.5 - zoom.y * zoom.times));
    onto.drawImage(whole, 0, 0);
    onto.resetTransform();
    if (channel !== 'colour') {
      const image = onto.getImageData(0, 0, width, height);
      const { data } = image;
      const only = CHANNELS.indexOf(channel) - 1;
      for (let i = 0; i < data.length; i += 4) {
        const [r, g, b] = [data[i] as number, data[i + 1] as number, data[i + 2] as number];
        const value = channel === 'luma' ? 0.2126 * r + 0.7152 * g + 0.0722 * b : (data[i + only] as number);
        data.fill(value, i, i + 3);
      }
      onto.putImageData(image, 0, 0);
    }
    if (much > 0) {
      onto.globalCompositeOperation = 'multiply';
      onto.fillStyle = `rgb(${TINT.map((t) => Math.round(255 * (1 + (t - 1) * much))).join(' ')})`;
      onto.fillRect(0, 0, width, height);
    }
    return onto.canvas;
  };
  const compare: Record<Exclude<Shows, 'facing'>, (how: Comparing) => void> = {
    a: (how) => screen.drawImage(looked('a', how), 0, 0),
    b: (how) => screen.drawImage(looked('b', how), 0, 0),
    blend(how) {
      screen.drawImage(looked('b', how), 0, 0);
      screen.globalAlpha = how.blend;
      screen.drawImage(looked('a', how), 0, 0);
    },
    difference(how) {
      const untinted = { ...how, tinted: { a: 0, b: 0 } };
      screen.drawImage(looked('b', untinted), 0, 0);
      screen.globalCompositeOperation = 'difference';
      screen.drawImage(looked('a', untinted), 0, 0);
      if (how.gain === 1) return;
      const image = screen.getImageData(0, 0, size.width, size.height);
      const { data } = image;
      for (let i = 0; i < data.length; i++) if (i % 4 < 3) data[i] = (data[i] as number) * how.gain;
      screen.putImageData(image, 0, 0);
    },
    split(how) {
      screen.drawImage(looked('b', how), 0, 0);
      const turned = (how.angle * Math.PI) / 180;
      const far = size.width + size.height;
      screen.translate(how.line * size.width, size.height / 2);
      screen.rotate(turned);
      screen.beginPath();
      screen.rect(-far, -far, far, 2 * far);
      screen.clip();
      screen.resetTransform();
      screen.drawImage(looked('a', how), 0, 0);
    },
    checker(how) {
      screen.drawImage(looked('b', how), 0, 0);
      const [w, h] = [size.width / CELLS.across, size.height / CELLS.down];
      screen.beginPath();
      for (let y = 0; y < CELLS.down; y++) for (let x = y % 2; x < CELLS.across; x += 2) screen.rect(x * w, y * h, w, h);
      screen.clip();
      screen.drawImage(looked('a', how), 0, 0);
    },
  };

  return {
    compose(side, content, roughly) {
      const onto = cleared(targets[side]);
      onto.fillRect(0, 0, size.width, size.height);
      if (!roughly && content && fine === undefined) fine = openFine();
      if (!roughly && fine) {
        fine.resize(size);
        fine.compose(side, content, false);
        onto.putImageData(new ImageData(opaque(fine.read(side)), size.width, size.height), 0, 0);
        return;
      }
      if (!content || 'why' in content) return;
      if ('whole' in content) {
        onto.drawImage(content.whole, 0, 0, size.width, size.height);
        return;
      }
      const { parts, frame } = content;
      for (const one of inOrderDrawn(parts, (p) => p.part)) {
        if ('alone' in one) place(onto, one.alone.part, one.alone.picture, frame, roughly);
        else joined(onto, one.leaving, one.incoming, frame, roughly);
      }
    },
    present(how) {
      const gap = Math.round(size.width * GAP);
      const width = how.shows === 'facing' ? size.width * 2 + gap : size.width;
      [canvas.width, canvas.height] = [width, size.height];
      if (how.shows === 'facing') {
        screen.drawImage(looked('a', how), 0, 0);
        screen.drawImage(looked('b', how), size.width + gap, 0);
      } else compare[how.shows](how);
    },
    read(side) {
      const { data } = targets[side].getImageData(0, 0, size.width, size.height);
      return new Uint8Array(data.buffer);
    },
    resize(to) {
      if (to.width === size.width && to.height === size.height) return;
      size = to;
      for (const { canvas: one } of [...Object.values(targets), ...Object.values(held)]) [one.width, one.height] = [to.width, to.height];
    },
    get size() {
      return size;
    },
    textures: () => fine?.textures() ?? 0,
  };
}

/** How a picture is sampled of which a pixel takes so much of one of the canvas: where it takes less than half, one look at each would miss some. */
const qualityOf = (scale: number, roughly: boolean): ImageSmoothingQuality => (!roughly ? 'high' : scale < 0.5 ? 'medium' : 'low');

/** Colours over black, in place. */
function opaque(pixels: Uint8Array): Uint8ClampedArray<ArrayBuffer> {
  for (let i = 3; i < pixels.length; i += 4) pixels[i] = 255;
  return new Uint8ClampedArray(pixels.buffer as ArrayBuffer);
}
