import { asLists, withoutOverlaps, withSourceAsNeeded } from '../../conform';
import { type EditList, type ListEvent, startOf, type Track } from '../../edit';
import { type Frames, lengthOf, type Rate, sameSpeed } from '../../time';
import { numbersAnew } from '../numbering';
import { writeCompound } from './compound-write';
import { metaDictionary } from './described';
import { DEFINED, EVENT_KIND, EVENT_NUMBER, HELD, LINEAR, OPERATIONS, PARAMETERS, TOP_LEVEL } from './model';
import { type NewObject, newPaths, storageOf, typeNamed, type Value } from './object-write';
import { placedPart } from './placing-write';
import {
  auidFor,
  type Kind,
  MADE,
  mob,
  mobIdOf,
  rational,
  type Sources,
  slot,
  sourceClip,
  sourcesOf,
  tagged,
  taggedValue,
  timecode,
  type Use,
} from './sources-write';
import { framesHeld, passedOver } from './speeds';
import { speedParameters } from './speeds-write';

/** Events as they are laid: what each track holds follows one another, and so do the markers of each. */
export const laidAsAaf = (list: EditList): EditList => {
  const laid = withSourceAsNeeded(withoutOverlaps(asLists(list)));
  const inOrder = (e: ListEvent): ListEvent =>
    e.markers.length < 2 ? e : { ...e, markers: [...e.markers].sort((a, b) => a.record - b.record) };
  return { ...laid, tracks: laid.tracks.map((t) => ({ ...t, events: t.events.map(inOrder) })) };
};

/**
 * Writes an AAF file with linked media (AMWA AAF Object and Stored Format Specifications): a composition of all tracks, and of each source its
 * chain of clip, file and tape. Transitions stay live, speeds and sizes stand as parameters, notes as tagged values, markers on a track of their own.
 * All identities follow from the content.
 */
export function writeAaf(given: EditList): Uint8Array {
  const list = laidAsAaf(given);
  const start = startOf(list);
  const tracks = list.tracks.map((track) => ({ track, stretches: stretchesOf(track, list.rate) }));
  const uses = tracks.flatMap(({ stretches }) => stretches.flatMap((s) => s.takes?.use ?? []));
  const sources = sourcesOf(uses, list.rate);
  const generators = new Map<string, string>();
  const numbers = numbersAnew(withoutEmptyBlack(list));
  const slots = tracks.map(({ track, stretches }, i) => {
    const number = list.tracks.slice(0, i + 1).filter((t) => t.kind === track.kind).length;
    const segment = sequenceOf({ stretches, kind: track.kind, start, rate: list.rate, sources, generators, numbers });
    return slot(i + 2, list.rate, segment, { SlotName: track.name, PhysicalTrackNumber: number });
  });
  const whole = Math.max(1, ...list.tracks.flatMap((t) => t.events.map((e) => e.record.out - start)));
  const id = mobIdOf(['cut', list]);
  const composition = mob('CompositionMob', id, list.title, {
    UsageCode: TOP_LEVEL,
    UserComments: tagged(list.notes),
    Slots: [slot(1, list.rate, timecode(start, list.rate, whole)), ...slots, ...markersOf(list, start, whole)],
  });
  const header = headerOf([composition, ...sources.mobs], dictionaryOf(generators), auidFor(['written', id]));
  const meta = metaDictionary();
  const paths = newPaths(meta.paths);
  const root = storageOf(
    { is: 'Root', has: { MetaDictionary: meta.object, Header: header } },
    paths,
    new Map([[meta.object, meta.storage]]),
  );
  return writeCompound({ ...root, streams: new Map([...root.streams, ['referenced properties', paths.stream()]]) });
}

/** Black without a transition is read as an empty place. */
const withoutEmptyBlack = (list: EditList): EditList => ({
  ...list,
  tracks: list.tracks.map((t) => ({ ...t, events: t.events.filter((e) => e.kind !== 'black' || joinOf(e)) })),
});

/** An event, and how many frames more of it the transitions at its ends need. */
interface Seen {
  readonly event: ListEvent;
  readonly lead: Frames;
  readonly tail: Frames;
}
/** The same with what it takes of its source; null for what has none. */
interface Stretch extends Seen {
  readonly takes: Taken | null;
}

