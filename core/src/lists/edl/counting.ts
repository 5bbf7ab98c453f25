import { canDropFrames, formatRate, isDropLabel, RATES, type Rate } from '../../time';
import type { Sentence } from '../../words';
import type { PlacedLine } from './grammar';
import { EDL_WORDS } from './wording';

/** How the labels of a list are counted, and what is to be said of that. */
export interface Counting {
  /** The rate of the record, with its way of counting. */
  readonly rate: Rate;
  readonly notices: readonly { readonly code: string; readonly at: number | null; readonly said: Sentence }[];
}

/** What the labels of a list show. */
export interface Labels {
  readonly highest: number;
  /** The first line of a record label that is written as drop-frame, with a semicolon before its frames. */
  readonly semicolonAt: number | null;
  readonly fcm: { readonly dropFrame: boolean; readonly at: number } | null;
}

export const NO_LABELS: Labels = { highest: 0, semicolonAt: null, fcm: null };

/** What is known of the labels after one line more. */
export function withLabelsOf(known: Labels, { line, at }: PlacedLine): Labels {
  if (line.kind === 'fcm') return known.fcm ? known : { ...known, fcm: { dropFrame: line.dropFrame, at } };
  if (line.kind !== 'event') return known;
  let { highest } = known;
  for (const timecode of [line.sourceIn, line.sourceOut, line.recordIn, line.recordOut])
    highest = Math.max(highest, Number(timecode.slice(timecode.search(/\d+$/))));
  const semicolonAt = known.semicolonAt ?? (isDropLabel(line.recordIn) ? at : null);
  return highest === known.highest && semicolonAt === known.semicolonAt ? known : { ...known, highest, semicolonAt };
}

/**
 * The rate of a list and how it counts. The first FCM line settles whether the record drops frames; without one, a
 * semicolon before the frames does (SMPTE ST 12-1), which only 29.97 and its multiples can mean. A rate that is not
 * given is the lowest usual one whose labels could hold every frame digit. What is assumed, and what contradicts, is said.
 */
export function countingOf(labels: Labels, given: Rate | undefined): Counting {
  const { fcm, semicolonAt } = labels;
  const drops = fcm ? fcm.dropFrame : semicolonAt !== null;
  const rate = given ?? lowestRate(labels.highest, drops);
  const counted = fcm || drops ? { ...rate, dropFrame: drops && canDropFrames(rate) } : rate;
  const notices: Counting['notices'][number][] = [];
  const say = (code: string, at: number | null, said: Sentence) => notices.push({ code, at, said });
  if (!given)
    say(
      'rate-assumed',
      null,
      drops ? EDL_WORDS.dropRateAssumed({ rate: formatRate(counted) }) : EDL_WORDS.rateAssumed({ rate: formatRate(counted) }),
    );
  if (fcm?.dropFrame && !canDropFrames(rate)) say('drop-frame-impossible', fcm.at, EDL_WORDS.dropFrameAsked({ rate: formatRate(rate) }));
  else if (!fcm && semicolonAt !== null && !canDropFrames(rate))
    say('drop-frame-impossible', semicolonAt, EDL_WORDS.semicolonsImpossible({ rate: formatRate(rate) }));
  if (fcm && !fcm.dropFrame && semicolonAt !== null && canDropFrames(rate))
    say('counting-contradicts', semicolonAt, EDL_WORDS.countingContradicts());
  return { rate: counted, notices };
}

function lowestRate(highest: number, drops: boolean): Rate {
  if (drops) return highest >= 30 ? RATES['59.94df'] : RATES['29.97df'];
  if (highest < 24) return RATES['24'];
  if (highest < 25) return RATES['25'];
  if (highest < 30) return RATES['30'];
  return highest < 50 ? RATES['50'] : RATES['60'];
}
