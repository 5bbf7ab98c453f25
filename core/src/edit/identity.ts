import type { EditList, ListEvent, Notice, Retime, Track } from './model';

/**
 * Who an event is, as far as its own content says: kind, names, reel, source in and out as written, speed. Where it
 * stands on the record, on which layer and under which number is no part of it, nor is any count of frames, which
 * changes with the rate a list is read at.
 */
function contentOf(event: ListEvent): string {
  const { kind, clipName, fileName, reel, sourceLabels, retime } = event;
  return JSON.stringify([kind, clipName, fileName, reel, sourceLabels, speedText(retime)]);
}

function speedText(retime: Retime): string {
  if (retime.kind === 'constant') return `${retime.speed.num}/${retime.speed.den}`;
  return retime.kind === 'keyed' ? JSON.stringify(retime.keys) : retime.kind;
}

/** What may follow a key where several events are equal: which of how many. When their number changes, so does the key. */
const EQUALS = /:(\d+)of(\d+)$/;

/** The key without its place among equals: the same for all events that are told apart by nothing but their order. */
export const likeness = (key: string): string => key.replace(EQUALS, '');

/**
 * The list with a key for each event in place of the one its reader gave it. Equal events are numbered in record
 * order, and each says how many there are (`k1x9:2of3`). Picture and sound are told apart, and each channel of sound,
 * so that bringing in another layer or its sound changes no key. Notices and links follow. The list is taken over: its
 * events get their keys where they are, since a reader has just made them and copies would take as much memory again.
 */
export function identified(list: EditList): EditList {
  const renamed = spokenOf(list);
  const keyOf = (was: string) => renamed.get(was) ?? was;
  nameEquals(
    list.tracks.filter((t) => t.kind === 'picture'),
    '',
    renamed,
  );
  for (const track of list.tracks) if (track.kind === 'sound') nameEquals([track], track.name, renamed);
  for (const track of list.tracks)
    for (const event of track.events as readonly Keyed[]) if (event.linked.length > 0) event.linked = event.linked.map(keyOf);
  return { ...list, notices: list.notices.map((n): Notice => (n.event === null ? n : { ...n, event: keyOf(n.event) })) };
}

type Keyed = { -readonly [K in 'key' | 'linked']: ListEvent[K] };

/** The new keys of events that notices or links speak of, by the ones they had; of the others nothing needs to be kept. */
type Renamed = Map<string, string>;

function spokenOf(list: EditList): Renamed {
  const keys: Renamed = new Map();
  for (const { event } of list.notices) if (event !== null) keys.set(event, event);
  for (const track of list.tracks) for (const event of track.events) for (const key of event.linked) keys.set(key, key);
  return keys;
}

function giveKey(event: Keyed, key: string, renamed: Renamed): void {
  if (renamed.has(event.key)) renamed.set(event.key, key);
  event.key = key;
}

/** Gives keys to the events of tracks that count together. */
function nameEquals(tracks: readonly Track[], medium: string, renamed: Renamed): void {
  // By what their content comes to: the texts themselves would take more memory than the list.
  const equals = new Map<number, ListEvent | ListEvent[]>();
  for (const track of tracks)
    for (const event of track.events) {
      const content = hash53(medium + contentOf(event));
      const known = equals.get(content);
      if (known === undefined) equals.set(content, event);
      else if (Array.isArray(known)) known.push(event);
      else equals.set(content, [known, event]);
    }
  for (const [content, found] of equals) {
    const stem = `k${content.toString(36)}`;
    if (!Array.isArray(found)) {
      giveKey(found, stem, renamed);
      continue;
    }
    found.sort((a, b) => a.record.in - b.record.in);
    found.forEach((event, i) => {
      giveKey(event, `${stem}:${i + 1}of${found.length}`, renamed);
    });
  }
}

/**
 * A number of 53 bits from a text (two 32-bit multiplicative hashes, mixed as in MurmurHash3's finaliser). For telling
 * apart, not for safety: two of a hundred thousand texts share one with a chance of one in a million.
 */
function hash53(text: string): number {
  let [a, b] = [0xdeadbeef, 0x41c6ce57];
  for (let i = 0; i < text.length; i++) {
    const code = text.charCodeAt(i);
    a = Math.imul(a ^ code, 2654435761);
    b = Math.imul(b ^ code, 1597334677);
  }
  a = Math.imul(a ^ (a >>> 16), 2246822507) ^ Math.imul(b ^ (b >>> 13), 3266489909);
  b = Math.imul(b ^ (b >>> 16), 2246822507) ^ Math.imul(a ^ (a >>> 13), 3266489909);
  return 4294967296 * (2097151 & b) + (a >>> 0);
}

/** What is remembered of an event a decision was made about, so that it is found in another list and named when it is not. */
export interface Identity {
  readonly key: string;
  readonly number: string;
  readonly track: string;
  readonly kind: ListEvent['kind'];
  readonly clipName: string;
  readonly fileName: string;
  readonly reel: string;
  readonly sourceRate: ListEvent['sourceRate'];
  readonly source: ListEvent['source'];
  readonly record: ListEvent['record'];
  readonly speed: string;
}

/** The identities of all picture events of a list, bottom layer first. */
export const identitiesOf = (list: EditList): Identity[] =>
  list.tracks.flatMap((track) =>
    track.kind === 'sound'
      ? []
      : track.events.map(
          ({ key, number, kind, clipName, fileName, reel, sourceRate, source, record, retime }): Identity => ({
            key,
            number,
            track: track.name,
            kind,
            clipName,
            fileName,
            reel,
            sourceRate,
            source,
            record,
            speed: speedText(retime),
          }),
        ),
  );
