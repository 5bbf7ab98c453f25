import { heardUnder, secondsHeard } from '@gemello/core/conform';
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

/** What can be heard of a job. */
export function heardOf(conform: ConformView | null | undefined): Heard[] {
  if (!conform) return [];
  const { list, guide, reference, looks } = conform;
  return heardUnder(guide, reference).map((one) => ({
    from: one.from,
    name: one.sound.fileName,
    look: looks[one.sound.path] ?? '',
    secondsAt: (record) => secondsHeard(one, record, list.rate),
  }));
}

/** What is heard now: as was chosen, where there is a choice. */
export function useHeard(job: string): { readonly heard: Heard | null; readonly all: readonly Heard[] } {
  const { data } = useConform(job);
  const from = useLooking((s) => s.hears);
  const all = useMemo(() => heardOf(data), [data]);
  return { all, heard: all.find((h) => h.from === from) ?? all[0] ?? null };
}
