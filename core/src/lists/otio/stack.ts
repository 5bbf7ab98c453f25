import { atRecordIn, trimmed } from '../../conform';
import { type ListEvent, type Metadata, newEvent, type Track, type Transition } from '../../edit';
import { decimalOf, type Fraction, type Frames, fraction, minus, type Rate, lengthOf as spanLength, ZERO } from '../../time';
import { nestedNotice, type Opened, openNested, throughWindow, withOpened } from '../nested';
import { allTold, noticeLog, tell } from '../notices';
import { eventOf, lengthOf, noteMarkers, type Reading, readOwn, say } from './item';
import { checked, DEEPEST, itemSchema, type OtioItem, type OtioObject, schemaName, transitionSchema } from './schema';
import { added, exactly, frames, nearest } from './times';
import { OTIO_WORDS } from './wording';

/** What stands among a stack's tracks or a track's items that takes no time and has no place in the model. */
export interface Stray {
  /** Its place: the number of tracks before it, or the record frame. */
  readonly at: number;
  readonly item: unknown;
}

/** The layers of a stack, bottom first, through its window; a clip or stack that stands there alone becomes a track. */
export function stackOf(r: Reading, stack: OtioObject, first: Frames, depth: number): { tracks: Track[]; strays: Stray[] } {
  const item = checked(itemSchema, stack);
  const strays: Stray[] = [];
  const counts = { picture: 0, sound: 0 };
  const tracks = (('data' in item && item.data.children) || []).flatMap((child, index): ReturnType<typeof trackOf>[] => {
    const parsed = checked(itemSchema, child);
    if ('wrong' in parsed) {
      say(r, 'unreadable', 'broken-track', child, OTIO_WORDS.brokenTrack({ index: index + 1, wrong: parsed.wrong }));
      strays.push({ at: index, item: child });
      return [];
    }
    const alone = schemaName(child) !== 'Track';
    if (alone && decimalOf(lengthOf(parsed.data, r.rate) ?? ZERO) === 0) {
      say(r, 'kept', 'unknown-schema', child, OTIO_WORDS.strayAmongTracks({ schema: child.OTIO_SCHEMA }));
      strays.push({ at: index, item: child });
      return [];
    }
    const track: OtioItem = alone ? { OTIO_SCHEMA: 'Track.1', kind: 'Video', children: [child] } : parsed.data;
    if (!alone && track.kind !== 'Audio' && track.kind !== 'Video' && track.kind) {
      const name = `"${track.name ?? ''}" of the kind ${track.kind}`;
      say(r, 'lost', 'track-kind', child, OTIO_WORDS.trackKind({ name }));
      strays.push({ at: index, item: child });
      return [];
    }
    const sound = track.kind === 'Audio';
    const label = sound ? `A${++counts.sound}` : `V${++counts.picture}`;
    return [trackOf(r, track, label, first, depth)];
  });
  const opened = withOpened(
    tracks.map((t) => t.track),
    new Map(tracks.flatMap((t) => [...t.opened])),
  );
  r.log.told.forEach((n, i) => {
    const key = n.event && opened.keys.get(n.event);
    if (key && depth === 0) r.log.told[i] = { ...n, event: key };
  });
  const window = 'data' in item ? item.data.source_range : null;
  return { tracks: window ? opened.tracks.map((t) => narrowed(r, t, window, first)) : opened.tracks, strays };
}

/**
 * A track, or all tracks of a stack, may show only a part of what they hold, and an empty stretch ahead of it where the range begins below 0. A
 * range beyond all of it is a label for its start, which systems in use write too, and shows everything.
 */
function narrowed(r: Reading, track: Track, window: NonNullable<OtioItem['source_range']>, first: Frames): Track {
  const begins = frames(window.start_time, r.rate);
  if (begins < 0 && begins + frames(window.duration, r.rate) <= 0) {
    say(r, 'kept', 'label-as-range', null, OTIO_WORDS.labelAsRange({ name: track.name }));
    return track;
  }
  const from = first + begins;
  const { events, lostTransitions } = throughWindow(track.events, { in: from, out: from + frames(window.duration, r.rate) }, first, r.rate);
  if (events.length === 0) return track;
  const cut = track.events.length - events.length;
  if (cut > 0 || lostTransitions > 0)
    say(r, 'changed', 'window', null, OTIO_WORDS.shownInPart({ name: track.name, events: cut, transitions: lostTransitions }));
  return { ...track, events: events.map((e, i) => ({ ...e, key: `${track.name}/${i + 1}` })) };
}

