import {
  type EditList,
  formatRate,
  formatTimecode,
  type ListOptions,
  lengthOf,
  type Original,
  plural,
  type Raster,
  recordSpan,
  sameSpeed,
  startOf,
} from '@gemello/core';
import type { SettingCheck } from '../contract';
import type { JobReference } from './workspace';

/** True when the list itself says its rate; readers name it where they had to assume one. */
export const rateStated = (list: EditList): boolean => list.tracks.length > 0 && !list.notices.some((n) => n.code === 'rate-assumed');

/** How many labels of a list cannot exist at the rate it is read at. */
export const impossibleLabels = (list: EditList): number => list.notices.filter((n) => n.code.startsWith('timecode-')).length;

export const rasterText = (raster: Raster): string => `${raster.width}×${raster.height}`;

/** Two rasters have the same shape when their aspects differ by less than one pixel in a hundred. */
const SAME_SHAPE = 0.01;

/** A reference, and how it lies against the cut where that was looked at. */
interface ReferenceSeen extends Partial<Pick<JobReference, 'lay' | 'found'>> {
  readonly movie: Original;
}

/** The questions asked of every list on arrival, as far as list and reference can answer them. */
export function settingChecks(list: EditList, reference: ReferenceSeen | null, options: ListOptions): SettingCheck[] {
  const movie = reference?.movie ?? null;
  return [
    rateCheck(list, movie, options),
    labelCheck(list),
    startCheck(list, reference),
    lengthCheck(list, movie),
    ...framingChecks(list, movie, options),
  ];
}

function rateCheck(list: EditList, movie: Original | null, options: ListOptions): SettingCheck {
  const agrees = movie ? sameSpeed(list.rate, movie.rate) : null;
  const stated = options.rate ? 'Set by hand.' : rateStated(list) ? 'As the list states it.' : 'The list does not state it.';
  return {
    name: 'Frame rate',
    list: formatRate(list.rate),
    reference: movie ? formatRate(movie.rate) : '',
    agrees,
    detail:
      agrees === false
        ? `Read the list at ${formatRate(movie?.rate ?? list.rate)}, unless the reference was exported at another rate than the cut.`
        : stated,
  };
}

function labelCheck(list: EditList): SettingCheck {
  const impossible = impossibleLabels(list);
  return {
    name: 'Timecodes',
    list: impossible === 0 ? 'all possible' : `${impossible} impossible`,
    reference: '',
    agrees: impossible === 0 ? null : false,
    detail:
      impossible === 0
        ? `Every label exists at ${formatRate(list.rate)}.`
        : `Labels that cannot exist at ${formatRate(list.rate)}: the rate is wrong.`,
  };
}

function startCheck(list: EditList, seen: ReferenceSeen | null): SettingCheck {
  const movie = seen?.movie ?? null;
  // Labels are compared, not counts: read at another rate the same label is another count.
  const start = formatTimecode(startOf(list), list.rate);
  const reference = movie ? (movie.hasTimecode ? formatTimecode(movie.start, movie.rate) : 'no timecode') : '';
  const plain = (label: string) => label.replace(';', ':');
  const agrees = movie ? plain(reference) === plain(start) : null;
  return {
    name: 'Start',
    list: start,
    reference,
    agrees,
    detail: agrees === false && seen ? beginningOf(list, seen) : '',
  };
}

/** Where the cut begins in a reference whose timecode does not say so. */
function beginningOf(list: EditList, { lay, found }: ReferenceSeen): string {
  const into = lay ? startOf(list) - lay.start : 0;
  const place =
    into > 0
      ? `${plural(into, 'frame')} into the reference`
      : into < 0
        ? `${plural(-into, 'frame')} before the reference`
        : 'with the reference';
  return found
    ? `By its pictures the cut begins ${place}, as the proof found.`
    : `The cut is taken to begin ${place}; a proof finds out by its pictures.`;
}

function lengthCheck(list: EditList, movie: Original | null): SettingCheck {
  const frames = lengthOf(recordSpan(list));
  const agrees = movie ? movie.frames === frames : null;
  return {
    name: 'Length',
    list: `${frames} frames`,
    reference: movie ? `${movie.frames} frames` : '',
    agrees,
    detail: agrees === false ? 'One of the two has a slate, a tail or a gap that the other lacks, or they are not of the same cut.' : '',
  };
}

/** Raster always; pixel aspect and field order where the list states them. A list at low raster is normal: its shape is what counts. */
function framingChecks({ framing }: EditList, movie: Original | null, options: ListOptions): SettingCheck[] {
  const raster = framing?.raster ?? null;
  const shape = (r: Raster, pixel: number) => (r.width * pixel) / r.height;
  const agrees =
    raster && movie
      ? Math.abs(shape(raster, framing?.pixelAspect ?? 1) / shape(movie.raster, movie.pixelAspect ?? 1) - 1) < SAME_SHAPE
      : null;
  const same = raster && movie && raster.width === movie.raster.width && raster.height === movie.raster.height;
  const checks: SettingCheck[] = [
    {
      name: 'Raster',
      list: raster ? rasterText(raster) : 'not stated',
      reference: movie ? rasterText(movie.raster) : '',
      agrees,
      detail:
        agrees === false
          ? 'The two are of different shape: look for a letterbox in the reference, or set the raster of the cut.'
          : agrees && !same
            ? 'Of the same shape; an offline at another size than the cut is normal.'
            : options.raster
              ? 'Set by hand.'
              : '',
    },
  ];
  const aspect = framing?.pixelAspect ?? null;
  if (aspect !== null)
    checks.push({
      name: 'Pixel aspect',
      list: pixelText(aspect),
      reference: movie?.pixelAspect ? pixelText(movie.pixelAspect) : '',
      agrees: movie?.pixelAspect ? Math.abs(aspect / movie.pixelAspect - 1) < SAME_SHAPE : null,
      detail: '',
    });
  if (framing?.fields)
    checks.push({
      name: 'Fields',
      list: { progressive: 'progressive', 'upper-first': 'upper first', 'lower-first': 'lower first' }[framing.fields],
      reference: '',
      agrees: null,
      detail: framing.fields === 'progressive' ? '' : 'The cut is interlaced; conform and proof work in whole frames.',
    });
  return checks;
}

const pixelText = (aspect: number): string => (Math.abs(aspect - 1) < 0.001 ? 'square' : aspect.toFixed(3));
