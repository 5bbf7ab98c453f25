import type { EditList } from '../edit';
import { RATES, type Rate } from '../time';

/** What a reader may be told, since not every list says it of itself. */
export interface ListOptions {
  /** Rate of the record's timecodes; stands over what the list says. */
  readonly rate?: Rate | undefined;
}

/** The list that comes of a file of which nothing could be read: empty, with the reason. */
export function unreadableList(format: string, message: string): EditList {
  return {
    format,
    title: '',
    rate: RATES['24'],
    tracks: [],
    notes: [],
    metadata: null,
    notices: [{ severity: 'unreadable', code: 'unreadable', line: null, event: null, message }],
  };
}
