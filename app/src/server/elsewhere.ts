import { comeHome, type Original, type PicturePlace } from '@gemello/core';
import type { Workspace } from './workspace';

/** Where the picture of a clip was found, and which file that was; null where it is in none of the originals. */
export interface Recognised {
  readonly path: string;
  readonly mark: string;
  readonly place: PicturePlace | null;
}

/** Clips from elsewhere that can be read now, and what is known of all others. */
export function clipsFromElsewhere({ originals, elsewhere }: Workspace): { clips: Original[]; known: Map<string, Original> } {
  const clips = originals.flatMap(({ original, here }) => (here && elsewhere.has(original.path) ? [original] : []));
  // An original that is away still says what its events need.
  const known = new Map(originals.flatMap(({ original }) => (elsewhere.has(original.path) ? [] : [[original.path, original] as const])));
  return { clips, known };
}

/** Clips from elsewhere that neither timecode nor name leads to an event. */
export function unknownClips(w: Workspace): Original[] {
  if (!w.list) return [];
  const { clips, known } = clipsFromElsewhere(w);
  const strange = new Set(comeHome(w.list, known, clips).strangers.flatMap((s) => (s.why === 'no-event' ? [s.path] : [])));
  return clips.filter((c) => strange.has(c.path) && c.kind !== 'still');
}
