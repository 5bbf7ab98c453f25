import {
  type EditList,
  EMPTY_LIST,
  type ListEvent,
  type Metadata,
  newEvent,
  recordSpan,
  type SequenceName,
  type Track,
  type Transition,
} from '../../edit';
import { type Frames, nominal, RATES, type Rate, relabel, lengthOf as spanLength } from '../../time';
import { nestedNotice, type Opened, openNested, throughWindow, withOpened } from '../nested';
import { type ListOptions, unreadableList } from '../options';
import { eventOf, frames, lengthOf, type Reading, rateOf, say } from './item';
import { linesOf } from './lines';
import {
  checked,
  DEEPEST,
  itemSchema,
  type OtioItem,
  type OtioObject,
  ownSchema,
  schemaName,
  timelineSchema,
  transitionSchema,
} from './schema';

/**
 * Reads OpenTimelineIO JSON. Record positions are summed up along each track from the timeline's
 * start; source ranges are the clips' own. A clip's length on the record is its source range's
 * duration; a time warp says how fast the source runs below it. Nested cuts are opened where that
 * shows the same picture. What the model has no place for (metadata, unknown schemas, further media
 * references, other effects) stays beside the event it belongs to, and `writeOtio` puts it back.
 * Never throws on content.
 */
export function readOtio(text: string, options: ListOptions = {}): EditList {
  let json: unknown;
  try {
    json = JSON.parse(text);
  } catch (error) {
    return unreadableList(
      'otio',
      `This is not whole JSON (${(error as Error).message}). Ask for the file again; it may have been cut off.`,
      lineOfFault(text, error as Error),
    );
  }
  const timelines = findTimelines(json);
  const chosen = timelines[options.sequence ?? 0] ?? timelines[0];
  if (!chosen) return unreadableList('otio', 'The file holds no timeline, stack or track.');
  const timeline = checked(timelineSchema, chosen);
  if ('wrong' in timeline) return unreadableList('otio', `The timeline lacks what it must have: ${timeline.wrong}.`);
  const lines = linesOf(text, json);
  const list = listOf(timeline.data, options, lines);
  if (timelines.length < 2) return list;
  const sequences = timelines.map((t) => nameOf(t, options, lines));
  const others = sequences.filter((_, i) => timelines[i] !== chosen).map((s) => `"${s.name}"`);
  const message = `The file holds ${timelines.length} timelines; "${list.title}" was read, and not ${others.join(', ')}.`;
  return {
    ...list,
    sequences,
    notices: [{ severity: 'changed', code: 'several-sequences', place: null, event: null, message }, ...list.notices],
  };
}

/** The line a JSON error speaks of, from 1; null when it names no place. */
function lineOfFault(text: string, error: Error): number | null {
  const position = /position (\d+)/.exec(error.message)?.[1];
  const at = position === undefined ? (/end of JSON/i.test(error.message) ? text.length : null) : Number(position);
  return at === null ? null : text.slice(0, at).split('\n').length;
}

/** Timelines in any depth of collections. A bare stack, track or clip is a timeline without its wrapping. */
function findTimelines(json: unknown, depth = 0): unknown[] {
  if (typeof json !== 'object' || json === null || depth > DEEPEST) return [];
  const object = json as Record<string, unknown>;
  const schema = typeof object.OTIO_SCHEMA === 'string' ? schemaName(object as { OTIO_SCHEMA: string }) : '';
  const around = (children: unknown[]) => ({ OTIO_SCHEMA: 'Timeline.1', name: object.name, tracks: { OTIO_SCHEMA: 'Stack.1', children } });
  if (schema === 'Timeline') return [object];
  if (schema === 'Stack') return [{ OTIO_SCHEMA: 'Timeline.1', name: object.name, tracks: object }];
  if (schema === 'Track' || schema === 'Clip') return [around([object])];
  return (Array.isArray(object.children) ? object.children : []).flatMap((child) => findTimelines(child, depth + 1));
}

function nameOf(timeline: unknown, options: ListOptions, lines: Reading['lines']): SequenceName {
  const parsed = checked(timelineSchema, timeline);
  if ('wrong' in parsed) return { name: '', durationFrames: 0, events: 0 };
  const list = listOf(parsed.data, options, lines);
  return {
    name: list.title,
    durationFrames: spanLength(recordSpan(list)),
    events: list.tracks.reduce((sum, t) => sum + t.events.length, 0),
  };
}

