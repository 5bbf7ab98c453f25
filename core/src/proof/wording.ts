import { plural } from '../words';
import type { CannotTell, Finding } from './verdict';

const CANNOT_TELL: Readonly<Record<CannotTell, string>> = {
  'too-soft': 'The picture is too soft to compare: compression weighs as much as what is in it.',
  unlike: 'The right picture seems to be there, but size, position or content differ.',
  still: 'The picture hardly moves here, so a slip of a frame or more would not show.',
  'not-paired': 'No original is paired with this event.',
  covered: 'It never stands alone in the picture within the reference: a transition or another layer covers it.',
};

/** A finding in words for the person at the desk. */
export function describeFinding(finding: Finding): string {
  switch (finding.kind) {
    case 'slipped':
      return `Slipped: the reference shows the source ${plural(Math.abs(finding.frames), 'frame')} ${finding.frames > 0 ? 'later' : 'earlier'}`;
    case 'wrong-picture':
      return finding.path
        ? `Another picture: the reference shows ${finding.path.split('/').pop()}${finding.sourceIn ? ` from ${finding.sourceIn}` : ''}`
        : 'Another picture, found in none of the originals';
    case 'reframed':
      return `Reframed: the reference shows it at ${Math.round(finding.scale * 100)} %, moved by ${Math.round(finding.x * 100)} % and ${Math.round(finding.y * 100)} % of the frame`;
    case 'picture-missing':
      return finding.frames === undefined
        ? 'The original has none of the frames that are asked for'
        : `Picture missing: the original lacks ${plural(finding.frames, 'frame')} of those the reference shows`;
    case 'cannot-tell':
      // What a file has against being read comes as it was said.
      return CANNOT_TELL[finding.why as CannotTell] ?? finding.why;
  }
}
