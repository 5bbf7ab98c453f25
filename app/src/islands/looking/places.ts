import type { LedgerRow, LedgerView } from '../../contract';
import type { ConformView } from '../../contract/ledger';
import { hasFinding } from '../data/events';

/** What the playhead can be sent to the next of. */
export const PLACES = ['cut', 'finding', 'marker'] as const;
export type Place = (typeof PLACES)[number];

/** Record frames of every place of a kind, in their order, each once. */
export function placesOf(kind: Place, { rows }: LedgerView, conform: ConformView | null | undefined): number[] {
  const frames = {
    cut: () => rows.map((r) => r.recordFrames.in),
    finding: () => rows.filter(hasFinding).map((r) => r.recordFrames.in),
    marker: () =>
      conform?.list.tracks.filter((t) => t.kind === 'picture').flatMap((t) => t.events.flatMap((e) => e.markers.map((m) => m.record))) ??
      [],
  }[kind]();
  return [...new Set(frames)].sort((a, b) => a - b);
}

/** The next place after a frame, or before it; null where there is none. */
export const nextPlace = (places: readonly number[], at: number, by: 1 | -1): number | null =>
  (by > 0 ? places.find((p) => p > at) : places.findLast((p) => p < at)) ?? null;

/** The row that stands at a record frame: on the track of the one that is looked at where it can be, else on the lowest that has one. */
export function rowAt(rows: readonly LedgerRow[], frame: number, track: string): LedgerRow | null {
  const here = rows.filter((r) => frame >= r.recordFrames.in && frame < r.recordFrames.out);
  return here.find((r) => r.track === track) ?? here.sort((a, b) => a.track.localeCompare(b.track))[0] ?? null;
}
