import type { Step } from '../conform';
import type { SpeedKey } from '../edit';
import { formatTimecode, type Rate } from '../time';
import { plural, signed } from '../words';
import type { CannotTell, Finding, Passage, Take } from './verdict';

const CANNOT_TELL: Readonly<Record<CannotTell, string>> = {
  'too-soft': 'The picture is too soft to compare: compression weighs as much as what is in it',
  unlike: 'Neither this picture nor another that is known agrees with the reference well enough',
  still: 'The picture hardly moves here',
  'not-paired': 'No original is paired with this event',
  covered: 'It never stands alone in the picture within the reference: a transition or another layer covers it',
};

const percent = (share: number): string => `${Math.round(share * 1000) / 10} %`;

/** A speed factor as people say it. */
export const speedText = (factor: number): string => (factor === 0 ? 'a freeze' : percent(factor));

/** The speeds between keys, in order. */
const keysText = (keys: readonly SpeedKey[]): string =>
  keys
    .slice(1)
    .map((key, i) => speedText((key.source - (keys[i] as SpeedKey).source) / (key.record - (keys[i] as SpeedKey).record)))
    .join(', then ');

function passageText(passage: Passage | null): string {
  if (!passage) return 'a cut';
  if (passage.to || passage.from) return `a fade ${passage.to ? 'out' : 'in'} of ${plural(passage.durationFrames, 'frame')}`;
  const pattern = passage.wipeCode ? ` ${passage.wipeCode}${passage.reverse ? ' run in reverse' : ''}` : '';
  return `a ${passage.type}${pattern} of ${plural(passage.durationFrames, 'frame')}`;
}

/** Where a reference lost or doubled frames, each in one sentence. */
export const stepsText = (steps: readonly Step[], rate: Rate): string[] =>
  steps.map(({ from, by }, i) => {
    const aside = by - (steps[i - 1]?.by ?? 0);
    const what = `${aside < 0 ? 'lost' : 'doubled'} ${plural(Math.abs(aside), 'frame')}`;
    return `The reference ${what} at ${formatTimecode(from, rate)}; it is followed from there on.`;
  });

const takeText = ({ path, sourceIn }: Pick<Take, 'path' | 'sourceIn'>): string =>
  `${path.split('/').pop()}${sourceIn ? ` from ${sourceIn}` : ''}`;

const besideText = (range?: readonly [number, number]): string =>
  range ? `; it hardly moves, and looks the same from ${signed(range[0])} to ${signed(range[1])} frames aside` : '';

const othersText = (others: readonly Take[] = []): string =>
  others.length > 0 ? `; as well would fit ${others.map(takeText).join(', ')}` : '';

/** A finding in words for the person at the desk, without a full stop. */
export function describeFinding(finding: Finding): string {
  switch (finding.kind) {
    case 'slipped': {
      const range = finding.range ? `; slips from ${signed(finding.range[0])} to ${signed(finding.range[1])} look alike` : '';
      return `Slipped: the reference shows the source ${plural(Math.abs(finding.frames), 'frame')} ${finding.frames > 0 ? 'later' : 'earlier'}${range}`;
    }
    case 'cut-moved':
      return `Cut moved: in the reference its ${finding.edge} point lies ${plural(Math.abs(finding.frames), 'frame')} ${finding.frames > 0 ? 'later' : 'earlier'}`;
    case 'wrong-picture':
      return finding.path
        ? `Another picture: the reference shows ${takeText({ path: finding.path, sourceIn: finding.sourceIn })}${besideText(finding.range)}${othersText(finding.others)}`
        : 'Another picture; no original was found that shows it';
    case 'reframed': {
      const turned = finding.rotation === 0 ? '' : `, turned by ${signed(finding.rotation)} degrees`;
      return `Reframed: the reference shows it at ${percent(finding.scale)}, moved by ${percent(finding.x)} and ${percent(finding.y)} of the frame${turned}`;
    }
    case 'mirrored':
      return finding.axis === 'horizontal'
        ? 'Mirrored: left and right are changed in the reference'
        : 'Mirrored: the reference shows it upside down';
    case 'speed-differs':
      if (finding.keys)
        return `Speed differs: it changes on the way in the reference, ${keysText(finding.keys)}; ${speedText(finding.expected)} in the list`;
      return `Speed differs: ${speedText(finding.measured)} in the reference, ${speedText(finding.expected)} in the list`;
    case 'transition-differs':
      return `Transition differs: ${passageText(finding.measured)} in the reference, ${passageText(finding.expected)} in the list`;
    case 'layer-missing':
      return finding.side === 'conform'
        ? 'Layer missing: something lies over the picture in the reference that the list does not explain'
        : 'Layer missing: a layer of the list is not in the reference';
    case 'picture-missing':
      if (finding.side === 'reference') return 'Picture missing: the reference is black here';
      return finding.frames === undefined
        ? 'The original has none of the frames that are asked for'
        : `Picture missing: the original lacks ${plural(finding.frames, 'frame')} of those the reference shows`;
    case 'cannot-tell': {
      // What a file has against being read comes as it was said.
      const why = CANNOT_TELL[finding.why as CannotTell] ?? finding.why.replace(/\.$/, '');
      const range = finding.range ? `: slips from ${signed(finding.range[0])} to ${signed(finding.range[1])} would all look the same` : '';
      return `${why}${range}${othersText(finding.others)}`;
    }
  }
}
