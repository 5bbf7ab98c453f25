import { type EditList, type ListEvent, type Notice, pictureTracks, type Track } from '../edit';
import { type Frames, lengthOf, sameSpeed } from '../time';
import type { Sentence } from '../words';
import { ASPECTS, type Aspect } from './aspects';
import { inSubstance } from './plain';
import type { ListFormat } from './registry';
import { aspectSaid, CARRYING_WORDS } from './wording';

/** An event as it was to be written, and what was read of it again; null where nothing was. */
interface Pair {
  readonly meant: ListEvent;
  readonly found: ListEvent | null;
}

/**
 * What a format did not carry of a list, told from what its own reader reads from what was written: every difference is
 * in one of the notices. `meant` is the list as the format lays it (its transitions where the format has them).
 */
export function lossesBetween(meant: EditList, found: EditList, format: ListFormat): Notice[] {
  const notices: Notice[] = [];
  const say = (severity: Notice['severity'], code: string, said: Sentence, event: string | null = null) =>
    notices.push({ severity, code: `cannot-carry-${code}`, place: null, event, ...said });
  const ofFormat = found.notices.find((n) => n.code === 'unreadable');
  if (ofFormat) {
    say('lost', 'list', CARRYING_WORDS.notReadBack({ fault: ofFormat.message }));
    return notices;
  }
  const { pairs, added } = paired(meant, found);
  for (const aspect of ASPECTS) {
    const hit = pairs.filter((p) => aspect.differs(p.meant, p.found));
    const [first] = hit;
    if (first) say(severityOf(aspect), aspect.code, aspectSaid(aspect.code, hit.length, format.title), first.meant.key);
  }
  if (added > 0) say('lost', 'added', CARRYING_WORDS.added({ events: added, title: format.title }));
  for (const { severity, code, ...said } of ofTheList(meant, found, format)) say(severity, code, said);
  return notices;
}

const severityOf = ({ mild }: Aspect): Notice['severity'] => (mild ? 'changed' : 'lost');

function ofTheList(
  meant: EditList,
  found: EditList,
  { title, name, keepsForeign }: ListFormat,
): Pick<Notice, 'severity' | 'code' | 'message' | 'fields'>[] {
  const told: Pick<Notice, 'severity' | 'code' | 'message' | 'fields'>[] = [];
  const layers = filled(pictureTracks(meant)).length;
  if (filled(pictureTracks(found)).length < layers)
    told.push({
      severity: 'lost',
      code: 'layers',
      ...CARRYING_WORDS.layers({ layers, title, held: filled(pictureTracks(found)).length }),
    });
  const names = (list: EditList) =>
    filled(list.tracks)
      .map((t) => t.name)
      .join(' ');
  if (names(meant) !== names(found))
    told.push({
      severity: 'changed',
      code: 'track-names',
      ...CARRYING_WORDS.trackNames({ meant: names(meant), found: names(found) }),
    });
  if (meant.framing && JSON.stringify(meant.framing) !== JSON.stringify(found.framing))
    told.push({ severity: 'changed', code: 'framing', ...CARRYING_WORDS.framing({ title }) });
  if (!sameSpeed(meant.rate, found.rate)) told.push({ severity: 'lost', code: 'rate', ...CARRYING_WORDS.rate({ title }) });
  else if (meant.rate.dropFrame !== found.rate.dropFrame)
    told.push({ severity: 'changed', code: 'counting', ...CARRYING_WORDS.counting({ title }) });
  if (inSubstance(meant.title) !== inSubstance(found.title))
    told.push({ severity: 'changed', code: 'title', ...CARRYING_WORDS.title({ meant: meant.title, found: found.title, title }) });
  const kept = new Set(['', ...found.notes.map(inSubstance)]);
  const notes = meant.notes.filter((n) => !kept.has(inSubstance(n))).length;
  if (notes > 0) told.push({ severity: 'changed', code: 'list-notes', ...CARRYING_WORDS.listNotes({ notes }) });
  const keeps = keepsForeign && name === meant.format;
  const effects = keeps ? [] : effectsOf(meant);
  if (effects.length > 0) told.push({ severity: 'lost', code: 'effects', ...CARRYING_WORDS.effects({ effects, title }) });
  const foreign = meant.tracks.flatMap((t) => t.events).filter((e) => e.metadata?.foreign === true).length;
  if (foreign > 0 && !keeps)
    told.push({
      severity: 'lost',
      code: 'metadata',
      ...CARRYING_WORDS.metadata({ events: foreign, format: meant.format }),
    });
  return told;
}

/** The effects of a list that only its own format has a place for, by name, each with how many events have it. */
function effectsOf(list: EditList): { readonly name: string; readonly events: number }[] {
  const counts = new Map<string, number>();
  for (const { events } of list.tracks)
    for (const { metadata } of events)
      if (Array.isArray(metadata?.effects))
        for (const name of new Set(metadata.effects.map(String))) counts.set(name, (counts.get(name) ?? 0) + 1);
  return [...counts].map(([name, events]) => ({ name, events }));
}

const filled = (tracks: readonly Track[]): Track[] => tracks.filter((t) => t.events.length > 0);

/** Lays the events of two lists on each other, track by track, in record order. */
function paired(meant: EditList, found: EditList): { pairs: Pair[]; added: number } {
  const pairs: Pair[] = [];
  let added = 0;
  for (const kind of ['picture', 'sound'] as const) {
    const tracks = filled(meant.tracks.filter((t) => t.kind === kind));
    const others = filled(found.tracks.filter((t) => t.kind === kind));
    tracks.forEach((track, i) => {
      added += laidOn(track.events, others[i]?.events ?? [], pairs);
    });
    for (const extra of others.slice(tracks.length)) added += extra.events.length;
  }
  return { pairs, added };
}

/** Pairs of two tracks; where they are not equally many, what stands nearest on the record belongs together. */
function laidOn(meant: readonly ListEvent[], found: readonly ListEvent[], pairs: Pair[]): number {
  if (meant.length === found.length) {
    meant.forEach((event, i) => {
      pairs.push({ meant: event, found: found[i] ?? null });
    });
    return 0;
  }
  let next = 0;
  let added = 0;
  for (const event of meant) {
    while (next < found.length && endOf(found[next] as ListEvent) <= event.record.in) {
      next++;
      added++;
    }
    const here = found[next];
    const same = here !== undefined && here.record.in < event.record.out;
    pairs.push({ meant: event, found: same ? here : null });
    if (same) next++;
  }
  return added + found.length - next;
}

const endOf = ({ record }: ListEvent): Frames => record.in + Math.max(1, lengthOf(record));
