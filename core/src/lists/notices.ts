import type { Notice } from '../edit';
import { LIST_WORDS } from './wording';

/** Notices of one kind that are told one by one; what goes beyond is told as a number. */
const MOST_OF_A_KIND = 500;

/** The notices of one reading, in the order they came up. */
export interface NoticeLog<N extends Notice | Omit<Notice, 'event'> = Notice> {
  readonly told: N[];
  /** How many came up of each kind, and the last of those that were not told one by one. */
  readonly kinds: Map<string, { count: number; last: N }>;
}

export const noticeLog = <N extends Notice | Omit<Notice, 'event'> = Notice>(): NoticeLog<N> => ({ told: [], kinds: new Map() });

/** Takes a notice in; above `MOST_OF_A_KIND` of its kind it is only counted, so that no file can fill the memory with them. */
export function tell<N extends Notice | Omit<Notice, 'event'>>(log: NoticeLog<N>, notice: N): void {
  const kind = log.kinds.get(notice.code);
  if (!kind) log.kinds.set(notice.code, { count: 1, last: notice });
  else {
    kind.count++;
    kind.last = notice;
  }
  if (!kind || kind.count <= MOST_OF_A_KIND) log.told.push(notice);
}

/** All that is to be said, with a closing notice for each kind of which more came up than are told one by one. */
export function allTold<N extends Notice | Omit<Notice, 'event'>>({ told, kinds }: NoticeLog<N>): N[] {
  const closing = [...kinds.values()]
    .filter(({ count }) => count > MOST_OF_A_KIND)
    .map(({ count, last }) => ({
      ...last,
      ...LIST_WORDS.more({ count: count - MOST_OF_A_KIND, last: last.message }),
    }));
  return [...told, ...closing];
}
