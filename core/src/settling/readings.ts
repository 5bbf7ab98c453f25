import type { CarryMode, SourceReading, StandingEvent } from '../edit';
import { looseReel, namesReel, type Original } from '../originals';
import { type Contender, carried, carryOf, isNamed, type PairedCut, type Pairing, placeIn } from '../pairing';
import { type Frames, framesPerDay, nominal, type Rate } from '../time';

/** How the timecode of a group of events would have to be read for their originals, found by name, to hold them. */
export type Reading =
  /** Added to the list's label, in frames of the list's source. */
  | { readonly kind: 'shift'; readonly frames: Frames }
  /** The list counts from the first frame of each clip. */
  | { readonly kind: 'from-clip' }
  /** The list was carried to another rate in another way than the rules say. */
  | { readonly kind: 'carry'; readonly carry: CarryMode }
  /** Some shift between two, which the clips' lengths leave open. */
  | { readonly kind: 'between'; readonly least: Frames; readonly most: Frames };

/** One cause for many events: what speaks for it, and what it does not explain. */
export interface ReadingProposal {
  readonly reading: Reading;
  /** The reel of the group as the list writes it; null where its events name none. */
  readonly reel: string | null;
  /** Keys of the events it explains. */
  readonly events: readonly string[];
  /** Keys of events of the group that it does not explain, or that agree already as they are read now. */
  readonly exceptions: readonly string[];
  /** How many clips speak for it. */
  readonly clips: number;
  /** True where nothing speaks against it and no other reading explains as many. */
  readonly certain: boolean;
}

/** An event and the one original that bears its name. */
interface Named {
  readonly event: StandingEvent;
  readonly original: Original;
  readonly length: Frames;
  /** True where its timecode agrees as it is read now. */
  readonly agrees: boolean;
}

/** So many clips must speak for a reading before it is certain: a label lies in one clip by chance once in some forty half hours. */
const ENOUGH_CLIPS = 2;
/** A shift by an odd number of frames must be told by more, since each clip leaves some room. */
const ENOUGH_FOR_ODD = 3;

/**
 * Groups of events whose originals bear their names but not their timecode, and how that timecode would have to be read:
 * whole and half hours off (daylight saving, time zones, a camera's clock), counted from each clip's first frame, carried by
 * real time or frame by frame, or shifted by one number of frames. Robust to outliers: what most clips of a group say is
 * proposed, with the others as exceptions.
 */
export function inferReadings(paired: PairedCut, carry: CarryMode): ReadingProposal[] {
  const groups = new Map<string, Named[]>();
  for (const pairing of paired.pairings) {
    const named = onlyNamed(pairing);
    if (!named) continue;
    const key = groupOf(pairing.event);
    const group = groups.get(key);
    if (group) group.push(named);
    else groups.set(key, [named]);
  }
  return [...groups.values()].flatMap((group) => (group.every((n) => n.agrees) ? [] : proposalFor(group, carry)));
}

const groupOf = ({ reel, mediaPath }: StandingEvent): string =>
  namesReel(reel) ? `reel ${looseReel(reel)}` : `folder ${mediaPath.slice(0, Math.max(0, mediaPath.lastIndexOf('/')))}`;

/** The one clip that is called as an event and against whose reel nothing speaks; null where there is none, or several. */
function onlyNamed({ event, state, accepted, contenders }: Pairing): Named | null {
  if (state === 'exempt' || accepted || event.sourceReading !== null || event.shift !== 0) return null;
  const named = contenders.filter((c) => isNamed(c.name) && c.original.kind !== 'still' && c.original.hasTimecode);
  const unopposed = named.filter((c) => c.reel.grade !== 'conflict');
  const [only, another] = unopposed;
  if (!only || (another && !sameClip(only, another))) return null;
  const length = Math.max(1, only.length.needs);
  return { event, original: only.original, length, agrees: only.timecode.grade === 'exact' || only.timecode.grade === 'overlaps' };
}

const sameClip = ({ original: a }: Contender, { original: b }: Contender): boolean =>
  a.start === b.start && a.frames === b.frames && a.rate.num === b.rate.num && a.rate.den === b.rate.den;

interface Tried {
  readonly reading: Reading;
  readonly explained: readonly Named[];
  readonly clips: number;
}

function proposalFor(group: readonly Named[], carry: CarryMode): ReadingProposal[] {
  const open = group.filter((n) => !n.agrees);
  const tried = readingsFor(open, carry)
    .map((reading): Tried => {
      const explained = open.filter((n) => explains(reading, n, carry));
      return { reading, explained, clips: new Set(explained.map((n) => n.original.path)).size };
    })
    .filter((t) => t.explained.length > 0)
    .sort((a, b) => b.explained.length - a.explained.length);
  // A whole or half hour that lies between two odd shifts is likelier than any of them.
  const [best, next] = tried;
  if (!best) return [];
  const events = best.explained.map((n) => n.event.key);
  const explained = new Set(events);
  // What agrees now and would not under the reading is spoiled by it, where the reading is given to the whole reel.
  const exceptions = group.filter((n) => !explained.has(n.event.key)).map((n) => n.event.key);
  const enough = best.reading.kind === 'shift' && !isHalfHours(best) ? ENOUGH_FOR_ODD : ENOUGH_CLIPS;
  const tied =
    next !== undefined &&
    next.explained.length === best.explained.length &&
    next.reading.kind !== 'between' &&
    !samePlaces(best, next, carry);
  const reel = best.explained[0]?.event.reel ?? '';
  return [
    {
      reading: best.reading,
      reel: namesReel(reel) ? reel : null,
      events,
      exceptions,
      clips: best.clips,
      certain: exceptions.length === 0 && best.clips >= enough && !tied && best.reading.kind !== 'between',
    },
  ];
}

