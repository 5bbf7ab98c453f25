import type { Frames } from '../time';
import type { Pairing } from './pair';

/** An event whose pictures are to be held against the reference, with the originals that may be its own. */
export interface ToCompare {
  readonly event: string;
  /** `sourceStartFrame`: the frame, from 0, that would stand for the source in. */
  readonly candidates: readonly { readonly path: string; readonly sourceStartFrame: Frames }[];
}

/** The events whose pictures are worth comparing: those that nobody paired, or, where some are chosen, those. */
export const worthComparing = (pairings: readonly Pairing[], chosen: ReadonlySet<string> | null): ToCompare[] =>
  pairings
    .filter((p) => p.state !== 'exempt' && p.event.enabled && (chosen ? chosen.has(p.event.key) : !p.accepted))
    .map(({ event, contenders }) => ({
      event: event.key,
      candidates: contenders
        .filter((c) => c.original.kind !== 'sound')
        .map(({ original, sourceStartFrame }) => ({ path: original.path, sourceStartFrame })),
    }));
