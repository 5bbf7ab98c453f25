import { type Fields, plural } from '../words';

/** What is said against an original, for the person who chooses between originals. */
export const ORIGINALS_WORDS = {
  checksumDiffers: ({ manifest, files }: Fields<'manifest'> & { readonly files: readonly string[] }) =>
    `Its content is not what ${manifest} states: ${files.length === 1 ? files[0] : `${files.length} of its files, ${files[0]} first,`} differs. The copy is damaged or was changed; copy it again from the card.`,
  rate: ({ rate, other, value }: Fields<'rate' | 'other' | 'value'>) => chosen(`The file runs at ${rate}, but ${other} says ${value}.`),
  counting: ({ taken, other, dropFrame }: Fields<'taken' | 'other'> & { readonly dropFrame: boolean }) =>
    chosen(`${taken} counts ${dropFrame ? 'in drop-frame' : 'non-drop'}, ${other} does not.`),
  timecode: ({ taken, value, other, otherValue }: Fields<'taken' | 'value' | 'other' | 'otherValue'>) =>
    chosen(`${taken} says ${value}, ${other} says ${otherValue}; the first was taken.`),
  reel: ({ taken, value, other, otherValue }: Fields<'taken' | 'value' | 'other' | 'otherValue'>) =>
    chosen(`${taken} says reel ${value}, ${other} says ${otherValue}; the first was taken.`),
  looksLikeProxy: () => "The name ends like a proxy's. Make sure it is not standing in for its original.",
  timecodeAbsent: () => 'The file carries no timecode. Only its name can speak for it; look for a sidecar or the card it came from.',
  crossesMidnight: () => 'The clip runs past 24:00:00:00; timecodes after midnight start again at zero.',
  pixelsNotSquare: ({ aspect }: Fields<'aspect'>) => `Its pixels are ${aspect} times as wide as high; it is stretched when it is shown.`,
  reelStartsAtZero: ({ reel }: Fields<'reel'>) => `Every clip of reel ${reel} starts at 00:00:00:00, so timecode cannot tell them apart.`,
  timecodeOverlaps: ({ fileName, reel }: Fields<'fileName' | 'reel'>) => `Its timecode overlaps ${fileName} on reel ${reel}.`,
  sameContent: ({ path, proven }: Fields<'path'> & { readonly proven: boolean }) =>
    `The same file lies at ${path}, ${proven ? 'to the last byte, as was measured' : 'by size, head and tail; measure both to be sure'}. Either will do; the cut needs one.`,
  sameName: ({ contents, clipName }: Fields<'clipName'> & { readonly contents: number }) =>
    `${plural(contents, 'different original is', 'different originals are')} called ${clipName}. Look at them side by side before one is chosen.`,
  rasterUnusual: ({ raster, reel, usual }: Fields<'raster' | 'reel' | 'usual'>) =>
    `It is ${raster} where the other clips of reel ${reel} are ${usual}. Is it a proxy or an export?`,
  nameUnusual: ({ reel, like }: Fields<'reel' | 'like'>) =>
    `The other clips of reel ${reel} are called like ${like}; was this file renamed?`,
} as const;

const chosen = (sentence: string): string => `${sentence} Choose which one is right on the page of the clip.`;