const halfHour = (rate: Rate): Frames => framesPerDay(rate) / 48;
const isHalfHours = ({ reading, explained }: Tried): boolean => {
  const rate = explained[0]?.event.sourceRate;
  return reading.kind === 'shift' && rate !== undefined && reading.frames % halfHour(rate) === 0;
};

/** The readings that any event of a group calls for. */
function readingsFor(open: readonly Named[], carry: CarryMode): Reading[] {
  const readings: Reading[] = [];
  const halves = new Map<Frames, number>();
  for (const named of open) for (const frames of halfHoursOf(named, carry)) halves.set(frames, (halves.get(frames) ?? 0) + 1);
  for (const [frames] of [...halves].sort((a, b) => b[1] - a[1]).slice(0, 4)) readings.push({ kind: 'shift', frames });
  readings.push({ kind: 'from-clip' });
  const mixed = open.some(({ event, original }) => !sameCounting(event.sourceRate, original.rate));
  if (mixed)
    for (const mode of ['label', 'real-time', 'frame-count'] as const) if (mode !== carry) readings.push({ kind: 'carry', carry: mode });
  const odd = commonShift(open, carry);
  if (odd) readings.push(odd.least === odd.most ? { kind: 'shift', frames: odd.least } : { kind: 'between', ...odd });
  return readings;
}

const sameCounting = (a: Rate, b: Rate): boolean => nominal(a) === nominal(b) && a.dropFrame === b.dropFrame && a.den === b.den;

/** The shifts of a list's label, in its own frames, under which an original holds an event; null where rates leave none to tell. */
function shiftsOf({ event, original, length }: Named, carry: CarryMode): { least: Frames; most: Frames } | null {
  if (nominal(event.sourceRate) !== nominal(original.rate)) return null;
  const label = carried(event.source.in, event.sourceRate, original.rate, carryOf(event, carry));
  if (length > original.frames) return null;
  return { least: original.start - label, most: original.start + original.frames - length - label };
}

function halfHoursOf(named: Named, carry: CarryMode): Frames[] {
  const span = shiftsOf(named, carry);
  if (!span) return [];
  const half = halfHour(named.event.sourceRate);
  const day = framesPerDay(named.event.sourceRate);
  const found: Frames[] = [];
  for (let frames = Math.ceil(span.least / half) * half; frames <= span.most; frames += half) {
    // Over midnight a shift the other way round is the same.
    const within = ((((frames + day / 2) % day) + day) % day) - day / 2;
    if (within !== 0) found.push(within);
  }
  return found;
}

/** The shifts that most of the events allow at once; null where no two do. */
function commonShift(open: readonly Named[], carry: CarryMode): { least: Frames; most: Frames } | null {
  const edges = open.flatMap((named) => {
    const span = shiftsOf(named, carry);
    return span
      ? [
          { at: span.least, by: 1 },
          { at: span.most + 1, by: -1 },
        ]
      : [];
  });
  edges.sort((a, b) => a.at - b.at || a.by - b.by);
  let [depth, deepest] = [0, 1];
  let best: { least: Frames; most: Frames } | null = null;
  edges.forEach(({ at, by }, i) => {
    depth += by;
    const next = edges[i + 1];
    if (depth > deepest && next) {
      deepest = depth;
      best = { least: at, most: next.at - 1 };
    }
  });
  return best;
}

/** The frame of its original where an event begins under a reading. */
function startUnder(reading: Reading, { event, original }: Named, carry: CarryMode): Frames {
  const mode = reading.kind === 'carry' ? reading.carry : carryOf(event, carry);
  const shift = reading.kind === 'shift' ? reading.frames : reading.kind === 'between' ? reading.least : 0;
  const label = carried(event.source.in + shift, event.sourceRate, original.rate, mode);
  return reading.kind === 'from-clip' ? label : placeIn(original, label);
}

function explains(reading: Reading, named: Named, carry: CarryMode): boolean {
  const start = startUnder(reading, named, carry);
  return start >= 0 && start + named.length <= named.original.frames;
}

const samePlaces = (a: Tried, b: Tried, carry: CarryMode): boolean =>
  a.explained.every((n) => startUnder(a.reading, n, carry) === startUnder(b.reading, n, carry));

/** What the reading of an event's timecode becomes; null where it is a shift. */
export const sourceReadingOf = (reading: Reading): SourceReading | null =>
  reading.kind === 'from-clip'
    ? { from: 'clip', carry: null }
    : reading.kind === 'carry'
      ? { from: 'midnight', carry: reading.carry }
      : null;