function listOf(timeline: ReturnType<typeof timelineSchema.parse>, options: ListOptions, lines: Reading['lines']): EditList {
  const { name, global_start_time: start, tracks: stack } = timeline;
  // Times are counted at the rate they are stated in; read at another, every count stays and the first label does.
  const stated = rateOf(start) ?? firstRate(stack) ?? options.rate ?? RATES['24'];
  const rate = options.rate ?? stated;
  const r: Reading = { rate: stated, notices: [], lines };
  const first = start ? frames(start, stated) : 0;
  const { tracks: counted, strays } = stackOf(r, stack, first, 0);
  const by = nominal(stated) === nominal(rate) ? 0 : relabel(first, stated, rate) - first;
  const tracks = by === 0 ? counted : counted.map((t) => ({ ...t, events: t.events.map((e) => shifted(e, by)) }));
  const { tracks: _, ...around } = timeline;
  const { children: __, ...bare } = stack;
  return {
    ...EMPTY_LIST,
    format: 'otio',
    title: name ?? '',
    rate,
    framing: options.raster ? { raster: options.raster, pixelAspect: null, fields: null } : null,
    tracks,
    metadata: { timeline: around, stack: bare, ...(strays.length > 0 ? { strays } : {}) },
    notices: r.notices,
  };
}

const shifted = (event: ListEvent, by: Frames): ListEvent => ({
  ...event,
  record: { in: event.record.in + by, out: event.record.out + by },
  markers: event.markers.map((m) => ({ ...m, record: m.record + by })),
});

/** The rate of the first clip that states one. */
function firstRate(object: OtioObject, depth = 0): Rate | null {
  const item = checked(itemSchema, object);
  if ('wrong' in item || depth > DEEPEST) return null;
  if (schemaName(object) === 'Clip' && item.data.source_range) return rateOf(item.data.source_range.duration);
  for (const child of item.data.children ?? []) {
    const found = firstRate(child, depth + 1);
    if (found) return found;
  }
  return null;
}

/** What stands among a stack's tracks or a track's items that takes no time and has no place in the model. */
interface Stray {
  /** Its place: the number of tracks before it, or the record frame. */
  readonly at: number;
  readonly item: unknown;
}

/** The layers of a stack, bottom first, through its window; a clip or stack that stands there alone becomes a track. */
function stackOf(r: Reading, stack: OtioObject, first: Frames, depth: number): { tracks: Track[]; strays: Stray[] } {
  const item = checked(itemSchema, stack);
  const strays: Stray[] = [];
  const counts = { picture: 0, sound: 0 };
  const tracks = (('data' in item && item.data.children) || []).flatMap((child, index): ReturnType<typeof trackOf>[] => {
    const parsed = checked(itemSchema, child);
    if ('wrong' in parsed) {
      say(r, 'unreadable', 'broken-track', child, `Track ${index + 1} could not be read (${parsed.wrong}).`);
      strays.push({ at: index, item: child });
      return [];
    }
    const alone = schemaName(child) !== 'Track';
    if (alone && lengthOf(parsed.data, r.rate) === 0) {
      say(r, 'kept', 'unknown-schema', child, `${child.OTIO_SCHEMA} among the tracks is not in the conform; it goes out as it came.`);
      strays.push({ at: index, item: child });
      return [];
    }
    const track: OtioItem = alone ? { OTIO_SCHEMA: 'Track.1', kind: 'Video', children: [child] } : parsed.data;
    const sound = track.kind === 'Audio';
    const label = sound ? `A${++counts.sound}` : `V${++counts.picture}`;
    return [trackOf(r, track, label, first, depth)];
  });
  const opened = withOpened(
    tracks.map((t) => t.track),
    new Map(tracks.flatMap((t) => [...t.opened])),
  );
  r.notices.forEach((n, i) => {
    const key = n.event && opened.keys.get(n.event);
    if (key && depth === 0) r.notices[i] = { ...n, event: key };
  });
  const window = 'data' in item ? item.data.source_range : null;
  return { tracks: window ? opened.tracks.map((t) => narrowed(r, t, window, first)) : opened.tracks, strays };
}

/**
 * A track, or all tracks of a stack, may show only a part of what they hold. A range beyond all of it
 * is a label for its start, which systems in use write too, and shows everything.
 */
function narrowed(r: Reading, track: Track, window: NonNullable<OtioItem['source_range']>, first: Frames): Track {
  const from = first + frames(window.start_time, r.rate);
  const { events, lostTransitions } = throughWindow(track.events, { in: from, out: from + frames(window.duration, r.rate) }, first, r.rate);
  if (events.length === 0) return track;
  const cut = track.events.length - events.length;
  if (cut > 0 || lostTransitions > 0)
    say(
      r,
      'changed',
      'window',
      null,
      `${track.name} is shown in part only: ${cut} events and ${lostTransitions} transitions outside were left out.`,
    );
  return { ...track, events: events.map((e, i) => ({ ...e, key: `${track.name}/${i + 1}` })) };
}

