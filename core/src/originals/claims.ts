import { canDropFrames, type Frames, formatRate, parseRate, parseTimecode, type Rate, sameSpeed } from '../time';
import type { Claim, ClaimField, Warning } from './model';

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
  const warnings: Warning[] = [];
  const of = (field: ClaimField) => said.filter((c) => c.field === field && c.value.trim() !== '');
  const labels = of('timecode').filter((c) => parseTimecode(c.value, rate) !== null);
  const zero = (c: Said) => /^[0:;.,]+$/.test(c.value.trim());
  const label = labels.find((c) => !zero(c)) ?? labels[0] ?? null;
  const rates = of('rate').filter((c) => parseRate(c.value) !== null);
  const reel = of('reel')[0] ?? null;
  const name = of('clipName')[0] ?? null;

  const other = rates.find((c) => !sameSpeed(parseRate(c.value) as Rate, rate));
  if (other) warnings.push(disagreement('rate', `The file runs at ${formatRate(rate)}, but ${other.origin} says ${other.value}.`));
  const semicolon = (c: Said) => /;\d+$/.test(c.value.trim());
  const counted = { ...rate, dropFrame: label !== null && semicolon(label) && canDropFrames(rate) };
  const otherCount = label && canDropFrames(rate) && labels.find((c) => !zero(c) && semicolon(c) !== semicolon(label));
  if (label && otherCount)
    warnings.push(
      disagreement(
        'drop-frame',
        `${label.origin} counts ${semicolon(label) ? 'in drop-frame' : 'non-drop'}, ${otherCount.origin} does not.`,
      ),
    );
  const frames = (c: Said) => parseTimecode(c.value, counted);
  const otherLabel = label && labels.find((c) => !zero(c) && frames(c) !== frames(label));
  if (label && otherLabel)
    warnings.push(
      disagreement('timecode', `${label.origin} says ${label.value}, ${otherLabel.origin} says ${otherLabel.value}; the first was taken.`),
    );
  const plain = (text: string) => text.replace(/[\s_.-]+/g, '').toLowerCase();
  const otherReel = reel && of('reel').find((c) => plain(c.value) !== plain(reel.value) && c.origin !== FOLDER);
  if (reel && otherReel)
    warnings.push(
      disagreement('reel', `${reel.origin} says reel ${reel.value}, ${otherReel.origin} says ${otherReel.value}; the first was taken.`),
    );

  const taken = new Set([label, reel, name, rates.find((c) => sameSpeed(parseRate(c.value) as Rate, rate)) ?? null]);
  return {
    start: label ? (frames(label) ?? 0) : 0,
    hasTimecode: label !== null,
    rate: counted,
    reel: reel?.value.trim() ?? '',
    clipName: name?.value.trim() ?? fallbackName,
    claims: said.filter((c) => c.value.trim() !== '').map((c) => ({ ...c, taken: taken.has(c) })),
    warnings,
  };
}

/** How the name of a clip's folder is called as a source. */
export const FOLDER = 'the folder name';

const disagreement = (what: string, sentence: string): Warning => ({
  code: `${what}-disagrees`,
  message: `${sentence} Choose which one is right on the page of the clip.`,
});
