import { type Conform, compile, newPicture, type Part, pictureAt } from '@gemello/core/conform';
import { formatTimeOfDay } from '@gemello/core/time';
import type { ConformView } from '../../contract/ledger';

/** What stands at a record frame on one layer, from the bottom up. */
export interface Stand {
  readonly event: string;
  readonly number: string;
  readonly reel: string;
  readonly fileName: string;
  /** Frame of the file, from 0. */
  readonly sourceFrame: number;
  /** Its label in the file; null where there is none. */
  readonly source: string | null;
  readonly side: 'alone' | 'leaving' | 'incoming';
}

/** The conform as the page has it: the one time map (core/conform), compiled here from what the server sent. */
export interface Standing {
  load(view: ConformView | null): void;
  at(record: number): Stand[];
}

/** Compiles what it is given and says what stands where. It knows nothing of where it runs. */
export function openStanding(): Standing {
  let conform: Conform | null = null;
  const picture = newPicture();
  return {
    load(view) {
      conform = view && compile(view.list, view.originals);
    },
    at(record) {
      if (!conform) return [];
      const { parts, count } = pictureAt(conform, record, picture);
      return parts.slice(0, count).flatMap(standOf);
    },
  };
}

/** What a part of a picture is, in words and numbers. */
export function standOf({ shot, sourceFrame, side }: Part): Stand[] {
  const { original, event } = shot;
  if (!original) return [];
  return [
    {
      event: event.key,
      number: event.number,
      reel: original.reel,
      fileName: original.fileName,
      sourceFrame,
      source: original.hasTimecode ? formatTimeOfDay(original.start + sourceFrame, original.rate) : null,
      side,
    },
  ];
}
