import type { Fields } from '../words';

/** What is wrong with a file of grades or a look-up table, with its line from 1. */
export const GRADE_WORDS = {
  secondSize: ({ line }: Fields<'line'>) => `Line ${line} gives a second size.`,
  impossibleSize: ({ line, most, found }: Fields<'line' | 'most' | 'found'>) =>
    `Line ${line}: a size of 2 to ${most} was expected, not ${found}.`,
  notThree: ({ line, word }: Fields<'line' | 'word'>) => `Line ${line}: three numbers were expected after ${word}.`,
  beforeSize: ({ line }: Fields<'line'>) => `Line ${line} is an entry, but no size came before it.`,
  brokenEntry: ({ line }: Fields<'line'>) => `Line ${line}: an entry is three numbers.`,
  oneTooMany: ({ line }: Fields<'line'>) => `Line ${line} is one entry more than the size allows.`,
  unreadableLine: ({ line, text }: Fields<'line' | 'text'>) => `Line ${line} cannot be read: “${text}”.`,
  noSize: () => 'The file gives no size.',
  cutOff: ({ entries, expected }: Fields<'entries' | 'expected'>) => `${entries} of ${expected} entries are there; the file is cut off.`,
  emptyDomain: () => 'The domain ends before it begins.',
  brokenXml: ({ fault, line }: Fields<'fault' | 'line'>) => `It is not well-formed XML: ${fault} (line ${line}).`,
  outOfRange: ({ id, line }: Fields<'id' | 'line'>) =>
    `Correction "${id}" (line ${line}) has numbers out of range: slope, offset and power are three numbers each; slope, power and saturation are 0 or above.`,
  noCorrection: () => 'No ColorCorrection was found in the file.',
} as const;