function stretchesOf({ events, kind }: Track, rate: Rate): Stretch[] {
  return events.map((event, i) => {
    const [own, next] = [joinOf(event), events[i + 1]];
    const after = next && next.record.in === event.record.out ? joinOf(next) : null;
    const seen = {
      event,
      lead: own?.before ?? 0,
      tail: after && next?.transitionIn?.from === 'previous' ? after.duration - after.before : 0,
    };
    return { ...seen, takes: takenOf(seen, kind, rate) };
  });
}

/** A transition that the format has: a key is none, it lies over what it covers. */
const joinOf = ({ transitionIn: join }: ListEvent) => (join && join.type !== 'key' && join.duration > 0 ? join : null);

/** What a stretch takes of its source; `held`: how much that is, in frames of the record. */
interface Taken {
  readonly use: Use;
  readonly held: Frames;
}

/** What of its source a stretch needs; null for what has none. Counts of the record fall on the earlier frame of a source that runs at another rate. */
function takenOf({ event, lead, tail }: Seen, kind: Kind, rate: Rate): Taken | null {
  if (event.kind !== 'clip') return null;
  const { source, retime, record, sourceRate } = event;
  const length = lengthOf(record) + lead + tail;
  const inSource = (frames: Frames): Frames =>
    sameSpeed(rate, sourceRate) ? frames : Math.floor((frames * sourceRate.num * rate.den) / (sourceRate.den * rate.num));
  const from = (ahead: Frames, held: Frames): Taken => {
    const first = source.in - inSource(ahead);
    return { use: { event, kind, in: first, out: first + Math.max(1, inSource(held)) }, held };
  };
  switch (retime.kind) {
    case 'freeze':
      return from(0, 1);
    case 'keyed': {
      const ahead = aheadOfKeys(retime.keys, lead);
      return from(ahead, ahead + Math.max(1, Math.ceil(Math.max(...retime.keys.map((k) => k.source)))));
    }
    case 'natural':
      return from(lead, length);
    case 'constant': {
      const held = framesHeld(retime.speed, length);
      const ahead = passedOver(retime.speed, lead);
      // Backwards it begins with its last frame: what leads in lies after it.
      return from(retime.speed.num > 0 ? ahead : held - ahead - framesHeld(retime.speed, lengthOf(record)), held);
    }
  }
}

/** A track as it is written. */
interface TrackParts {
  readonly stretches: readonly Stretch[];
  readonly kind: Kind;
  readonly start: Frames;
  readonly rate: Rate;
  readonly sources: Sources;
  readonly generators: Map<string, string>;
  /** The numbers that events are read with where none is kept, by key. */
  readonly numbers: ReadonlyMap<string, string>;
}

function sequenceOf(track: TrackParts): NewObject {
  const { stretches, kind, start } = track;
  const parts: NewObject[] = [];
  let at = start;
  for (const stretch of stretches) {
    const { event } = stretch;
    const join = joinOf(event);
    const gap = event.record.in - at;
    const fromBlack = join !== null && (gap > 0 || join.from === 'black' || parts.length === 0);
    // A transition takes its frames from both sides; black is as long as it needs.
    const black = fromBlack ? Math.max(0, gap) + (join.duration - join.before) : gap;
    if (black > 0) parts.push({ is: 'Filler', has: { DataDefinition: DEFINED[kind], Length: black } });
    if (join) parts.push(transitionOf(join, kind));
    const part = partOf(stretch, track);
    const whole = lengthOf(event.record) + stretch.lead + stretch.tail;
    const placed = kind === 'picture' ? placedPart(part, event.placement, stretch.lead, whole) : part;
    parts.push(event.enabled || event.kind === 'black' ? placed : switchedOff(placed, kind, whole));
    at = event.record.out;
  }
  return { is: 'Sequence', has: { DataDefinition: DEFINED[kind], Length: at - start, Components: parts } };
}

/** What is switched off stands beside an empty place, which is selected (files of the outside collection; docs/formats.md). */
const switchedOff = (part: NewObject, kind: Kind, length: Frames): NewObject => ({
  is: 'Selector',
  has: {
    DataDefinition: DEFINED[kind],
    Length: length,
    Selected: { is: 'Filler', has: { DataDefinition: DEFINED[kind], Length: length } },
    Alternates: [part],
  },
});

