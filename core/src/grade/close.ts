import { quantileSorted } from 'd3-array';
import { levenbergMarquardt } from 'ml-levenberg-marquardt';
import type { Cdl } from '../edit/model';
import { applyCdl, LUMA_709 } from './cdl';
import { type Travel, travelled } from './travel';

/** Colours of a shot, picked evenly from its pictures: R, G, B of each in turn, 0 (black) to 1 (white). */
export type Colours = Float32Array;

/** A grade that brings a shot near another, and how far the two were and are apart. */
export interface Brought {
  readonly cdl: Cdl;
  readonly before: number;
  readonly after: number;
  /** Share of the shot's colours that were left out because they are cut off at black or white, 0..1. */
  readonly clipped: number;
}

/** Nearer to black or white than this a value is taken for cut off: two codes of 8 bits. */
const CUT_OFF = 2 / 255;
/** With fewer colours than this share left, all are taken: the shot is dark or bright by intent. */
const LEAST_LEFT = 0.1;
/** Parts of the colours, from dark to bright, that are brought to the same value; the last two in a hundred on either side say little. */
const PARTS = Array.from({ length: 33 }, (_, i) => 0.02 + (0.96 * i) / 32);
/** A part that lies further off than this after a fit is trusted less: it may show another thing. */
const FAR = 0.03;
/** Rounds in which far parts are trusted less and the fit is made anew. */
const ROUNDS = 3;
/** What a fit may come to: shots of other things than the measure would be bent out of all likeness to bring them nearer. */
const LIMITS = { slope: [0.4, 2.5], offset: [-0.25, 0.25], power: [0.6, 1.7], saturation: [0.6, 1.6] } as const;
/** Channels bend together, as brightness does: so much more or less than that. */
const BEND_APART = 1.25;

/**
 * Brings a shot near another by its colours alone: slope, offset and power of each channel so that its parts from dark to bright come
 * to the same values, and the saturation. What is cut off in either is left out. A proposal: what the shots show decides how
 * far it may be trusted. Both must hold some colours.
 */
export function bringClose(shot: Colours, measure: Colours): Brought {
  const [own, theirs] = [unclipped(shot), unclipped(measure)];
  const before = apart(own.colours, theirs.colours);
  const proposals = [1, ratioOfSaturation(own.colours, theirs.colours)].map((saturation) => {
    const target = saturation === 1 ? theirs.colours : unsaturated(theirs.colours, saturation);
    const { power } = fitted(lumaParts(own.colours), lumaParts(target), LIMITS.power);
    const bends = [Math.max(LIMITS.power[0], power / BEND_APART), Math.min(LIMITS.power[1], power * BEND_APART)] as const;
    const [r, g, b] = [0, 1, 2].map((c) => fitted(partsOf(own.colours, c), partsOf(target, c), bends)) as [Travel, Travel, Travel];
    const cdl: Cdl = {
      slope: [r.slope, g.slope, b.slope],
      offset: [r.offset, g.offset, b.offset],
      power: [r.power, g.power, b.power],
      saturation,
    };
    return { cdl: rounded(cdl), after: apart(graded(own.colours, cdl), theirs.colours) };
  });
  const best = proposals.reduce((a, b) => (b.after < a.after ? b : a));
  const neutral: Cdl = { slope: [1, 1, 1], offset: [0, 0, 0], power: [1, 1, 1], saturation: 1 };
  // Where nothing brings it nearer it is left as it is.
  return { ...(best.after < before ? best : { cdl: neutral, after: before }), before, clipped: own.left };
}

/**
 * How far two shots are apart: the mean difference of red, green, blue, and of the two colour differences (ITU-R BT.709), part by part from
 * dark to bright; 0 to 1, 0.01 is hardly seen.
 */
export function apart(a: Colours, b: Colours): number {
  const lines = (colours: Colours) => [0, 1, 2].map((c) => partsOf(colours, c)).concat(chromaParts(colours));
  const [x, y] = [lines(a), lines(b)];
  let sum = 0;
  for (let i = 0; i < x.length; i++) for (let k = 0; k < PARTS.length; k++) sum += Math.abs((x[i]?.[k] as number) - (y[i]?.[k] as number));
  return sum / (x.length * PARTS.length);
}

function unclipped(colours: Colours): { colours: Colours; left: number } {
  const kept: number[] = [];
  for (let i = 0; i + 2 < colours.length; i += 3) {
    const [r, g, b] = [colours[i] as number, colours[i + 1] as number, colours[i + 2] as number];
    if (Math.min(r, g, b) > CUT_OFF && Math.max(r, g, b) < 1 - CUT_OFF) kept.push(r, g, b);
  }
  const left = 1 - kept.length / Math.max(1, colours.length);
  return kept.length < LEAST_LEFT * colours.length ? { colours, left: 0 } : { colours: Float32Array.from(kept), left };
}

