import type { Frames, Rate } from '../time';
import { type Cdl, type EditList, type Fit, type ListEvent, pictureTracks, type RateMode, type Track } from './model';

/** The original that is accepted for an event. Frames count from 0 in the original. */
export interface Paired {
  readonly original: string;
  /** The frame that stands for the event's source in. */
  readonly sourceStartFrame: Frames;
  /** That frame as it was when the pair was accepted; what lies between the two is the slip. */
  readonly acceptedAt: Frames;
  /** Rate of the original when it was accepted; null where it was not said: then that of the list's source. */
  readonly rate: Rate | null;
}

/** A movie that stands in place of what has no original, such as a title or an effect made elsewhere. */
export interface Bake {
  readonly original: string;
  /** The frame that stands for the event's source in; below 0 where it begins after that. */
  readonly sourceStartFrame: Frames;
  /** The source start of the event's pair that this goes by: a slip of the pair is one of the movie, too. */
  readonly pairedAt?: Frames | undefined;
  /** True where the grade of the event is in its pictures already. */
  readonly graded?: boolean | undefined;
}

/** How a source timecode is carried to an original of another rate: by what its label says, by real time, or frame for frame from midnight. */
export const CARRY_MODES = ['label', 'real-time', 'frame-count'] as const;
export type CarryMode = (typeof CARRY_MODES)[number];

/** How the source timecode of an event is to be read: where its numbers begin, and how they are carried; null: as the rules say. */
export interface SourceReading {
  readonly from: 'midnight' | 'clip';
  readonly carry: CarryMode | null;
}

/** What a reel field holds the first characters of, and how many. */
export interface ReelTakes {
  readonly of: 'reel' | 'clip-name' | 'file-name';
  readonly length: number;
}

/** How colours between the entries of a lattice are found: over the tetrahedron around each, or from all eight corners of its cell. */
export const LUT_BETWEEN = ['tetrahedral', 'trilinear'] as const;
export type LutBetween = (typeof LUT_BETWEEN)[number];

/** A LUT in use: the path of its `.cube` file, and how it is looked up in; a table of one dimension is mixed linearly in any case. */
export interface LutUse {
  readonly file: string;
  readonly between: LutBetween;
}

/** The LUT by its file's name, and how it is looked up in where that is not the usual way. */
export const lutText = ({ file, between }: LutUse): string =>
  [file.split('/').pop(), ...(between === 'tetrahedral' ? [] : [between])].join(', ');

/** An event as it stands once all that was decided is taken in. */
export interface StandingEvent extends ListEvent {
  readonly pair: Paired | null;
  readonly bake: Bake | null;
  /** Null: as its kind says. */
  readonly exempt: boolean | null;
  /** The LUT it is graded with beside its CDL; null for none. */
  readonly lut: LutUse | null;
  /** The group of shots it is graded with; null for none. */
  readonly group: string | null;
  /** What it is looked at through on a screen, after its grade; in no render. Null: as it is. */
  readonly viewing: Viewing | null;
  /** Added to the list's source timecode to reach that of the originals. */
  readonly shift: Frames;
  /** Null: its timecode counts from midnight and is carried as the rules say. */
  readonly sourceReading: SourceReading | null;
  /** Null: the reel field holds a reel. */
  readonly reelTakes: ReelTakes | null;
  /** Further names that count as the event's own when its original is looked for. */
  readonly aliases: readonly string[];
  /** Kinds of findings that a person accepted as they are. */
  readonly acceptedFindings: readonly string[];
  /** Kinds of findings that were put aside, to be looked at later. */
  readonly laterFindings: readonly string[];
  /** What people wrote about it. */
  readonly remarks: readonly string[];
}

/** What is done to colours for the eye alone, so that log originals can be held against a reference: a CDL, then a LUT. */
export interface Viewing {
  readonly cdl: Cdl | null;
  readonly lut: LutUse | null;
}

/** The part of the reference that shows the cut's whole frame, in shares of its width and height. */
export interface ReferenceFit {
  readonly left: number;
  readonly top: number;
  readonly right: number;
  readonly bottom: number;
}

export interface StandingTrack extends Track {
  readonly events: readonly StandingEvent[];
}

/** A cut as it stands: the delivered list with everything that was decided. What `compile` takes. */
export interface Standing extends EditList {
  readonly tracks: readonly StandingTrack[];
  /** How pictures of another shape are laid into the frame where an event says nothing else. */
  readonly fit: Fit;
  readonly rateMode: RateMode;
  readonly referenceFit: ReferenceFit | null;
}

const NONE: readonly never[] = [];

/** Events as they stand where nothing is decided of them: made once, so that what rests on one knows it again. */
const delivered = new WeakMap<ListEvent, StandingEvent>();

/** An event as the list delivers it, nothing decided; the same thing for the same event. */
export function asDelivered(event: ListEvent): StandingEvent {
  const known = delivered.get(event);
  if (known) return known;
  const made = undecided(event);
  delivered.set(event, made);
  return made;
}

/** Every field is written out: copying them by spreading takes forty times as long. */
function undecided(event: ListEvent): StandingEvent {
  return {
    key: event.key,
    number: event.number,
    kind: event.kind,
    reel: event.reel,
    clipName: event.clipName,
    fileName: event.fileName,
    mediaPath: event.mediaPath,
    file: event.file,
    sourceRate: event.sourceRate,
    source: event.source,
    sourceLabels: event.sourceLabels,
    anchor: event.anchor,
    phase: event.phase,
    record: event.record,
    retime: event.retime,
    rateMode: event.rateMode,
    transitionIn: event.transitionIn,
    placement: event.placement,
    cdl: event.cdl,
    markers: event.markers,
    notes: event.notes,
    enabled: event.enabled,
    linked: event.linked,
    metadata: event.metadata,
    line: event.line,
    pair: null,
    bake: null,
    group: null,
    exempt: null,
    lut: null,
    viewing: null,
    shift: 0,
    sourceReading: null,
    reelTakes: null,
    aliases: NONE,
    acceptedFindings: NONE,
    laterFindings: NONE,
    remarks: NONE,
  };
}

/** A cut with other pairs at some events, by key; nothing else of it changes. */
export const withPairs = (cut: Standing, pairs: ReadonlyMap<string, Paired>): Standing =>
  withEvents(cut, (event) => {
    const pair = pairs.get(event.key);
    return pair ? { ...event, pair } : event;
  });

/** A cut with other picture events. */
export const withEvents = (cut: Standing, changed: (event: StandingEvent) => StandingEvent): Standing => ({
  ...cut,
  tracks: cut.tracks.map((t) => (t.kind === 'picture' ? { ...t, events: t.events.map(changed) } : t)),
});

/** Picture tracks of a cut as it stands, from the bottom layer up. */
export const standingLayers = (cut: Standing): StandingTrack[] => pictureTracks(cut) as StandingTrack[];

/** True for what needs no original: switched off, exempted, or of a kind that has none. */
export const isExempt = (event: StandingEvent): boolean => !event.enabled || (event.exempt ?? event.kind !== 'clip');
