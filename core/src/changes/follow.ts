import { aboutEvent, type Decision, eventOf } from '../decisions';
import { type Identity, likeness } from '../edit';
import { looseName, looseReel } from '../originals';
import { lengthOf, nominal, overlapOf, relabel } from '../time';

/** Two events may be the same when they share at least this part of the shorter one's source. */
const SHARED = 0.5;

/**
 * Finds the events of one reading or version of a cut in another: by their key, or, where that is gone, where exactly
 * one event there can be the same and it can be no other (same kind and speed, a reel or name in common, most of the
 * source shared). Whatever could be two is left out: it is not guessed.
 */
export function followEvents(before: readonly Identity[], now: readonly Identity[]): ReadonlyMap<string, string> {
  const known = followed.get(now)?.get(before);
  if (known) return known;
  const found = followedAnew(before, now);
  const ways = followed.get(now) ?? new WeakMap<readonly Identity[], ReadonlyMap<string, string>>();
  followed.set(now, ways.set(before, found));
  return found;
}

/** A log is read after every decision, and mostly among the same readings. */
const followed = new WeakMap<readonly Identity[], WeakMap<readonly Identity[], ReadonlyMap<string, string>>>();

function followedAnew(before: readonly Identity[], now: readonly Identity[]): ReadonlyMap<string, string> {
  const found = new Map<string, string>();
  const keys = new Set(now.map((e) => e.key));
  for (const { key } of before) if (keys.has(key)) found.set(key, key);
  const taken = new Set(found.values());
  const left = now.filter((e) => !taken.has(e.key));
  const index = indexed(left);
  const wanted = new Map<string, string[]>();
  for (const event of before) {
    if (found.has(event.key)) continue;
    const same = candidatesIn(index, event).filter((e) => maybeSame(event, e));
    for (const other of same) wanted.set(other.key, [...(wanted.get(other.key) ?? []), event.key]);
    const [only] = same;
    if (only && same.length === 1) found.set(event.key, only.key);
  }
  // An event that several could be is none of them.
  for (const claims of wanted.values()) if (claims.length > 1) for (const key of claims) found.delete(key);
  return found;
}

type Index = ReadonlyMap<string, Identity[]>;

const namesOf = (e: Identity): string[] => [
  ...new Set([looseReel(e.reel), looseName(e.clipName), looseName(e.fileName)].filter((n) => n !== '' && n !== 'ax')),
];

function indexed(events: readonly Identity[]): Index {
  const index = new Map<string, Identity[]>();
  for (const event of events)
    for (const name of namesOf(event)) {
      const known = index.get(name);
      if (known) known.push(event);
      else index.set(name, [event]);
    }
  return index;
}

const candidatesIn = (index: Index, event: Identity): Identity[] => [...new Set(namesOf(event).flatMap((n) => index.get(n) ?? []))];

function maybeSame(a: Identity, b: Identity): boolean {
  if (a.kind !== b.kind || a.speed !== b.speed) return false;
  // Equals of which one came or went are told apart by nothing: which of them is meant is not known.
  if (likeness(a.key) === likeness(b.key)) return true;
  // Names that both have must not contradict each other; a reel alone says too little where both are named.
  const clips = [a.clipName, a.fileName].map(looseName).filter(Boolean);
  const others = [b.clipName, b.fileName].map(looseName).filter(Boolean);
  if (clips.length > 0 && others.length > 0 && !clips.some((n) => others.includes(n))) return false;
  const at = (frame: number) => (nominal(a.sourceRate) === nominal(b.sourceRate) ? frame : relabel(frame, b.sourceRate, a.sourceRate));
  const shared = overlapOf(a.source, { in: at(b.source.in), out: at(b.source.out) });
  return shared !== null && lengthOf(shared) >= SHARED * Math.min(lengthOf(a.source), lengthOf(b.source));
}

/** A decision with the events that it was made among, as they were then. */
export interface MadeAmong {
  readonly decision: Decision;
  readonly events: readonly Identity[];
}

/** Decisions as they speak of a list, and those that speak of events it has not or not for certain. Both by their place among those given. */
export interface Followed {
  readonly standing: readonly { readonly at: number; readonly decision: Decision }[];
  readonly waiting: readonly number[];
}

/**
 * Takes decisions over to a list whose events are `now`. What is about no event stands anyway; what is about one stands
 * where that is still there, and waits where it is not or may be another. Halves of events that were split follow their
 * event.
 */
export function followDecisions(made: readonly MadeAmong[], now: readonly Identity[]): Followed {
  const ways = new Map<readonly Identity[], ReadonlyMap<string, string>>();
  const standing: { at: number; decision: Decision }[] = [];
  const waiting: number[] = [];
  const here = new Set(now.map((e) => e.key));
  made.forEach(({ decision, events }, at) => {
    const key = eventOf(decision);
    if (key === null) {
      standing.push({ at, decision });
      return;
    }
    const known = ways.get(events) ?? followEvents(events, now);
    ways.set(events, known);
    const whole = wholeKey(key);
    const to = known.get(whole) ?? (here.has(whole) ? whole : undefined);
    if (to === undefined) waiting.push(at);
    else if (to === whole) standing.push({ at, decision });
    else standing.push({ at, decision: aboutEvent(decision, (k) => (wholeKey(k) === whole ? to + k.slice(whole.length) : k)) });
  });
  return { standing, waiting };
}

/** The key of the event that a half was split from; its own where it is none. */
const wholeKey = (key: string): string => key.split('+')[0] as string;
