import { canDropFrames, type Frames, formatRate, isTimecode, parseRate, parseTimecode, type Rate, sameSpeed } from '../time';
import type { Claim, Warning } from './model';
import { looseReel } from './names';
import { ORIGINALS_WORDS } from './wording';

/**
 * What is taken for true of a clip where several sources speak. Sources are given in the order of
 * their trust: the file's own header, then a sidecar, a clip log, the folder's name.
 */
export interface Settlement {
  readonly start: Frames;
  readonly hasTimecode: boolean;
  readonly rate: Rate;
  readonly reel: string;
  readonly clipName: string;
  /** All that was said, each with whether it is the one taken. */
  readonly claims: readonly Claim[];
  readonly warnings: readonly Warning[];
}

/** A claim before it is known whether it is taken. */
export type Said = Omit<Claim, 'taken'>;

/**
 * Settles what the sources say: the first one that speaks is taken, but for a header timecode of
 * 00:00:00:00 where another source says more, since that is what a system writes that could not read
 * it (common practice). Where sources disagree a warning names both. `rate` is the file's own.
 */
export function settleClaims(said: readonly Said[], rate: Rate, fallbackName: string): Settlement {
  const spoken = said.filter((c) => c.value.trim() !== '');
  const labels = spoken.filter((c) => c.field === 'timecode' && isTimecode(c.value));
  const reels = spoken.filter((c) => c.field === 'reel');
  const label = labels.find((c) => !isZero(c)) ?? labels[0];
  const [name, scene, take] = (['clipName', 'scene', 'take'] as const).map((field) => spoken.find((c) => c.field === field));
  const { agreed, other } = ratesAgainst(spoken, rate);
  const counted: Rate = { num: rate.num, den: rate.den, dropFrame: label !== undefined && canDropFrames(rate) && isDropFrame(label) };

  const warnings: Warning[] = [];
  if (other) warnings.push(disagreement('rate', ORIGINALS_WORDS.rate({ rate: formatRate(rate), other: other.origin, value: other.value })));
  if (label && labels.length > 1) warnings.push(...labelsAtOdds(label, labels, counted));
  if (reels.length > 1) warnings.push(...reelsAtOdds(reels));
  return {
    start: label ? (parseTimecode(label.value, counted) ?? 0) : 0,
    hasTimecode: label !== undefined,
    rate: counted,
    reel: reels[0]?.value.trim() ?? '',
    clipName: name?.value.trim() ?? fallbackName,
    claims: spoken.map((c) => ({
      field: c.field,
      value: c.value,
      origin: c.origin,
      taken: [label, reels[0], name, scene, take, agreed].includes(c),
    })),
    warnings,
  };
}

/** The first source that gives the file's own rate, and the first that gives another. */
function ratesAgainst(spoken: readonly Said[], rate: Rate): { agreed?: Said; other?: Said } {
  let [agreed, other]: (Said | undefined)[] = [];
  for (const c of spoken) {
    const stated = c.field === 'rate' ? parseRate(c.value) : null;
    if (!stated) continue;
    if (sameSpeed(stated, rate)) agreed ??= c;
    else other ??= c;
  }
  return { agreed, other };
}

/** What says another timecode than the one taken, or counts it otherwise. Zeros are no word to the contrary. */
function labelsAtOdds(taken: Said, labels: readonly Said[], rate: Rate): Warning[] {
  const warnings: Warning[] = [];
  const others = labels.filter((c) => !isZero(c));
  const count = canDropFrames(rate) && others.find((c) => isDropFrame(c) !== isDropFrame(taken));
  if (count)
    warnings.push(
      disagreement('drop-frame', ORIGINALS_WORDS.counting({ taken: taken.origin, other: count.origin, dropFrame: rate.dropFrame })),
    );
  const start = parseTimecode(taken.value, rate);
  const other = others.find((c) => parseTimecode(c.value, rate) !== start);
  if (other)
    warnings.push(
      disagreement(
        'timecode',
        ORIGINALS_WORDS.timecode({ taken: taken.origin, value: taken.value, other: other.origin, otherValue: other.value }),
      ),
    );
  return warnings;
}

/** What names another reel than the first; the folder's name is no word to the contrary. */
function reelsAtOdds(reels: readonly Said[]): Warning[] {
  const taken = reels[0] as Said;
  const other = reels.find((c) => c.origin !== FOLDER && looseReel(c.value) !== looseReel(taken.value));
  if (!other) return [];
  return [
    disagreement('reel', ORIGINALS_WORDS.reel({ taken: taken.origin, value: taken.value, other: other.origin, otherValue: other.value })),
  ];
}

const isZero = (label: Said) => /^[0:;.,]+$/.test(label.value.trim());
const isDropFrame = (label: Said) => /;\d+$/.test(label.value.trim());

/** How the name of a clip's folder is called as a source. */
export const FOLDER = 'the folder name';

const disagreement = (what: string, message: string): Warning => ({
  code: `${what}-disagrees`,
  message,
});
