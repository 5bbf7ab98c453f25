import type { EditList, ListEvent } from '../edit';

/** The number of the nth event that no list numbers, from 1: as many digits as edit lists have, more where there are more events. */
const numberOf = (nth: number): string => String(nth).padStart(3, '0');

/**
 * The list with a number for every event. Formats that have none get them in record order, anew for each list: pictures first, the lower layer first
 * where two begin together, then sound. Where a list numbers some of its events those keep theirs, and the others get numbers that none has. A number is
 * for people to speak of; who an event is its key says. The list is taken over: its events are numbered where they are.
 */
export function numbered(list: EditList): EditList {
  const missing: ListEvent[] = [];
  const taken = new Set<string>();
  for (const kind of ['picture', 'sound'] as const) {
    const events: ListEvent[] = [];
    for (const track of list.tracks)
      if (track.kind === kind)
        for (const event of track.events) {
          if (event.number === '') events.push(event);
          else taken.add(event.number);
        }
    // A stable sort keeps the lower layer first.
    for (const event of events.sort((a, b) => a.record.in - b.record.in)) missing.push(event);
  }
  let nth = 0;
  for (const event of missing as Numbered[]) {
    do nth++;
    while (taken.size > 0 && taken.has(numberOf(nth)));
    event.number = numberOf(nth);
  }
  return list;
}

type Numbered = { -readonly [K in 'number']: ListEvent[K] };

/** The numbers that events would get if none had any, by key; for formats that keep only those that differ. */
export function numbersAnew(list: EditList): ReadonlyMap<string, string> {
  const bare = { ...list, tracks: list.tracks.map((t) => ({ ...t, events: t.events.map((e) => ({ ...e, number: '' })) })) };
  return new Map(numbered(bare).tracks.flatMap((t) => t.events.map((e) => [e.key, e.number] as const)));
}