const partsOfValues = (values: Float32Array): number[] => {
  values.sort();
  return PARTS.map((part) => quantileSorted(values as unknown as number[], part) ?? 0);
};

const partsOf = (colours: Colours, channel: number): number[] =>
  partsOfValues(Float32Array.from({ length: colours.length / 3 }, (_, i) => colours[3 * i + channel] as number));

const lumaAt = (colours: Colours, i: number): number =>
  LUMA_709[0] * (colours[i] as number) + LUMA_709[1] * (colours[i + 1] as number) + LUMA_709[2] * (colours[i + 2] as number);

const lumaParts = (colours: Colours): number[] =>
  partsOfValues(Float32Array.from({ length: colours.length / 3 }, (_, i) => lumaAt(colours, 3 * i)));

/** Parts of how far blue and red are from luma. */
const chromaParts = (colours: Colours): number[][] =>
  [2, 0].map((c) =>
    partsOfValues(Float32Array.from({ length: colours.length / 3 }, (_, i) => (colours[3 * i + c] as number) - lumaAt(colours, 3 * i))),
  );

/** How spread the colours of a shot are, against its brightness: its contrast is no saturation. */
function spreadOfColour(colours: Colours): number {
  const spread = (parts: readonly number[] | undefined) => (parts ? (parts[28] as number) - (parts[4] as number) : 0);
  const luma = lumaParts(colours);
  const [blue, red] = chromaParts(colours);
  return Math.hypot(spread(blue), spread(red)) / Math.max(0.02, spread(luma));
}

function ratioOfSaturation(own: Colours, theirs: Colours): number {
  const [a, b] = [spreadOfColour(own), spreadOfColour(theirs)];
  return a < 0.02 || b < 0.02 ? 1 : Math.min(LIMITS.saturation[1], Math.max(LIMITS.saturation[0], b / a));
}

/** Colours as they were before a saturation was given to them. */
function unsaturated(colours: Colours, saturation: number): Colours {
  const out = new Float32Array(colours.length);
  for (let i = 0; i + 2 < colours.length; i += 3) {
    const luma = lumaAt(colours, i);
    for (let c = i; c < i + 3; c++) out[c] = luma + ((colours[c] as number) - luma) / saturation;
  }
  return out;
}

function graded(colours: Colours, cdl: Cdl): Colours {
  const out = new Float32Array(colours.length);
  for (let i = 0; i + 2 < colours.length; i += 3)
    out.set(applyCdl([colours[i] as number, colours[i + 1] as number, colours[i + 2] as number], cdl), i);
  return out;
}

/** The curve that takes parts nearest to those of the measure, by least squares, with a power within limits; far ones count less from round to round (Huber's weights). */
function fitted(own: readonly number[], theirs: readonly number[], power: readonly [number, number]): Travel {
  const curve = ([slope = 1, offset = 0, power = 1]: number[]): Travel => ({ slope, offset, power });
  let values = [1, 0, Math.min(power[1], Math.max(power[0], 1))];
  /** What the difference of a part is divided by, squared, before it counts. */
  let doubts = PARTS.map(() => 1);
  for (let round = 0; round < ROUNDS; round++) {
    const { parameterValues } = levenbergMarquardt(
      { x: [...own], y: [...theirs] },
      (p: number[]) => (x: number) => travelled(curve(p), x),
      {
        initialValues: values,
        minValues: [LIMITS.slope[0], LIMITS.offset[0], power[0]],
        maxValues: [LIMITS.slope[1], LIMITS.offset[1], power[1]],
        weights: doubts,
        damping: 0.01,
        gradientDifference: 1e-4,
        maxIterations: 60,
      },
    );
    values = parameterValues;
    doubts = own.map((x, i) => Math.max(1, Math.abs(travelled(curve(values), x) - (theirs[i] as number)) / FAR));
  }
  return curve(values);
}

/** To four places, as grades are written. */
function rounded({ slope, offset, power, saturation }: Cdl): Cdl {
  const one = (n: number) => Math.round(n * 1e4) / 1e4;
  const three = (v: Cdl['slope']) => v.map(one) as unknown as Cdl['slope'];
  return { slope: three(slope), offset: three(offset), power: three(power), saturation: one(saturation) };
}

/** Picks colours evenly from a picture of 8-bit R, G, B, `channels` samples a pixel. `most`: how many at the most. */
export function coloursOf(pixels: Uint8Array, channels: 3 | 4, most = 4096): Colours {
  const count = Math.floor(pixels.length / channels);
  const picked = Math.min(count, most);
  const out = new Float32Array(picked * 3);
  for (let k = 0; k < picked; k++) {
    const at = Math.floor(((k + 0.5) * count) / picked) * channels;
    for (let c = 0; c < 3; c++) out[3 * k + c] = (pixels[at + c] as number) / 255;
  }
  return out;
}
