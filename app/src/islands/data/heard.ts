import { asideAt } from '@gemello/core/conform';
import { useMemo } from 'react';
import type { ConformView } from '../../contract/ledger';
import type { HeardFile } from './api';
import { useLooking } from './looking';
import { useConform } from './queries';

/** What is heard under the cut, and where it lies. */
export interface Heard extends HeardFile {
  readonly name: string;
  /** Where in it a record frame is heard, in seconds from its first picture or sample. */
  secondsAt(record: number): number;
}

/** What can be heard of a job, guide sound first: it was made to be heard. */
export function heardOf(conform: ConformView | null | undefined): Heard[] {
  if (!conform) return [];
  const { list, guide, reference, looks } = conform;
  const all: Heard[] = [];
  if (guide?.lies) {
    const { at } = guide.lies;
    const { num, den } = list.rate;
    all.push({
      from: 'guide',
      name: guide.sound.fileName,
      look: looks[guide.sound.path] ?? '',
      secondsAt: (record) => (record * den) / num - at,
    });
  }
  if (reference?.movie.sound) {
    const { movie, lay } = reference;
    // Its frames are counted at its own rate.
    const secondsAt = (record: number) => ((record - lay.start + asideAt(lay.steps ?? [], record)) * movie.rate.den) / movie.rate.num;
    all.push({ from: 'reference', name: movie.fileName, look: looks[movie.path] ?? '', secondsAt });
  }
  return all;
}

/** What is heard now: as was chosen, where there is a choice. */
export function useHeard(job: string): { readonly heard: Heard | null; readonly all: readonly Heard[] } {
  const { data } = useConform(job);
  const from = useLooking((s) => s.hears);
  const all = useMemo(() => heardOf(data), [data]);
  return { all, heard: all.find((h) => h.from === from) ?? all[0] ?? null };
}
