import { mkdirSync } from 'node:fs';
import path from 'node:path';
import {
  type Conform,
  compile,
  contains,
  type Frames,
  formatTimecode,
  newPicture,
  type Original,
  pictureAt,
  type Raster,
  type ReferenceLay,
  referencePart,
  type Standing,
} from '@gemello/core';
import sharp from 'sharp';
import { compositionOf, type Drawing, openCompositor, openSources, toRgb48 } from '../compose';
import { MediaError, type Show } from '../plain';
import { writeWhole } from './record';
import { type Report, type StopSignal, stopIfAsked } from './task';

export interface StillsPayload {
  readonly list: Standing;
  readonly originals: readonly Original[];
  readonly reference: { readonly movie: Original; readonly lay: ReferenceLay } | null;
  /** Record frames. */
  readonly at: readonly Frames[];
  readonly folder: string;
  readonly show: Show;
  /** Of one picture; two that face each other are twice as wide. Null: the frame of the cut. */
  readonly size: Raster | null;
}

export interface StillsResult {
  readonly stills: readonly {
    readonly file: string;
    readonly timecode: string;
    readonly missing: readonly string[];
    readonly mixed: readonly string[];
  }[];
}

/** `01-00-00-12.png`: named by record timecode. */
const stillName = (frame: Frames, conform: Conform): string => `${formatTimecode(frame, conform.rate).replace(/[:;]/g, '-')}.png`;

/** Writes the conformed picture at record frames as PNGs of 16 bits, named by record timecode. */
export async function writeStills(payload: StillsPayload, report: Report, signal: StopSignal): Promise<StillsResult> {
  const conform = compile(payload.list, payload.originals);
  mkdirSync(payload.folder, { recursive: true });
  const stills: { file: string; timecode: string; missing: readonly string[]; mixed: readonly string[] }[] = [];
  const draw = stillDrawer(conform, payload.reference, payload.size ?? conform.frame.raster);
  try {
    for (const [i, frame] of payload.at.entries()) {
      stopIfAsked(signal);
      report({ done: i, total: payload.at.length, what: formatTimecode(frame, conform.rate) });
      const { png, drawing } = await draw.still(frame, payload.show);
      const file = path.join(payload.folder, stillName(frame, conform));
      writeWhole(file, png);
      stills.push({ file, timecode: formatTimecode(frame, conform.rate), missing: drawing.missing, mixed: drawing.mixed });
    }
  } finally {
    draw.close();
  }
  report({ done: payload.at.length, total: payload.at.length, what: '' });
  return { stills };
}

/** One still as the bytes of a PNG. */
export async function drawStill(payload: Omit<StillsPayload, 'at' | 'folder'> & { frame: Frames }): Promise<Uint8Array> {
  const conform = compile(payload.list, payload.originals);
  const draw = stillDrawer(conform, payload.reference, payload.size ?? conform.frame.raster);
  try {
    return (await draw.still(payload.frame, payload.show)).png;
  } finally {
    draw.close();
  }
}

interface Rgb {
  readonly width: number;
  readonly height: number;
  readonly data: Uint16Array;
}

function stillDrawer(conform: Conform, reference: StillsPayload['reference'], { width, height }: Raster) {
  const compositor = openCompositor(openSources(2, 64 * 1024 * 1024, 'missing'));
  const empty: Drawing = { covered: [], missing: [], mixed: [] };
  const ours = (frame: Frames): { rgb: Rgb; drawing: Drawing } => {
    if (!contains(conform.span, frame))
      throw new MediaError(
        `${formatTimecode(frame, conform.rate)} is not in the cut, which goes from ${formatTimecode(conform.span.in, conform.rate)} to ${formatTimecode(conform.span.out, conform.rate)}.`,
      );
    const { canvas, drawing } = compositor.draw(compositionOf(pictureAt(conform, frame, newPicture()), conform.frame), width, height);
    return { rgb: { width, height, data: toRgb48(canvas) }, drawing };
  };
  const theirs = (frame: Frames): Rgb => {
    if (!reference) throw new MediaError('There is no reference movie to show.');
    const part = referencePart(reference.movie, reference.lay, frame);
    if (!part) throw new MediaError(`The reference has no picture at ${formatTimecode(frame, conform.rate)}.`);
    const { canvas } = compositor.draw({ parts: [part], frame: conform.frame }, width, height);
    return { width, height, data: toRgb48(canvas) };
  };
  const both = (frame: Frames, join: (a: Rgb, b: Rgb) => Rgb) => {
    const { rgb, drawing } = ours(frame);
    return { rgb: join(rgb, theirs(frame)), drawing };
  };
  const shown = (frame: Frames, show: Show): { rgb: Rgb; drawing: Drawing } => {
    switch (show) {
      case 'conform':
        return ours(frame);
      case 'reference':
        return { rgb: theirs(frame), drawing: empty };
      case 'facing':
        return both(frame, facing);
      case 'split':
        return both(frame, split);
      case 'difference':
        return both(frame, difference);
    }
  };
  return {
    async still(frame: Frames, show: Show): Promise<{ png: Uint8Array; drawing: Drawing }> {
      const { rgb, drawing } = shown(frame, show);
      const png = await sharp(rgb.data, { raw: { width: rgb.width, height: rgb.height, channels: 3 } })
        .toColourspace('rgb16')
        .png()
        .toBuffer();
      return { png, drawing };
    },
    close: () => compositor.close(),
  };
}

/** Reference at the left, conform at the right, as everywhere. */
function facing(conform: Rgb, reference: Rgb): Rgb {
  const { width, height } = conform;
  const data = new Uint16Array(width * height * 6);
  for (let y = 0; y < height; y++) {
    data.set(reference.data.subarray(y * width * 3, (y + 1) * width * 3), y * width * 6);
    data.set(conform.data.subarray(y * width * 3, (y + 1) * width * 3), y * width * 6 + width * 3);
  }
  return { width: width * 2, height, data };
}

/** The left half of the reference, the right half of the conform. */
function split(conform: Rgb, reference: Rgb): Rgb {
  const { width, height } = conform;
  const data = conform.data.slice();
  const half = width >> 1;
  for (let y = 0; y < height; y++) data.set(reference.data.subarray(y * width * 3, (y * width + half) * 3), y * width * 3);
  return { width, height, data };
}

function difference(conform: Rgb, reference: Rgb): Rgb {
  return { ...conform, data: conform.data.map((v, i) => Math.abs(v - (reference.data[i] as number))) };
}