function trackOf(r: Reading, track: OtioItem, label: string, first: Frames, depth: number): { track: Track; opened: Map<string, Opened> } {
  const events: ListEvent[] = [];
  const gaps: Stray[] = [];
  const strays: Stray[] = [];
  const nests: { index: number; item: OtioItem }[] = [];
  let position: Fraction = fraction(first);
  let join: { transition: Transition; item: unknown } | null = null;
  const untold = untoldLength(track, r.rate);
  for (const child of track.children ?? []) {
    const schema = schemaName(child);
    const at = nearest(position);
    if (schema === 'Transition') {
      const transition = transitionOf(r, child, label);
      join = transition && { transition, item: child };
      if (!transition) strays.push({ at, item: child });
      continue;
    }
    const item = checked(itemSchema, child);
    if ('wrong' in item) {
      say(r, 'unreadable', 'broken-item', child, OTIO_WORDS.brokenItem({ track: label, wrong: item.wrong, placed: untold !== null }));
      strays.push({ at, item: child });
      position = added(position, untold ?? ZERO);
      continue;
    }
    const stated = lengthOf(item.data, r.rate);
    const end = added(position, stated ?? untold ?? ZERO);
    const record = { in: at, out: nearest(end) };
    const key = `${label}/${events.length + 1}`;
    const behind = events.at(-1);
    const from = behind && behind.record.out === at ? ('previous' as const) : ('black' as const);
    if (schema === 'Gap') {
      noteMarkers(r, item.data, `in a gap of ${label}`, at);
      if (join) {
        if (events.length > 0) say(r, 'changed', 'transition-to-gap', child, OTIO_WORDS.transitionToGap({ track: label }));
        if (!fadeOut(r, events, key, record, { ...join.transition, from }, { item: child, join: join.item }))
          gaps.push({ at, item: child });
      } else gaps.push({ at, item: child });
    } else if (record.out > record.in) {
      const event = eventOf(r, item.data, key, record, position);
      if (schema === 'Stack' || schema === 'Track') nests.push({ index: events.length, item: item.data });
      else if (schema !== 'Clip') say(r, 'kept', 'unknown-schema', child, OTIO_WORDS.keptAsEvent({ schema: child.OTIO_SCHEMA }), key);
      if (stated === null) sayNoRange(r, child, event.clipName, label, untold);
      events.push(
        join ? { ...event, transitionIn: { ...join.transition, from }, metadata: { ...event.metadata, join: join.item } } : event,
      );
    } else {
      if (schema === 'Clip') {
        const name = typeof item.data.name === 'string' ? item.data.name : '';
        if (stated === null) sayNoRange(r, child, name, label, null);
        else say(r, 'lost', 'zero-length', child, OTIO_WORDS.zeroLength({ name, track: label }));
      } else say(r, 'kept', 'unknown-schema', child, OTIO_WORDS.takesNoTime({ schema: child.OTIO_SCHEMA, track: label }));
      strays.push({ at, item: child });
    }
    join = null;
    position = end;
  }
  if (join) say(r, 'lost', 'transition-at-end', null, OTIO_WORDS.transitionAtEnd({ track: label }));
  noteMarkers(r, track, `on the track ${label}`, first);
  const off = track.enabled === false;
  if (off && events.length > 0) say(r, 'changed', 'track-off', track, OTIO_WORDS.trackOff({ track: label }));
  const { children: _, ...bare } = track;
  const metadata: Metadata = { track: bare, ...(gaps.length > 0 ? { gaps } : {}), ...(strays.length > 0 ? { strays } : {}) };
  const made: Track = {
    name: label,
    kind: track.kind === 'Audio' ? 'sound' : 'picture',
    events: off ? events.map((e) => ({ ...e, enabled: false })) : events,
    metadata,
  };
  const opened = new Map<string, Opened>();
  for (const { index, item } of nests) {
    const event = made.events[index] as ListEvent;
    const inside = depth < DEEPEST ? opening(r, event, item, made.events[index + 1]?.transitionIn?.from === 'previous', depth) : null;
    if (inside) opened.set(event.key, inside);
    const { code, said } = nestedNotice(event.clipName, inside);
    say(r, 'changed', code, item, said, event.key);
  }
  return { track: track.source_range ? narrowed(r, made, track.source_range, first) : made, opened };
}

