import { type EditList, EMPTY_LIST, type ListEvent, recordSpan, type SequenceName } from '../../edit';
import { canDropFrames, type Frames, formatRate, nominal, relabel, lengthOf as spanLength } from '../../time';
import { allTold, noticeLog } from '../notices';
import { type ListOptions, unreadableList } from '../options';
import { clipRates, labelOfTracks, rateOfTimeline, startOf } from './clock';
import { noteMarkers, type Reading, readOwn, say } from './item';
import { parseTimeline } from './json';
import { linesOf } from './lines';
import { checked, DEEPEST, ownOf, schemaName, startSchema, timelineSchema } from './schema';
import { stackOf } from './stack';
import { rateOf } from './times';
import { OTIO_WORDS } from './wording';

/**
 * Reads OpenTimelineIO JSON. Record positions are exact times along each track from the timeline's
 * start, each laid to the nearest frame; source ranges are the clips' own. A clip's length on the record is its source range's
 * duration; a time warp says how fast the source runs below it. Nested cuts are opened where that
 * shows the same picture. What the model has no place for (metadata, unknown schemas, further media
 * references, other effects) stays beside the event it belongs to, and `writeOtio` puts it back.
 * Never throws on content.
 */
export function readOtio(text: string, options: ListOptions = {}): EditList {
  let json: unknown;
  try {
    json = parseTimeline(text);
  } catch (error) {
    return unreadableList('otio', OTIO_WORDS.brokenJson({ message: (error as Error).message }), lineOfFault(text, error as Error));
  }
  const timelines = findTimelines(json);
  const chosen = timelines[options.sequence ?? 0] ?? timelines[0];
  if (!chosen) return unreadableList('otio', OTIO_WORDS.noTimeline());
  const timeline = checked(timelineSchema, chosen);
  if ('wrong' in timeline) return unreadableList('otio', OTIO_WORDS.brokenTimeline({ wrong: timeline.wrong }));
  const lines = linesOf(text, json);
  const list = listOf(timeline.data, options, lines);
  if (timelines.length < 2) return list;
  const sequences = timelines.map((t) => nameOf(t, options, lines));
  const others = sequences.filter((_, i) => timelines[i] !== chosen).map((s) => `"${s.name}"`);
  const said = OTIO_WORDS.severalTimelines({ timelines: timelines.length, title: list.title, others: others.join(', ') });
  return {
    ...list,
    sequences,
    notices: [{ severity: 'changed', code: 'several-sequences', place: null, event: null, ...said }, ...list.notices],
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
  const { name, tracks: stack } = timeline;
  const log = noticeLog();
  const start = startSchema.safeParse(timeline.global_start_time);
  const startTime = start.success ? (start.data ?? null) : null;
  // Times are counted at the rate they are stated in; read at another, every count stays and the first label does.
  const { own } = ownOf(timeline.metadata);
  const { rate: counted, assumed } = rateOfTimeline(rateOf(startTime), clipRates(stack), options.rate);
  const stated = { ...counted, dropFrame: (own.dropFrame ?? options.rate?.dropFrame ?? false) && canDropFrames(counted) };
  const rate = options.rate ?? stated;
  const r: Reading = { rate: stated, log, notes: [...(own.notes ?? [])], lines };
  readOwn(r, timeline, null);
  if (!start.success) say(r, 'unreadable', 'broken-start', timeline, OTIO_WORDS.brokenStart());
  if (assumed && !options.rate) say(r, 'changed', 'rate-assumed', timeline, assumed);
  if (canDropFrames(stated) && own.dropFrame === undefined && !options.rate)
    say(
      r,
      'changed',
      'counting-assumed',
      timeline,
      OTIO_WORDS.countingAssumed({ rate: formatRate(stated), dropRate: formatRate({ ...stated, dropFrame: true }) }),
    );
  const first = startTime ? startOf(startTime, stated) : (labelOfTracks(stack, stated) ?? 0);
  const { tracks: read, strays } = stackOf(r, stack, first, 0);
  noteMarkers(r, stack, 'on the cut', first);
  const by = nominal(stated) === nominal(rate) ? 0 : relabel(first, stated, rate) - first;
  const tracks = by === 0 ? read : read.map((t) => ({ ...t, events: t.events.map((e) => shifted(e, by)) }));
  const { tracks: _, ...around } = timeline;
  const { children: __, ...bare } = stack;
  return {
    ...EMPTY_LIST,
    format: 'otio',
    title: name ?? '',
    rate,
    // Without a start time a cut begins at zero, and an empty stretch before its first event belongs to it.
    start: first + by,
    framing: options.raster ? { raster: options.raster, pixelAspect: null, fields: null } : null,
    tracks,
    notes: r.notes,
    metadata: { timeline: around, stack: bare, ...(strays.length > 0 ? { strays } : {}) },
    notices: allTold(log),
  };
}

const shifted = (event: ListEvent, by: Frames): ListEvent => ({
  ...event,
  record: { in: event.record.in + by, out: event.record.out + by },
  markers: event.markers.map((m) => ({ ...m, record: m.record + by })),
});
