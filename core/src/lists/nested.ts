import { atRecordIn, trimmed } from '../conform';
import type { ListEvent, Track } from '../edit';
import { type FrameRange, type Frames, lengthOf, overlapOf, type Rate, sameSpeed } from '../time';
import type { Sentence } from '../words';
import { LIST_WORDS } from './wording';

/** How many events the nested cuts of a list may be opened into: a small file can nest many levels of many cuts. */
export const MOST_OPENED = 10_000;

/** A nested cut, opened: its layers from the bottom up, on the record of the cut it stands in. */
export interface Opened {
  readonly layers: readonly (readonly ListEvent[])[];
  /** Transitions that the window cut through; a cut stands there now. */
  readonly lostTransitions: number;
}

/**
 * What stands in a window over a track, laid from record frame `at`. Events that reach over an edge
 * of the window are shortened to it; what is seen at each frame stays the same. `rate` is the record's.
 */
export function throughWindow(
  events: readonly ListEvent[],
  window: FrameRange,
  at: Frames,
  rate: Rate,
): { events: ListEvent[]; lostTransitions: number } {
  let lostTransitions = 0;
  const by = at - window.in;
  const shown = events.flatMap((event): ListEvent[] => {
    const part = overlapOf(event.record, window);
    if (!part) return [];
    const join = event.transitionIn;
    const whole = join === null || event.record.in - join.before >= window.in;
    if (!whole) lostTransitions++;
    const whatIsSeen = atRecordIn(trimmed(event, part), rate);
    return [
      {
        ...whatIsSeen,
        sourceLabels:
          lengthOf(part) === lengthOf(event.record)
            ? event.sourceLabels
            : `${event.sourceLabels} ${part.in - event.record.in} ${lengthOf(part)}`,
        transitionIn: whole ? join : null,
        record: { in: part.in + by, out: part.out + by },
        markers: event.markers.filter((m) => m.record >= part.in && m.record < part.out).map((m) => ({ ...m, record: m.record + by })),
      },
    ];
  });
  return { events: shown, lostTransitions };
}

/**
 * Opens a nested cut that one event shows: `outer.source` is the window over it, counted like the
 * record of `inside`, which runs at `rate` too. Null where opening would not show the same picture: the nested cut is
 * retimed, resized, switched off, is counted at another rate, or has several layers that come in with a transition.
 */
export function openNested(outer: ListEvent, inside: readonly Track[], leavesWithTransition: boolean, rate: Rate): Opened | null {
  const plain = outer.retime.kind === 'natural' && outer.placement === null && outer.enabled && outer.markers.length === 0;
  const layers = inside.filter((t) => t.kind === 'picture' && t.events.length > 0);
  if (!plain || layers.length === 0 || !sameSpeed(outer.sourceRate, rate) || outer.phase.num !== 0) return null;
  const joined = outer.transitionIn !== null || leavesWithTransition;
  if (joined && layers.length > 1) return null;
  const window = { in: outer.source.in, out: outer.source.in + lengthOf(outer.record) };
  let lostTransitions = 0;
  const opened = layers.map((track) => {
    const through = throughWindow(track.events, window, outer.record.in, rate);
    lostTransitions += through.lostTransitions;
    return through.events.map((e): ListEvent => ({ ...e, notes: [...e.notes, `In the nested cut "${outer.clipName}"`] }));
  });
  const [first, ...others] = opened[0] ?? [];
  if (!first || (joined && (first.record.in !== outer.record.in || (others.at(-1) ?? first).record.out !== outer.record.out))) return null;
  if (outer.transitionIn) opened[0] = [{ ...first, transitionIn: outer.transitionIn }, ...others];
  return { layers: opened, lostTransitions };
}

/** What is said of a nested cut: that it was opened, or why it stays closed. */
export function nestedNotice(name: string, opened: Opened | null): { code: 'nested' | 'nested-opened'; said: Sentence } {
  if (!opened)
    return {
      code: 'nested',
      said: LIST_WORDS.nestedKept({ name }),
    };
  const count = opened.layers.reduce((sum, l) => sum + l.length, 0);
  return {
    code: 'nested-opened',
    said: LIST_WORDS.nestedOpened({ name, events: count, layers: opened.layers.length, transitions: opened.lostTransitions }),
  };
}

/**
 * Puts opened layers into the tracks they belong to: the bottom one into the track of the event it
 * stands for, the others into tracks of their own just above it. Tracks and events are named anew;
 * `keys` gives the new key of every event that had one, an opened one's being that of its first part.
 */
export function withOpened(
  tracks: readonly Track[],
  opened: ReadonlyMap<string, Opened>,
): { tracks: Track[]; keys: ReadonlyMap<string, string> } {
  const counts = { picture: 0, sound: 0 };
  const keys = new Map<string, string>();
  const made = tracks.flatMap((track): Track[] => {
    const above: Part[][] = [];
    const bottom = track.events.flatMap((event): Part[] => {
      const layers = opened.get(event.key)?.layers;
      if (!layers) return [{ event, was: event.key }];
      layers.slice(1).forEach((layer, i) => {
        above[i] = [...(above[i] ?? []), ...layer.map((e): Part => ({ event: e, was: null }))];
      });
      return (layers[0] ?? []).map((e, i): Part => ({ event: e, was: i === 0 ? event.key : null }));
    });
    return [bottom, ...above].map((parts, i): Track => {
      const name = track.kind === 'sound' ? `A${++counts.sound}` : `V${++counts.picture}`;
      const events = parts.map(({ event, was }, n) => {
        const key = `${name}/${n + 1}`;
        if (was) keys.set(was, key);
        return { ...event, key };
      });
      return i === 0 ? { ...track, name, events } : { name, kind: track.kind, events };
    });
  });
  return { tracks: made, keys };
}

interface Part {
  readonly event: ListEvent;
  readonly was: string | null;
}
