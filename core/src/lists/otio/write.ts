import type { EditList, ListEvent, Track } from '../../edit';
import { recordSpan } from '../../edit';
import type { Frames, Rate } from '../../time';

/**
 * Writes OpenTimelineIO JSON (Timeline.1, Clip.2). Gaps fill what no event covers. The reel stands
 * in the clip's metadata under `gemello`, as do the event's number and its CDL; metadata that came
 * with an event goes out as it came.
 */
export function writeOtio(list: EditList): string {
  const start = recordSpan(list).in;
  const time = (value: Frames, rate: Rate = list.rate) => ({ OTIO_SCHEMA: 'RationalTime.1', rate: rate.num / rate.den, value });
  const range = (from: Frames, length: Frames, rate: Rate = list.rate) => ({
    OTIO_SCHEMA: 'TimeRange.1',
    start_time: time(from, rate),
    duration: time(length, rate),
  });

  const clip = (event: ListEvent) => ({
    OTIO_SCHEMA: 'Clip.2',
    name: event.clipName,
    enabled: event.enabled,
    source_range: range(event.source.in, recordLength(event), event.sourceRate),
    effects: effectsOf(event),
    markers: event.markers.map((m) => ({
      OTIO_SCHEMA: 'Marker.2',
      name: m.text,
      color: m.colour ?? 'RED',
      marked_range: range(event.source.in + m.record - event.record.in, 0, event.sourceRate),
      metadata: {},
    })),
    media_references: {
      DEFAULT_MEDIA:
        event.kind === 'clip'
          ? event.fileName
            ? { OTIO_SCHEMA: 'ExternalReference.1', target_url: encodeURI(event.fileName), available_range: null, metadata: {} }
            : { OTIO_SCHEMA: 'MissingReference.1', available_range: null, metadata: {} }
          : { OTIO_SCHEMA: 'GeneratorReference.1', generator_kind: event.kind, parameters: {}, available_range: null, metadata: {} },
    },
    active_media_reference_key: 'DEFAULT_MEDIA',
    metadata: { ...event.metadata, gemello: ownMetadata(event) },
  });

  const children = (track: Track): object[] => {
    const out: object[] = [];
    let at = start;
    for (const event of track.events) {
      if (event.record.in > at)
        out.push({ OTIO_SCHEMA: 'Gap.1', name: '', source_range: range(0, event.record.in - at), effects: [], markers: [], metadata: {} });
      const join = event.transitionIn;
      if (join)
        out.push({
          OTIO_SCHEMA: 'Transition.1',
          name: join.type,
          transition_type: 'SMPTE_Dissolve',
          in_offset: time(join.before),
          out_offset: time(join.duration - join.before),
          metadata:
            join.type === 'dissolve'
              ? {}
              : { gemello: { type: join.type, ...(join.wipeCode === null ? {} : { wipeCode: join.wipeCode }) } },
        });
      out.push(clip(event));
      at = event.record.out;
    }
    return out;
  };

  const document = {
    OTIO_SCHEMA: 'Timeline.1',
    name: list.title,
    global_start_time: time(start),
    metadata: list.metadata ?? {},
    tracks: {
      OTIO_SCHEMA: 'Stack.1',
      name: 'tracks',
      source_range: null,
      effects: [],
      markers: [],
      metadata: {},
      children: list.tracks.map((track) => ({
        OTIO_SCHEMA: 'Track.1',
        name: track.name,
        kind: track.kind === 'sound' ? 'Audio' : 'Video',
        source_range: null,
        effects: [],
        markers: [],
        metadata: {},
        children: children(track),
      })),
    },
  };
  return `${JSON.stringify(document, null, 1)}\n`;
}

/** In this format a clip's source range is as long as it is on the record; how much source runs below is the warp's to say. */
const recordLength = (event: ListEvent): Frames => event.record.out - event.record.in;

function effectsOf({ retime }: ListEvent): object[] {
  if (retime.kind === 'natural') return [];
  if (retime.kind === 'freeze')
    return [{ OTIO_SCHEMA: 'FreezeFrame.1', name: '', effect_name: 'FreezeFrame', time_scalar: 0, metadata: {} }];
  return [{ OTIO_SCHEMA: 'LinearTimeWarp.1', name: '', effect_name: 'LinearTimeWarp', time_scalar: retime.speed, metadata: {} }];
}

function ownMetadata({ reel, number, cdl, notes }: ListEvent): Record<string, unknown> {
  return { ...(reel ? { reel } : {}), ...(number ? { number } : {}), ...(cdl ? { cdl } : {}), ...(notes.length > 0 ? { notes } : {}) };
}
