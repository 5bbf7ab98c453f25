import { formatShift, type Rate } from '../time';
import { plural } from '../words';
import type { Proposal } from './proposals';

const OF = { reel: 'reel', 'clip-name': 'clip name', 'file-name': 'file name' } as const;
const CARRIED = { label: 'by their labels', 'real-time': 'by real time', 'frame-count': 'frame for frame' } as const;

const KNOWN_BY = { name: 'name and timecode', content: 'content', size: 'timecode, length and size' } as const;
const nameOf = (path: string): string => path.split('/').pop() ?? path;

/** A proposal in one sentence; `rate` is that of the list's source. */
export function proposalText({ cause }: Pick<Proposal, 'cause'>, rate: Rate): string {
  if (cause.kind === 'pattern')
    return cause.pattern.kind === 'reel'
      ? `Reels of the list are the first ${cause.pattern.takes.length} characters of the ${OF[cause.pattern.takes.of]}.`
      : `Names like ${cause.pattern.find} are called ${cause.pattern.becomes} here.`;
  if (cause.kind === 'found-again') {
    const [first] = cause.files;
    const one = first ? `${nameOf(first.from)} lies at ${first.to} now` : '';
    return cause.files.length === 1
      ? `${one}, known by its ${KNOWN_BY[first?.by ?? 'name']}.`
      : `${plural(cause.files.length, 'missing original')} lie elsewhere now: ${one}, and so on.`;
  }
  const who = cause.reel === null ? 'These events' : `Reel ${cause.reel}`;
  const { reading } = cause;
  switch (reading.kind) {
    case 'shift':
      return `${who}: source timecode is ${formatShift(reading.frames, rate)} off.`;
    case 'from-clip':
      return `${who}: source timecode counts from the first frame of each clip.`;
    case 'carry':
      return `${who}: source timecodes were carried to another rate ${CARRIED[reading.carry]}.`;
    case 'between':
      return `${who}: source timecode is off by some frames, between ${formatShift(reading.least, rate)} and ${formatShift(reading.most, rate)}; pictures must tell how many.`;
  }
}

/** What speaks for a proposal and against it, in numbers. */
export const votesText = ({ cause, events, exceptions }: Proposal): string =>
  `${plural(events.length, 'event')}${cause.kind === 'reading' ? `, told by ${plural(cause.clips, 'clip')}` : ''}${exceptions.length > 0 ? `; ${plural(exceptions.length, 'event speaks', 'events speak')} against it` : ''}`;
