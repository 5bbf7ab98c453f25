import { type Fields, wording } from '../../words';

/** What is said of a table as it is read. */
export const TABLE_WORDS = wording({
  tooWide: ({ headings, most }: Fields<'headings' | 'most'>) => `It has ${headings} columns; tables of more than ${most} are no lists.`,
  noSource: ({ headings }: Fields<'headings'>) =>
    `No column for source in and out was found among: ${headings}. Say which columns they are.`,
  rateAssumed: ({ rate }: Fields<'rate'>) => `A table does not state its frame rate; ${rate} was assumed. Set the rate if that is wrong.`,
  brokenRow: ({ row, sourceIn, sourceOut }: Fields<'row' | 'sourceIn' | 'sourceOut'>) =>
    `Row ${row} has no source in and out that could be read ("${sourceIn}", "${sourceOut}"); it was left out.`,
  speed: ({ row, speed }: Fields<'row' | 'speed'>) => `Row ${row} has a speed that is no number ("${speed}"); natural speed was taken.`,
  impossible: ({ row, rate }: Fields<'row' | 'rate'>) =>
    `Row ${row} has a timecode that cannot exist at ${rate}; is the rate right? It was counted on.`,
  lengthDiffers: ({ row, source, record }: Fields<'row' | 'source' | 'record'>) =>
    `Row ${row} takes ${source} frames of source for ${record} frames of record, which its speed does not say; its source in and the length of the record are used.`,
  sourceBackwards: ({ row, forward }: Fields<'row'> & { readonly forward: boolean }) =>
    `Row ${row} has its source out before its source in; ${forward ? 'but its speed runs forward, which was taken' : 'it was read as running in reverse'}.`,
  recordBackwards: ({ row }: Fields<'row'>) => `Row ${row} ends on the record before it begins; it was left out.`,
});
