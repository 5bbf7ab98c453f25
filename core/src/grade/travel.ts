import type { Cdl } from '../edit/model';

/** How one channel's values travel from dark to bright: out = clamp(in x slope + offset) ^ power (ASC CDL 1.2). */
export interface Travel {
  readonly slope: number;
  readonly offset: number;
  readonly power: number;
}

/** A point of a graph of values, both from 0 (black) to 1 (white). */
export interface GraphPoint {
  readonly x: number;
  readonly y: number;
}

/** Where values begin to leave black, where they reach white, and how they bend between. */
export const TRAVEL_PARTS = ['foot', 'bend', 'reach'] as const;
export type TravelPart = (typeof TRAVEL_PARTS)[number];

export const CDL_CHANNELS = [0, 1, 2] as const;
export type CdlChannel = (typeof CDL_CHANNELS)[number];

/** Offsets and slopes that a drag may come to, and powers. What is typed or read may go further. */
const REACHED = { slope: [0.02, 8], offset: [-1, 1], power: [0.1, 8] } as const;

const held = (v: number, [least, most]: readonly [number, number]): number => Math.min(most, Math.max(least, v));
const clamp = (v: number): number => held(v, [0, 1]);

export const travelOf = ({ slope, offset, power }: Cdl, channel: CdlChannel): Travel => ({
  slope: slope[channel],
  offset: offset[channel],
  power: power[channel],
});

/** A value as it comes out, 0..1. */
export const travelled = ({ slope, offset, power }: Travel, value: number): number => clamp(value * slope + offset) ** power;

/**
 * Where the part of a curve is taken hold of. The foot stands on the left edge where black is lifted, and on the lower edge
 * where darks are cut off (offset -0.1, slope 1: at 0.1); the reach on the right edge or, where brights are cut off, the upper one;
 * the bend halfway between both.
 */
export function gripOf(travel: Travel, part: TravelPart): GraphPoint {
  const { slope, offset, power } = travel;
  const foot = offset >= 0 || slope === 0 ? 0 : clamp(-offset / slope);
  const reach = slope + offset <= 1 || slope === 0 ? 1 : clamp((1 - offset) / slope);
  if (part === 'foot') return { x: foot, y: offset > 0 ? clamp(offset) ** power : 0 };
  if (part === 'reach') return { x: reach, y: travelled(travel, reach) };
  const x = (foot + reach) / 2;
  return { x, y: travelled(travel, x) };
}

/** A curve whose part is drawn to a point; what that part alone says of it changes. */
export function drawnTo(travel: Travel, part: TravelPart, to: GraphPoint): Travel {
  const { slope, offset, power } = travel;
  const [x, y] = [clamp(to.x), clamp(to.y)];
  if (part === 'foot') {
    // White stays where it is: the line turns about its upper end.
    const white = slope + offset;
    const lifted = y >= x ? y ** (1 / power) : null;
    const made = held(lifted ?? (x >= 0.99 ? -1 : (-x * white) / (1 - x)), REACHED.offset);
    return { ...travel, offset: made, slope: held(white - made, REACHED.slope) };
  }
  if (part === 'reach') {
    const made = 1 - y >= 1 - x ? y ** (1 / power) - offset : (1 - offset) / Math.max(0.01, x);
    return { ...travel, slope: held(made, REACHED.slope) };
  }
  const middle = clamp(gripOf(travel, 'bend').x * slope + offset);
  if (middle <= 0 || middle >= 1) return travel;
  return { ...travel, power: held(Math.log(held(y, [0.001, 0.999])) / Math.log(middle), REACHED.power) };
}

/**
 * A curve whose part goes a step up or down by its own number, so that none is lost where the curve runs along an edge. Up is brighter: of a
 * foot more offset, white staying where it is; of a reach more slope; of a bend less power, twice the step.
 */
export function nudged(travel: Travel, part: TravelPart, by: number): Travel {
  const { slope, offset, power } = travel;
  if (part === 'foot') {
    const made = held(offset + by, REACHED.offset);
    return { ...travel, offset: made, slope: held(slope + offset - made, REACHED.slope) };
  }
  if (part === 'reach') return { ...travel, slope: held(slope + by, REACHED.slope) };
  return { ...travel, power: held(power - 2 * by, REACHED.power) };
}

/** A CDL with another curve for one channel, or the same change for all three: what was different between them stays so. */
export function withTravel(cdl: Cdl, channel: CdlChannel | 'all', travel: Travel): Cdl {
  if (channel !== 'all') {
    const put = (three: Cdl['slope'], value: number) => three.map((v, i) => (i === channel ? value : v)) as unknown as Cdl['slope'];
    return { ...cdl, slope: put(cdl.slope, travel.slope), offset: put(cdl.offset, travel.offset), power: put(cdl.power, travel.power) };
  }
  const before = meanTravel(cdl);
  const times = (three: Cdl['slope'], by: number, range: readonly [number, number]) =>
    three.map((v) => (by === 1 ? v : held(v * by, range))) as unknown as Cdl['slope'];
  const moved = travel.offset - before.offset;
  return {
    ...cdl,
    slope: times(cdl.slope, before.slope === 0 ? 1 : travel.slope / before.slope, REACHED.slope),
    offset: cdl.offset.map((v) => (moved === 0 ? v : held(v + moved, REACHED.offset))) as unknown as Cdl['offset'],
    power: times(cdl.power, before.power === 0 ? 1 : travel.power / before.power, REACHED.power),
  };
}

/** The curve in the middle of the three channels: slopes and powers as their geometric mean, offsets as their mean. */
export function meanTravel({ slope, offset, power }: Cdl): Travel {
  const geometric = ([r, g, b]: Cdl['slope']) => (r === g && g === b ? r : Math.cbrt(r * g * b));
  return {
    slope: geometric(slope),
    offset: offset[0] === offset[1] && offset[1] === offset[2] ? offset[0] : (offset[0] + offset[1] + offset[2]) / 3,
    power: geometric(power),
  };
}
