import { looseName, looseReel, nameAnother, namesReel, type Original, withoutExtension } from '../originals';
import { type OriginalIndex, type PairedCut, recordsOf } from '../pairing';

/** By what a missing original was known again: `content` is told by its fingerprint, `size` by its bytes with all else the same. */
export type KnownBy = 'name' | 'content' | 'size';

/** A missing original and the one file that is it, under another name or in another place. */
export interface FoundAgain {
  readonly from: string;
  readonly to: string;
  readonly by: KnownBy;
  /** Keys of the events that are paired with it. */
  readonly events: readonly string[];
}

/**
 * Looks for originals that accepted pairs miss, among all that can be read: one of the same timecode, length, rate and
 * raster that has its name, its content, or its size to the byte, and no other reel or name of the same scheme. `known` tells what was known of a missing one. What two
 * files could be is left out, and so is what already is the original of another event.
 */
export function findAgain({ pairings, index }: PairedCut, known: (path: string) => Original | undefined): FoundAgain[] {
  const missing = new Map<string, string[]>();
  for (const { state, acceptedPath, event } of pairings)
    if (state === 'away' && acceptedPath) missing.set(acceptedPath, [...(missing.get(acceptedPath) ?? []), event.key]);
  if (missing.size === 0) return [];
  const alike = alikeBySpan(index);
  const used = new Set(pairings.flatMap((p) => (p.accepted && p.state !== 'away' && p.acceptedPath ? [p.acceptedPath] : [])));
  return [...missing].flatMap(([from, events]): FoundAgain[] => {
    const lost = known(from);
    if (!lost) return [];
    const found = (alike.get(spanOf(lost)) ?? [])
      .filter((o) => !used.has(o.path))
      .flatMap((o) => {
        const by = knownBy(lost, o);
        return by ? [{ to: o.path, by }] : [];
      });
    const [only] = found;
    return only && found.length === 1 ? [{ from, events, ...only }] : [];
  });
}

/** What files of one take have in common, whatever they are called. */
const spanOf = ({ kind, start, frames, rate, raster }: Original): string =>
  `${kind} ${start} ${frames} ${rate.num}/${rate.den} ${raster.width}x${raster.height}`;

function alikeBySpan(index: OriginalIndex): Map<string, Original[]> {
  const found = new Map<string, Original[]>();
  for (const original of recordsOf(index)) {
    const key = spanOf(original);
    const alike = found.get(key);
    if (alike) alike.push(original);
    else found.set(key, [original]);
  }
  return found;
}

function knownBy(lost: Original, other: Original): KnownBy | null {
  // Two cameras with the same time of day write files of one size where nothing is compressed.
  if (namesReel(lost.reel) && namesReel(other.reel) && looseReel(lost.reel) !== looseReel(other.reel)) return null;
  // Two fingerprints that differ are two files, whatever they are called.
  if (lost.print !== '' && other.print !== '') return lost.print === other.print ? 'content' : null;
  if (looseName(lost.fileName) === looseName(other.fileName) && lost.bytes === other.bytes) return 'name';
  const another = nameAnother(withoutExtension(lost.fileName), withoutExtension(other.fileName));
  return lost.bytes > 0 && lost.bytes === other.bytes && !another ? 'size' : null;
}
