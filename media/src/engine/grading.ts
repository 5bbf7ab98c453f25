import { type Cdl, isNeutral, LUMA_709, type Lut, type LutBetween, type Raster } from '@gemello/core';
import {
  AV_BUFFERSRC_FLAG_KEEP_REF,
  AV_PIX_FMT_RGB48LE,
  AV_PIX_FMT_RGBA64LE,
  AVCOL_RANGE_JPEG,
  AVCOL_SPC_RGB,
  type AVPixelFormat,
} from 'node-av/constants';
import { Filter, type FilterContext, FilterGraph, Frame } from 'node-av/lib';
import { must } from './av';
import { makePixelFrame } from './pixels';

/** Grades whole pictures: packed, of 16 bits, RGB or RGBA. */
export interface Grader {
  /** The graded picture; it belongs to the grader and is overwritten by the next call. */
  grade(picture: Frame): Frame;
  free(): void;
}

/** A LUT with what its file holds. */
export interface GraderLut {
  readonly file: string;
  readonly lut: Lut;
  readonly between: LutBetween;
}

/** A filter of FFmpeg with its options. */
type Step = readonly [filter: string, options: Readonly<Record<string, string>>];

/** What pictures a grader takes: their raster, and whether they have an alpha, which stays as it is. */
export interface GraderTakes {
  readonly raster: Raster;
  readonly alpha: boolean;
}
export const formatOf = ({ alpha }: GraderTakes): AVPixelFormat => (alpha ? AV_PIX_FMT_RGBA64LE : AV_PIX_FMT_RGB48LE);

/** Grades pixel by pixel. `take` changes packed values in place, 3 or 4 of a pixel. */
export function openPixelGrader(of: GraderTakes, take: (pixels: Uint16Array) => void): Grader {
  const graded = makePixelFrame(of.raster);
  return {
    grade(picture) {
      const bytes = new Uint8Array(picture.toBuffer());
      take(new Uint16Array(bytes.buffer, bytes.byteOffset, bytes.byteLength / 2));
      return graded.of(bytes, formatOf(of));
    },
    free: graded.free,
  };
}

/** What the mixer's weights reach to, up and down. */
const HEAVIEST = 2;

/** Lays pictures with an alpha over black. */
export const openOverBlack = (raster: Raster): Grader =>
  openPixelGrader({ raster, alpha: true }, (pixels) => {
    for (let i = 0; i < pixels.length; i += 4) {
      const share = (pixels[i + 3] as number) / 65535;
      if (share === 1) continue;
      for (let c = i; c < i + 3; c++) pixels[c] = (pixels[c] as number) * share + 0.5;
      pixels[i + 3] = 65535;
    }
  });

/**
 * Grades with FFmpeg's own filters, on several threads: a CDL (ASC CDL 1.2), then a LUT. At most two codes of 16
 * bits from what core/grade gives. Null where those filters cannot do it: saturation past about 2, and a LUT whose domain is not 0 to 1.
 */
export function openFilterGrader(of: GraderTakes, cdl: Cdl | null, lut: GraderLut | null, threads: number): Grader | null {
  const steps = [...(cdl ? cdlSteps(cdl) : []), ...(lut ? lutSteps(lut) : [])];
  const chain = steps.filter((step) => step !== null);
  return chain.length < steps.length ? null : running(of, chain, threads);
}

function cdlSteps(cdl: Cdl): (Step | null)[] {
  const { slope, offset, power, saturation } = cdl;
  const along = (c: 0 | 1 | 2) => `pow(clip(val/maxval*(${slope[c]})+(${offset[c]}),0,1),${power[c]})*maxval`;
  const travels: Step[] = isNeutral({ ...cdl, saturation: 1 }) ? [] : [['lutrgb', { r: along(0), g: along(1), b: along(2) }]];
  return saturation === 1 ? travels : [...travels, mixed(saturation)];
}

/** Saturation about luma, as weights of each channel in each. */
function mixed(saturation: number): Step | null {
  const weights = [0, 1, 2].flatMap((to) => LUMA_709.map((luma, from) => luma * (1 - saturation) + (from === to ? saturation : 0)));
  if (weights.some((weight) => Math.abs(weight) > HEAVIEST)) return null;
  const names = ['rr', 'rg', 'rb', 'gr', 'gg', 'gb', 'br', 'bg', 'bb'];
  return ['colorchannelmixer', Object.fromEntries(names.map((name, i) => [name, String(weights[i])]))];
}

function lutSteps({ file, lut, between }: GraderLut): (Step | null)[] {
  if (lut.domainMin.some((v) => v !== 0) || lut.domainMax.some((v) => v !== 1)) return [null];
  return [lut.dimensions === 1 ? ['lut1d', { file, interp: 'linear' }] : ['lut3d', { file, interp: between }]];
}

function running(of: GraderTakes, steps: readonly Step[], threads: number): Grader {
  const graph = new FilterGraph();
  graph.alloc();
  graph.nbThreads = threads;
  const put = (name: string, options: Readonly<Record<string, string>>): FilterContext => {
    const filter = Filter.getByName(name);
    const made = filter && graph.allocFilter(filter, `${name}${graph.nbFilters}`);
    if (!made) throw new Error(`The media engine lacks the filter ${name}`);
    for (const [option, value] of Object.entries(options)) must(made.setOption(option, value), `Cannot set ${option} of ${name}`);
    return made;
  };
  const source = put('buffer', {});
  const format = { ...of.raster, format: formatOf(of), colorSpace: AVCOL_SPC_RGB, colorRange: AVCOL_RANGE_JPEG } as const;
  must(source.buffersrcParametersSet({ ...format, timeBase: { num: 1, den: 1 }, sampleAspectRatio: { num: 1, den: 1 } }), 'Cannot grade');
  const chain = [source, ...steps.map((step) => put(...step)), put('buffersink', {})];
  for (const one of chain) must(one.init(), `Cannot start the filter ${one.name}`);
  chain.slice(1).forEach((to, i) => {
    must((chain[i] as FilterContext).link(0, to, 0), 'Cannot join filters');
  });
  must(graph.configSync(), 'Cannot grade');
  const sink = chain[chain.length - 1] as FilterContext;
  const graded = new Frame();
  graded.alloc();
  return {
    grade(picture) {
      graded.unref();
      // The scaler says that its result is Rec. 709 of full range; of RGB there is no matrix.
      picture.colorSpace = AVCOL_SPC_RGB;
      // The picture stays its owner's.
      must(source.buffersrcAddFrameSync(picture, AV_BUFFERSRC_FLAG_KEEP_REF), 'Cannot grade a picture');
      must(sink.buffersinkGetFrameSync(graded), 'Cannot grade a picture');
      return graded;
    },
    free() {
      graded.free();
      graph.free();
    },
  };
}
