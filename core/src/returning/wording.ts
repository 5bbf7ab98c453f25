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
  speedBaked: ({ number, fileName }: Fields<'number' | 'fileName'>) =>
    `Event ${number} (${fileName}) has its speed in the pictures: it is listed at natural speed, and only its first frame has the timecode of the source.`,
  placementLeft: ({ number, fileName }: Fields<'number' | 'fileName'>) =>
    `Event ${number} (${fileName}) keeps its placement in the list: it moves with the cut, and the clip does not run as the cut does. Bake speeds, too.`,
  soundLeft: ({ number, fileName }: Fields<'number' | 'fileName'>) =>
    `Event ${number} (${fileName}) goes without sound: its pictures do not run as the sound does.`,
  noSound: ({ number, fileName }: Fields<'number' | 'fileName'>) =>
    `Event ${number} (${fileName}) goes without sound: its original has none.`,
  burnInToKeep: () => 'Text is burnt into clips to look at alone. Choose H.264 or HEVC, or leave the burn-in empty.',
  noFolder: () => 'Say which folder the clips will be in on the other machine, or have the lists find them beside the lists.',
  soundInFrames: () => 'Numbered frames have no sound. Choose a movie, or leave the sound out.',
  eventNotInList: ({ number, from, to }: Fields<'number' | 'from' | 'to'>) => `has no event ${number} from ${from} to ${to}`,
  leadsNowhere: ({ number }: Fields<'number'>) => `leads to no clip of the return at event ${number}`,
  leadsElsewhere: ({ number, found, planned }: Fields<'number' | 'found' | 'planned'>) =>
    `leads to ${found} at event ${number}, not to ${planned}`,
  leadsToSeveral: ({ number, found }: Fields<'number' | 'found'>) => `leads to several clips at event ${number}, ${found} among them`,
  clipTooShort: ({ number, found }: Fields<'number' | 'found'>) => `shows frames at event ${number} that ${found} has not`,
  otherFrame: ({ number, fileName, found, planned }: Fields<'number' | 'fileName'> & Counts<'found' | 'planned'>) =>
    `begins at frame ${found} of ${fileName} at event ${number}, not at ${planned}`,
  lutNotHere: ({ file }: Fields<'file'>) => `was not written: the LUT ${file} is not here`,
  alphaLeft: () => 'has no alpha, and its original has one: its pictures lie over black. Write clips of the ProRes HQ class to keep it.',
  otherPicture: ({ frame }: Counts<'frame'>) => `shows another picture than was meant at its frame ${frame}`,
  unknownField: ({ field, known }: Fields<'field' | 'known'>) => `{${field}} is not known here; there are ${known}.`,
  openBrace: () => 'A brace is not closed, or not opened.',
  noField: ({ known }: Fields<'known'>) => `All clips would have one name. Take in at least one of ${known}.`,
  notWritten: () => 'was not written',
  otherLength: ({ found, planned }: Counts<'found' | 'planned'>) => `has ${plural(found, 'frame')}, not ${planned}`,
  otherRate: () => 'runs at another rate',
  otherStart: ({ found, planned }: Fields<'found' | 'planned'>) => `starts at ${found}, not ${planned}`,
  otherReel: ({ found, planned }: Fields<'found' | 'planned'>) => `carries reel "${found}", not "${planned}"`,
} as const;
