import path from 'node:path';
import {
  CLIP_CODECS,
  type ClipCodec,
  type Conform,
  entryOf,
  FILLING,
  type Frames,
  formatTimecode,
  framesOfClip,
  type Heard,
  keepsAlpha,
  type Original,
  poseAt,
  type Rate,
  type ReturnClip,
  type Shot,
  secondsHeard,
  shotsByKey,
  sourceFrameAt,
} from '@gemello/core';
import { AV_PIX_FMT_RGB24, AV_PIX_FMT_RGB48LE, AV_PIX_FMT_RGBA64LE, SWS_ACCURATE_RND, SWS_BICUBIC } from 'node-av/constants';
import { type Composition, lutOf, openCompositor, openSources, stepsOf, toRgb24, toRgb48, toRgba64 } from '../compose';
import { formatOf, type Grader, type GraderTakes, openFilterGrader, openOverBlack, openPixelGrader } from '../engine/grading';
import { type FrameKindName, openNumberedWriter } from '../engine/numbered';
import { hasAlpha, openPictures, readHeld } from '../engine/reader';
import { makeScaler } from '../engine/scaler';
import type { SoundSource } from '../engine/sound';
import { type MovieWriter, openMovieWriter, type WriterName } from '../engine/writer';
import { MediaError, whole } from '../plain';
import { burnOf } from './burnt';
import type { ClipMade } from './clip-made';
import { soundOf } from './sounding';
import { type StopSignal, stopIfAsked } from './task';

/** How each kind of movie is coded; the container follows the extension. */
export const CODED: Record<Exclude<ClipCodec, FrameKindName>, WriterName> = {
  intra: 'intra',
  'intra-light': 'intra-light',
  'intra-vc3': 'intra-vc3',
  'intra-mxf': 'intra-vc3',
  review: 'proxy-small',
  'review-hevc': 'light-hevc',
};

/** Says of clips of a return what they are made of. */
export function clipMaker(
  conform: Conform,
  codec: ClipCodec,
  heard: readonly Heard[] = [],
): (clip: ReturnClip, original: Original) => ClipMade {
  const shots = shotsByKey(conform);
  const { frame, rate: recordRate } = conform;
  return (clip, original) => ({
    ...{ clip, original, frame, recordRate, codec },
    shot: shots.get(clip.event) as Shot,
    heard: heard.find((h) => h.from === clip.sound) ?? null,
  });
}

/** Where a clip is, or will be: its file, or the folder of its frames. */
export const placeOf = (folder: string, clip: ReturnClip): string => path.join(folder, entryOf(clip));

/** Writes a clip into a folder, where it appears under its name only when it is whole. */
export function renderClip(made: ClipMade, folder: string, signal: StopSignal, onFrame: (done: number) => void): void {
  const { clip, original } = made;
  const target = placeOf(folder, clip);
  whole(target, (half) => {
    const alpha = alphaOf(made);
    const writer = openClip(made, alpha, half);
    let written = 0;
    const count = () => {
      written++;
      onFrame(written);
      return !signal.aborted;
    };
    try {
      if (isComposed(clip)) writeComposed(made, alpha, writer, count);
      else writeSource(made, alpha, writer, count);
    } finally {
      writer.close();
    }
    stopIfAsked(signal);
    const frames = framesOfClip(clip);
    if (written !== frames)
      throw new MediaError(`${original.fileName} gave ${written} of ${frames} frames; the file is damaged or was cut off while copying.`);
  });
}

/** What becomes of an alpha: there is none, the clip has it too, or its pictures lie over black. */
type Alpha = 'none' | 'kept' | 'left';

function alphaOf({ clip, original, codec }: ClipMade): Alpha {
  let alpha: Alpha = 'none';
  const reader = openPictures(original, 1);
  const first = original.kind === 'still' ? 0 : clip.given.in;
  try {
    readHeld(original, reader, first, first + 1, (frame) => {
      if (hasAlpha(frame)) alpha = keepsAlpha(codec) ? 'kept' : 'left';
      return false;
    });
  } finally {
    reader.close();
  }
  return alpha;
}

function openClip(made: ClipMade, alpha: Alpha, half: string): MovieWriter {
  const { clip, codec } = made;
  const { raster, rate, start, reel } = clip;
  if (codec === 'dpx' || codec === 'exr' || codec === 'tiff') {
    const { extension } = CLIP_CODECS[codec];
    return openNumberedWriter(half, { kind: codec, clip: clip.name, extension, raster, rate, start, reel });
  }
  const timecode = formatTimecode(start, rate);
  return openMovieWriter(half, {
    writer: alpha === 'kept' ? 'intra-alpha' : CODED[codec],
    raster,
    rate,
    timecode,
    reel: reel || null,
    threads: 2,
    sound: heardWith(made),
  });
}

/** The files whose sound goes along with a clip, each from where its own pictures begin, in seconds of the clip. */
function heardWith({ clip, original, heard, recordRate }: ClipMade): SoundSource[] {
  const seconds = (frames: Frames, { num, den }: Rate) => (frames * den) / num;
  const to = seconds(framesOfClip(clip), clip.rate);
  if (heard && clip.record !== null) return [{ path: heard.sound.path, from: -secondsHeard(heard, clip.record, recordRate), to }];
  if (clip.sound !== 'original') return [];
  const begins = seconds(clip.given.in, original.clock);
  return soundOf(original).flatMap(({ path: file, from, to: end }) =>
    end <= begins || from - begins >= to ? [] : [{ path: file, from: from - begins, to: Math.min(to, end - begins) }],
  );
}