function trackOf(r: Reading, track: OtioItem, label: string, first: Frames, depth: number): { track: Track; opened: Map<string, Opened> } {
  const events: ListEvent[] = [];
  const gaps: Stray[] = [];
  const strays: Stray[] = [];
  const nests: { index: number; item: OtioItem }[] = [];
  let at = first;
  let join: { transition: Transition; item: unknown } | null = null;
  for (const child of track.children ?? []) {
    const schema = schemaName(child);
    if (schema === 'Transition') {
      const transition = transitionOf(r, child, label);
      join = transition && { transition, item: child };
      if (!transition) strays.push({ at, item: child });
      continue;
    }
    const item = checked(itemSchema, child);
    if ('wrong' in item) {
      say(
        r,
        'unreadable',
        'broken-item',
        child,
        `An item on ${label} could not be read (${item.wrong}); what follows it may stand too early.`,
      );
      strays.push({ at, item: child });
      continue;
    }
    const length = lengthOf(item.data, r.rate);
    const key = `${label}/${events.length + 1}`;
    const behind = events.at(-1);
    const from = behind && behind.record.out === at ? ('previous' as const) : ('black' as const);
    if (schema === 'Gap') {
      if (join) {
        if (events.length > 0)
          say(r, 'changed', 'transition-to-gap', child, `A transition on ${label} leads out of the picture; a black event carries it.`);
        events.push({
          ...blackEvent(r, key, at, Math.max(length, 1)),
          transitionIn: { ...join.transition, from },
          metadata: { item: child, join: join.item },
        });
      } else gaps.push({ at, item: child });
    } else if (length > 0) {
      const event = eventOf(r, item.data, key, { in: at, out: at + length });
      if (schema === 'Stack' || schema === 'Track') nests.push({ index: events.length, item: item.data });
      else if (schema !== 'Clip')
        say(r, 'kept', 'unknown-schema', child, `An item of the kind ${child.OTIO_SCHEMA} was kept as an event.`, key);
      events.push(
        join ? { ...event, transitionIn: { ...join.transition, from }, metadata: { ...event.metadata, join: join.item } } : event,
      );
    } else {
      say(
        r,
        'kept',
        'unknown-schema',
        child,
        `${child.OTIO_SCHEMA} on ${label} takes no time; it is not in the conform and goes out as it came.`,
      );
      strays.push({ at, item: child });
    }
    join = null;
    at += length;
  }
  const { children: _, ...bare } = track;
  const metadata: Metadata = { track: bare, ...(gaps.length > 0 ? { gaps } : {}), ...(strays.length > 0 ? { strays } : {}) };
  const made: Track = { name: label, kind: track.kind === 'Audio' ? 'sound' : 'picture', events, metadata };
  const opened = new Map<string, Opened>();
  for (const { index, item } of nests) {
    const event = events[index] as ListEvent;
    const inside = depth < DEEPEST ? opening(r, event, item, events[index + 1]?.transitionIn?.from === 'previous', depth) : null;
    if (inside) opened.set(event.key, inside);
    const { code, message } = nestedNotice(event.clipName, inside);
    say(r, 'changed', code, item, message, event.key);
  }
  return { track: track.source_range ? narrowed(r, made, track.source_range, first) : made, opened };
}

/** The layers inside a nested stack or track, or null when it must stay closed. */
function opening(r: Reading, event: ListEvent, item: OtioItem, leaves: boolean, depth: number): Opened | null {
  const inner: Reading = { rate: r.rate, notices: [], lines: r.lines };
  const stack = schemaName(item) === 'Stack' ? item : { OTIO_SCHEMA: 'Stack.1', children: [{ ...item, source_range: null }] };
  const { tracks } = stackOf(inner, { ...stack, source_range: null } as OtioObject, 0, depth + 1);
  if ((item.effects ?? []).length > 0) return null;
  const opened = openNested(event, tracks, leaves, r.rate);
  if (!opened) return null;
  for (const n of inner.notices) r.notices.push({ ...n, event: event.key });
  return opened;
}

const blackEvent = (r: Reading, key: string, at: Frames, length: Frames): ListEvent =>
  newEvent({
    key,
    kind: 'black',
    reel: 'BL',
    sourceRate: r.rate,
    source: { in: 0, out: length },
    record: { in: at, out: at + length },
  });

function transitionOf(r: Reading, object: OtioObject, label: string): Transition | null {
  const parsed = checked(transitionSchema, object);
  if ('wrong' in parsed) {
    say(r, 'lost', 'broken-transition', object, `A transition on ${label} could not be read; a cut stands there.`);
    return null;
  }
  const { in_offset, out_offset, transition_type: type } = parsed.data;
  const before = frames(in_offset, r.rate);
  if (type && type !== 'SMPTE_Dissolve')
    say(r, 'changed', 'transition-kind', object, `A transition of the kind ${type} on ${label} is shown as a dissolve.`);
  const own = ownSchema.parse(parsed.data.metadata?.gemello ?? {});
  return {
    type: own.type ?? 'dissolve',
    before,
    duration: before + frames(out_offset, r.rate),
    from: 'previous',
    wipeCode: own.wipeCode ?? null,
    ...(own.look ? { look: own.look } : {}),
  };
}
