import type { Standing } from '../edit';
import { looseName, type Original } from '../originals';
import { indexOriginals, isNamed, type PairedCut, pairCut } from '../pairing';
import { findAgain, type KnownBy } from './found-again';

/** What files are sought by before any is opened: loose names, and sizes in bytes. Both empty where nothing is offline. */
export interface Sought {
  readonly names: readonly string[];
  readonly bytes: readonly number[];
}

/** A file that some events of the cut are looking for. `timecode`: by reel and timecode, its name saying nothing. */
export interface Find {
  readonly path: string;
  readonly by: KnownBy | 'timecode';
  /** Keys of the events that it would settle, or be a candidate of. */
  readonly events: readonly string[];
}

/** What the events that are offline are called, and what is known of the originals that went away. */
export function soughtBy({ pairings }: PairedCut, known: (path: string) => Original | undefined): Sought {
  const names = new Set<string>();
  const bytes = new Set<number>();
  for (const { state, event, acceptedPath } of pairings) {
    if (state !== 'away' && state !== 'unpaired') continue;
    const lost = acceptedPath ? known(acceptedPath) : undefined;
    for (const name of [event.fileName, event.clipName, ...event.aliases, lost?.fileName ?? '']) {
      const loose = looseName(name);
      if (loose !== '') names.add(loose);
    }
    if (lost && lost.bytes > 0) bytes.add(lost.bytes);
  }
  return { names: [...names], bytes: [...bytes] };
}

/** Which of the files that were found are sought: known again for originals that went away, candidates for events that have none. */
export function findsAmong(
  paired: PairedCut,
  standing: Standing,
  found: readonly Original[],
  known: (path: string) => Original | undefined,
): Find[] {
  const index = indexOriginals(found);
  const finds = new Map<string, { by: Find['by']; events: string[] }>();
  for (const { to, by, events } of findAgain({ ...paired, index }, known)) finds.set(to, { by, events: [...events] });
  const open = new Set(paired.pairings.flatMap((p) => (p.state === 'unpaired' ? [p.event.key] : [])));
  if (open.size > 0)
    for (const { event, contenders } of pairCut(standing, index, paired.wish).pairings) {
      if (!open.has(event.key)) continue;
      for (const c of contenders) {
        if (c.line === null) continue;
        const one = finds.get(c.original.path);
        if (one) one.events.push(event.key);
        else finds.set(c.original.path, { by: isNamed(c.name) ? 'name' : 'timecode', events: [event.key] });
      }
    }
  return [...finds].map(([path, find]) => ({ path, ...find })).sort((a, b) => (a.path < b.path ? -1 : 1));
}
