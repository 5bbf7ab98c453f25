import { type Frames, formatRate, framesPerSecond, nominal, RATES, type Rate, sameSpeed } from '../../time';
import type { Sentence } from '../../words';
import { checked, DEEPEST, itemSchema, type OtioObject, type OtioTime, schemaName } from './schema';
import { frames, rateOf } from './times';
import { OTIO_WORDS } from './wording';

/** Below this a rate counts something else than the frames of a cut, such as seconds. */
const SLOWEST = 10;

/**
 * The rate of the record: that of the start time, unless the clips count the same whole number of frames a second at
 * another speed (24 and 23.976) or the start is counted in something else; then that of the first clip. What differs is said.
 */
export function rateOfTimeline(
  start: Rate | null,
  clips: readonly Rate[],
  given: Rate | undefined,
): { rate: Rate; assumed: Sentence | null } {
  const [first] = clips;
  if (!start || framesPerSecond(start) < SLOWEST) {
    if (first) return { rate: first, assumed: null };
    const rate = given ?? RATES['24'];
    return {
      rate,
      assumed: OTIO_WORDS.rateAssumed({ rate: formatRate(rate) }),
    };
  }
  if (!first || clips.some((c) => sameSpeed(c, start))) return { rate: start, assumed: null };
  const alike = clips.find((c) => nominal(c) === nominal(start));
  if (alike) return { rate: alike, assumed: OTIO_WORDS.rateOfClips({ start: formatRate(start), rate: formatRate(alike) }) };
  return {
    rate: start,
    assumed: OTIO_WORDS.rateOfStart({ start: formatRate(start), rate: formatRate(first) }),
  };
}

/** The start of a cut in frames: by count where both rates count alike, as a label must. */
export function startOf(time: OtioTime, rate: Rate): Frames {
  const stated = rateOf(time);
  return stated && nominal(stated) === nominal(rate) ? Math.round(time.value) : frames(time, rate);
}

/** A range of a track that begins below zero is a label of its start, which some systems write so; null where none does. */
export function labelOfTracks(stack: OtioObject, rate: Rate): Frames | null {
  const item = checked(itemSchema, stack);
  for (const child of ('data' in item && item.data.children) || []) {
    const track = checked(itemSchema, child);
    const start = 'data' in track ? track.data.source_range?.start_time : null;
    if (start && start.value < 0) return -frames(start, rate);
  }
  return null;
}

/** The rates at which clips state their lengths, in the order in which they are met. */
export function clipRates(object: OtioObject, found: Rate[] = [], depth = 0): readonly Rate[] {
  const item = checked(itemSchema, object);
  if ('wrong' in item || depth > DEEPEST) return found;
  const rate = schemaName(object) === 'Clip' ? rateOf(item.data.source_range?.duration) : null;
  if (rate && !found.some((f) => sameSpeed(f, rate))) found.push(rate);
  for (const child of item.data.children ?? []) clipRates(child, found, depth + 1);
  return found;
}