function transitionOf(join: NonNullable<ReturnType<typeof joinOf>>, kind: Kind): NewObject {
  const wipe = join.type === 'wipe';
  const code = Number(join.wipeCode);
  const number =
    wipe && Number.isInteger(code) && code >= 0 && code <= 0xffff ? [constant(PARAMETERS.wipeNumber, 'aafUInt16', code)] : undefined;
  const operation = {
    is: 'OperationGroup',
    has: {
      DataDefinition: DEFINED[kind],
      Length: join.duration,
      Operation: wipe ? OPERATIONS.wipe : OPERATIONS.dissolve,
      Parameters: number,
    },
  };
  return {
    is: 'Transition',
    has: { DataDefinition: DEFINED[kind], Length: join.duration, OperationGroup: operation, CutPoint: join.before },
  };
}

const constant = (definition: string, type: string, value: Value): NewObject => ({
  is: 'ConstantValue',
  has: { Definition: definition, Value: { type, value } },
});

function partOf({ event, lead, tail, takes }: Stretch, { kind, rate, sources, generators, numbers }: TrackParts): NewObject {
  const length = lengthOf(event.record) + lead + tail;
  const data = DEFINED[kind];
  const about = { UserComments: tagged(event.notes), Attributes: keptOf(event, numbers.get(event.key) ?? '') };
  if (!takes) {
    if (event.kind === 'black') return { is: 'Filler', has: { DataDefinition: data, Length: length } };
    const title = event.kind === 'title';
    const operation = title ? OPERATIONS.title : auidFor(['generator', event.clipName]);
    if (!title) generators.set(operation, event.clipName);
    const text = title ? [constant(PARAMETERS.titleText, 'aafString', event.clipName)] : undefined;
    return { is: 'OperationGroup', has: { DataDefinition: data, Length: length, Operation: operation, Parameters: text, ...about } };
  }
  const { use, held } = takes;
  const { mob: id, begins } = sources.of(use);
  const { retime } = event;
  if (retime.kind === 'natural') return sourceClip(kind, id, use.in - begins, length, about);
  const inside = sourceClip(kind, id, use.in - begins, held, about);
  const parameters = speedParameters({ event, lead, length, from: use.in, held, rate });
  return {
    is: 'OperationGroup',
    has: { DataDefinition: data, Length: length, Operation: OPERATIONS.speed, InputSegments: [inside], Parameters: parameters },
  };
}

/** What the format has no place for: the number of an event where it is read with another, and what kind of generated picture it is. */
const keptOf = ({ number, kind }: ListEvent, usual: string): readonly NewObject[] | undefined => {
  const kept = [
    ...(number === '' || number === usual ? [] : [[EVENT_NUMBER, number]]),
    ...(kind === 'bars' || kind === 'generator' ? [[EVENT_KIND, kind]] : []),
  ];
  return kept.length === 0 ? undefined : kept.map(([name = '', value = '']) => taggedValue(name, value));
};

type Keys = readonly { readonly record: number; readonly source: number }[];

/** Whole frames of source ahead of an event whose speed changes, for those that a transition takes from its head. */
function aheadOfKeys([first, second]: Keys, lead: Frames): Frames {
  return first && second ? Math.max(0, Math.round((lead * (second.source - first.source)) / Math.max(1, second.record - first.record))) : 0;
}

/** One track of markers for each track that has some, which it describes. */
function markersOf({ tracks, rate }: EditList, start: Frames, whole: Frames): NewObject[] {
  return tracks.flatMap((track, i) => {
    const markers = track.events.flatMap((e) => e.markers).sort((a, b) => a.record - b.record);
    if (markers.length === 0) return [];
    const segment = {
      is: 'Sequence',
      has: {
        DataDefinition: DEFINED.marks,
        Length: whole,
        Components: markers.map((m) => ({
          is: 'DescriptiveMarker',
          has: { DataDefinition: DEFINED.marks, Length: 1, Position: m.record - start, Comment: m.text, DescribedSlots: [i + 2] },
        })),
      },
    };
    return [{ is: 'EventMobSlot', has: { SlotID: 1000 + i, PhysicalTrackNumber: i + 1, EditRate: rational(rate), Segment: segment } }];
  });
}