/** The length of the one item of a track that has none of its own, where the range of the whole track gives it; else null. */
function untoldLength(track: OtioItem, rate: Rate): Fraction | null {
  if (!track.source_range || track.source_range.start_time.value > 0) return null;
  let sum: Fraction = ZERO;
  let without = 0;
  for (const child of track.children ?? []) {
    if (schemaName(child) === 'Transition') continue;
    const item = checked(itemSchema, child);
    const length = 'data' in item ? lengthOf(item.data, rate) : null;
    if (length) sum = added(sum, length);
    else without++;
  }
  const left = minus(exactly(track.source_range.duration, rate), sum);
  return without === 1 && left.num > 0 ? left : null;
}

function sayNoRange(r: Reading, at: object, name: string, label: string, untold: Fraction | null): void {
  say(r, 'lost', 'no-range', at, OTIO_WORDS.noRange({ name, track: label, frames: untold ? nearest(untold) : null }));
}

/**
 * A black event that carries a fade into a gap. Where the gap has no length the fade ends with the picture: then the black
 * takes the place of the outgoing event from where the fade begins. False where nothing fades.
 */
function fadeOut(r: Reading, events: ListEvent[], key: string, gap: ListEvent['record'], join: Transition, metadata: Metadata): boolean {
  const behind = events.at(-1);
  if (gap.out > gap.in) {
    events.push({ ...blackEvent(r, key, gap), transitionIn: join, metadata });
    return true;
  }
  const from = gap.in - join.before;
  if (!behind || join.before === 0 || from <= behind.record.in) return false;
  events[events.length - 1] = atRecordIn(trimmed(behind, { in: behind.record.in, out: from }), r.rate);
  events.push({
    ...blackEvent(r, key, { in: from, out: gap.in }),
    transitionIn: { ...join, before: 0, duration: join.before, from: 'previous' },
    metadata,
  });
  return true;
}

/** The layers inside a nested stack or track, or null when it must stay closed. */
function opening(r: Reading, event: ListEvent, item: OtioItem, leaves: boolean, depth: number): Opened | null {
  const inner: Reading = { rate: r.rate, log: noticeLog(), notes: r.notes, lines: r.lines };
  const stack = schemaName(item) === 'Stack' ? item : { OTIO_SCHEMA: 'Stack.1', children: [{ ...item, source_range: null }] };
  const { tracks } = stackOf(inner, { ...stack, source_range: null } as OtioObject, 0, depth + 1);
  if ((item.effects ?? []).length > 0) return null;
  const opened = openNested(event, tracks, leaves, r.rate);
  if (!opened) return null;
  for (const n of allTold(inner.log)) tell(r.log, { ...n, event: event.key });
  return opened;
}

const blackEvent = (r: Reading, key: string, record: ListEvent['record']): ListEvent =>
  newEvent({ key, kind: 'black', reel: 'BL', sourceRate: r.rate, source: { in: 0, out: spanLength(record) }, record });

function transitionOf(r: Reading, object: OtioObject, label: string): Transition | null {
  const parsed = checked(transitionSchema, object);
  if ('wrong' in parsed) {
    say(r, 'lost', 'broken-transition', object, OTIO_WORDS.brokenTransition({ track: label }));
    return null;
  }
  const { in_offset, out_offset, transition_type: type, name } = parsed.data;
  const before = frames(in_offset, r.rate);
  const duration = before + frames(out_offset, r.rate);
  if (before < 0 || duration <= 0) {
    say(r, 'lost', 'broken-transition', object, OTIO_WORDS.transitionWithoutLength({ track: label }));
    return null;
  }
  if (type && type !== 'SMPTE_Dissolve')
    say(r, 'changed', 'transition-kind', object, OTIO_WORDS.transitionKind({ name: name || type, track: label }));
  const own = readOwn(r, object, null);
  return {
    type: own.type ?? 'dissolve',
    before,
    duration,
    from: 'previous',
    wipeCode: own.wipeCode ?? null,
    ...(own.look ? { look: own.look } : {}),
  };
}