/** True for a clip that is not simply frames of its original one after the other. */
const isComposed = ({ baking }: ReturnClip): boolean => baking.speed !== null || baking.placed !== null;

/** What is done to pictures of a clip, which it takes as `of` has them, one after the other. Throws MediaError for a LUT that cannot be read. */
function gradersOf({ cdl, lut }: ReturnClip, of: GraderTakes): Grader[] {
  const steps = stepsOf({ cdl, lut });
  if (steps.length === 0) return [];
  const filters = openFilterGrader(of, cdl, lut && { ...lut, lut: lutOf(lut.file) }, 2);
  if (filters) return [filters];
  const channels = of.alpha ? 4 : 3;
  return [
    openPixelGrader(of, (pixels) => {
      for (const step of steps) step(pixels, channels);
    }),
  ];
}

/** Frames of the original one after the other, graded. `count` is told of each, and false once no more are wanted. */
function writeSource(made: ClipMade, alpha: Alpha, writer: MovieWriter, count: () => boolean): void {
  const { clip, original } = made;
  const { width, height } = clip.raster;
  const burn = burnOf(made);
  const of = { raster: clip.raster, alpha: alpha !== 'none' };
  const graders = [...gradersOf(clip, of), ...(alpha === 'left' ? [openOverBlack(clip.raster)] : [])];
  const reader = openPictures(original, 2);
  const toValues = makeScaler(width, height, formatOf(of), 'full', SWS_BICUBIC | SWS_ACCURATE_RND, 2);
  const toEight = makeScaler(width, height, AV_PIX_FMT_RGB24, 'full', SWS_BICUBIC | SWS_ACCURATE_RND);
  const still = original.kind === 'still';
  let i = 0;
  try {
    readHeld(original, reader, still ? 0 : clip.given.in, still ? 1 : clip.given.out, (frame) => {
      const picture = graders.length === 0 ? frame : graders.reduce((last, grader) => grader.grade(last), toValues.convert(frame));
      for (let n = 0; n < (still ? framesOfClip(clip) : 1); n++) {
        if (burn) {
          const burnt = new Uint8Array(toEight.convert(picture).toBuffer());
          burn(burnt, i++);
          writer.writePixels(burnt, AV_PIX_FMT_RGB24);
        } else writer.writeFrame(picture);
        if (!count()) return false;
      }
      return undefined;
    });
  } finally {
    toEight.free();
    toValues.free();
    for (const grader of graders) grader.free();
    reader.close();
  }
}

/** Pictures kept between frames: at half speed each is shown twice. */
const KEPT_BYTES = 64 * 1024 * 1024;

/** Pictures as the one compositor draws them, with speed or placement in them. */
function writeComposed(made: ClipMade, alpha: Alpha, writer: MovieWriter, count: () => boolean): void {
  const { width, height } = made.clip.raster;
  const compositor = openCompositor(openSources(2, KEPT_BYTES, 'held'));
  const large = new Uint16Array(width * height * (alpha === 'kept' ? 4 : 3));
  const small = new Uint8Array(width * height * 3);
  const frames = framesOfClip(made.clip);
  const burn = burnOf(made);
  try {
    for (let i = 0; i < frames; i++) {
      const composition = compositionAt(made, i);
      if (burn || !compositor.through(composition, width, height, (frame) => writer.writeFrame(frame))) {
        const { canvas, drawing } = compositor.draw(composition, width, height);
        // What is not there is told by the number of frames.
        if (drawing.missing.length > 0) return;
        if (burn) {
          burn(toRgb24(canvas, small), i);
          writer.writePixels(small, AV_PIX_FMT_RGB24);
        } else if (alpha === 'kept') writer.writePixels(new Uint8Array(toRgba64(canvas, large).buffer), AV_PIX_FMT_RGBA64LE);
        else writer.writePixels(new Uint8Array(toRgb48(canvas, large).buffer), AV_PIX_FMT_RGB48LE);
      }
      if (!count()) return;
    }
  } finally {
    compositor.close();
  }
}

/** The picture that a clip ought to have at its frame `i`. */
export function compositionAt({ clip, original, shot, frame }: ClipMade, i: Frames): Composition {
  const { speed, placed } = clip.baking;
  const sourceFrame = speed
    ? sourceFrameAt(shot, shot.event.record.in + speed.record.in + i)
    : original.kind === 'still'
      ? 0
      : clip.given.in + i;
  // Where it moves with the record the clip runs as that does.
  const offset = speed ? speed.record.in + i : sourceFrame - shot.sourceStart;
  const pose = placed ? { ...poseAt(shot.event.placement, offset), opacity: 1 } : FILLING;
  const drawn: Shot = { ...shot, original, cdl: clip.cdl, lut: clip.lut, ...(placed ? {} : { event: { ...shot.event, placement: null } }) };
  return {
    parts: [{ shot: drawn, layer: 0, sourceFrame, pose, side: 'alone', join: null, share: 1 }],
    frame: placed ? frame : { raster: original.raster, pixelAspect: original.pixelAspect ?? 1 },
  };
}