const definition = (is: string, id: string, name: string, has: Record<string, Value | undefined> = {}): NewObject => ({
  is,
  has: { Identification: id, Name: name, ...has },
});

/** What the file defines for itself: kinds of data, the operations and parameters that it uses. */
function dictionaryOf(generators: ReadonlyMap<string, string>): NewObject {
  const operation = (id: string, name: string, inputs: number, warps = false) =>
    definition('OperationDefinition', id, name, {
      DataDefinition: DEFINED.picture,
      NumberInputs: inputs,
      IsTimeWarp: warps,
    });
  const parameter = (id: string, name: string, type: string) => definition('ParameterDefinition', id, name, { Type: typeNamed(type).id });
  return {
    is: 'Dictionary',
    has: {
      DataDefinitions: [
        definition('DataDefinition', DEFINED.picture, 'DataDef_Picture'),
        definition('DataDefinition', DEFINED.sound, 'DataDef_Sound'),
        definition('DataDefinition', DEFINED.timecode, 'DataDef_Timecode'),
        definition('DataDefinition', DEFINED.marks, 'DataDef_DescriptiveMetadata'),
      ],
      OperationDefinitions: [
        operation(OPERATIONS.dissolve, 'OperationDef_VideoDissolve', 2),
        operation(OPERATIONS.wipe, 'OperationDef_SMPTEVideoWipe', 2),
        // Called as readers look them up that go by the name (the open timeline library's adapter).
        operation(OPERATIONS.speed, 'Motion Control', 1, true),
        operation(OPERATIONS.title, 'OperationDef_VideoTitle', 0),
        operation(OPERATIONS.scale, 'OperationDef_VideoScale', 1),
        operation(OPERATIONS.opacity, 'OperationDef_VideoOpacity', 1),
        operation(OPERATIONS.flip, 'OperationDef_Flip', 1),
        operation(OPERATIONS.flop, 'OperationDef_Flop', 1),
        operation(OPERATIONS.flipFlop, 'OperationDef_FlipFlop', 1),
        ...[...generators].map(([id, name]) => operation(id, name, 0)),
      ],
      ParameterDefinitions: [
        parameter(PARAMETERS.speedRatio, 'SpeedRatio', 'Rational'),
        parameter(PARAMETERS.speedOffsets, 'PARAM_SPEED_OFFSET_MAP_U', 'Rational'),
        parameter(PARAMETERS.wipeNumber, 'ParameterDef_SMPTEWipeNumber', 'aafUInt16'),
        parameter(PARAMETERS.titleText, 'ParameterDef_TitleText', 'aafString'),
        parameter(PARAMETERS.scaleX, 'ParameterDef_ScaleX', 'Rational'),
        parameter(PARAMETERS.scaleY, 'ParameterDef_ScaleY', 'Rational'),
        parameter(PARAMETERS.opacity, 'ParameterDef_OpacityLevel', 'Rational'),
      ],
      InterpolationDefinitions: [
        definition('InterpolationDefinition', HELD, 'InterpolationDef_Constant'),
        definition('InterpolationDefinition', LINEAR, 'InterpolationDef_Linear'),
      ],
    },
  };
}

/** Who writes, as the format wants it said. */
const PRODUCT = 'b6a2a2a1-6f0f-4f0e-9a53-3c5f7d0f1e42';

function headerOf(mobs: readonly NewObject[], dictionary: NewObject, generation: string): NewObject {
  return {
    is: 'Header',
    has: {
      ByteOrder: 0x4949,
      LastModified: MADE,
      Version: [1, 2],
      ObjectModelVersion: 1,
      OperationalPattern: '0d011201-0100-0000-060e-2b3404010105',
      IdentificationList: [
        {
          is: 'Identification',
          has: {
            ...{ CompanyName: 'Gemello', ProductName: 'Gemello', ProductVersionString: '1', ProductID: PRODUCT },
            ...{ Date: MADE, Platform: 'any', GenerationAUID: generation },
          },
        },
      ],
      Dictionary: dictionary,
      Content: { is: 'ContentStorage', has: { Mobs: mobs } },
    },
  };
}
