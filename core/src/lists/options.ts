import { atLine, type EditList, EMPTY_LIST, type Raster } from '../edit';
import { RATES, type Rate } from '../time';
import type { Sentence } from '../words';
import type { ColumnMapping } from './table/columns';

/** What a reader may be told, since not every list says it of itself. */
export interface ListOptions {
  /** Rate of the record's timecodes; stands over what the list says. */
  readonly rate?: Rate | undefined;
  /** Size of the cut's frame in pixels; stands over what the list says. */
  readonly raster?: Raster | undefined;
  /** Which of the cuts a file holds, from 0; the first when absent. */
  readonly sequence?: number | undefined;
  /** Which heading of a table holds which field; guessed from the headings when absent. */
  readonly columns?: ColumnMapping | undefined;
}

/** The list that comes of a file of which nothing could be read: empty, with the reason and its line where there is one. */
export function unreadableList(format: string, said: Sentence, line: number | null = null): EditList {
  return {
    ...EMPTY_LIST,
    format,
    rate: RATES['24'],
    notices: [{ severity: 'unreadable', code: 'unreadable', place: atLine(line), event: null, ...said }],
  };
}
