import { type Fields, plural } from '../words';

type Counts<Name extends string> = Readonly<Record<Name, number>>;

/** What is said of a return: before it is written, and of each file of it that came out otherwise than planned. */
export const RETURN_WORDS = {
  notPaired: ({ number, name }: Fields<'number' | 'name'>) =>
    `Event ${number} (${name}) has no accepted original and is not rendered; the list keeps what the editor had.`,
  framesMissing: ({ number, fileName, frames }: Fields<'number' | 'fileName'> & Counts<'frames'>) =>
    `Event ${number} (${fileName}) lacks ${plural(frames, 'frame')} that the cut shows; the original ends before them.`,
  framesMissingInside: ({ number, fileName, frames }: Fields<'number' | 'fileName'> & Counts<'frames'>) =>
    `Event ${number} (${fileName}) lacks ${plural(frames, 'numbered frame')} inside; each is filled with the picture before it. Copy the folder again to have them.`,
  shortHandles: ({ number, fileName, head, tail }: Fields<'number' | 'fileName'> & Counts<'head' | 'tail'>) =>
    `Event ${number} (${fileName}) has ${plural(head, 'frame')} of handle at the head and ${tail} at the tail, where the original ends.`,
  notWritten: () => 'was not written',
  otherLength: ({ found, planned }: Counts<'found' | 'planned'>) => `has ${plural(found, 'frame')}, not ${planned}`,
  otherRate: () => 'runs at another rate',
  otherStart: ({ found, planned }: Fields<'found' | 'planned'>) => `starts at ${found}, not ${planned}`,
  otherReel: ({ found, planned }: Fields<'found' | 'planned'>) => `carries reel "${found}", not "${planned}"`,
} as const;
