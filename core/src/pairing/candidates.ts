import type { CarryMode, StandingEvent } from '../edit';
import { cardOf, looseName, looseReel, NAME_FORMS, namesReel, type Original, slateIn, slateKey } from '../originals';
import { convertByRealTime, type Frames, lengthOf, type Rate } from '../time';
import { labelAt, placeIn } from './criteria';
import { allOf, type OriginalIndex, shelvesCut } from './originals-index';
import { holding, type Shelf } from './shelf';

/** What beyond reel and name an event may be led by: `reel`: every clip of its reel, `clock`: every clip that holds its timecode. */
export interface Breadth {
  readonly reel: boolean;
  readonly clock: boolean;
}

/** What leads an event to originals, freed of what says nothing. */
export interface Leads {
  readonly reels: readonly string[];
  readonly names: readonly string[];
  /** A reel that may be the beginning of a longer name, and its length. */
  readonly beginning: string | null;
}

export function leadsOf({ reel, clipName, fileName, aliases, reelTakes }: StandingEvent): Leads {
  const reels: string[] = [];
  if (namesReel(reel)) {
    reels.push(looseReel(reel));
    const card = cardOf(reel);
    if (card !== null) reels.push(looseReel(card));
  }
  const names = new Set<string>();
  for (const name of [clipName, fileName, ...aliases, namesReel(reel) ? reel : '']) {
    const key = name === '' ? '' : looseName(name);
    if (key !== '') names.add(key);
    const slate = slateIn(name);
    if (slate) names.add(slateKey(slate));
  }
  const short = reel.length === NAME_FORMS.shortReel || (reelTakes !== null && reel.length >= reelTakes.length);
  return { reels, names: [...names], beginning: short && namesReel(reel) ? reel.toLowerCase() : null };
}

/** The label an event asks for and how many frames of it, in frames of an original's rate. */
const sourceOf = (event: StandingEvent, carry: CarryMode) => ({
  label: (rate: Rate): Frames => labelAt(event, rate, carry),
  length: (rate: Rate): Frames => Math.max(1, convertByRealTime(lengthOf(event.source), event.sourceRate, rate)),
});

/** What may be the original of an event: what is called as it, wherever it lies in time, and of its reel what holds its timecode. */
export function candidatesOf(event: StandingEvent, leads: Leads, index: OriginalIndex, carry: CarryMode, breadth: Breadth): Set<Original> {
  const found = new Set<Original>();
  const { label, length } = sourceOf(event, carry);
  const fromClip = event.sourceReading?.from === 'clip';
  index.layers.forEach((layer, at) => {
    const add = (original: Original) => {
      if (at > 0 || !index.gone.has(original.path)) found.add(original);
    };
    const addShelf = (shelf: Shelf | undefined, whole: boolean) => {
      if (!shelf) return;
      for (const original of shelf.others) if (whole || original.kind === 'still') add(original);
      if (whole) for (const row of shelf.timed.values()) row.originals.forEach(add);
      else if (!fromClip) for (const original of holding(shelf, label, length)) add(original);
    };
    for (const reel of leads.reels) addShelf(layer.reels.get(reel), breadth.reel);
    for (const name of leads.names) for (const original of layer.names.get(name) ?? []) add(original);
    if (leads.beginning) addShelf(shelvesCut(layer, leads.beginning.length).get(leads.beginning), breadth.reel);
    if (breadth.clock && !fromClip) for (const original of holding(allOf(layer), label, length)) add(original);
  });
  return found;
}

/** Every original that holds all of the source an event names, by timecode alone, whatever it is called. */
export function clipsHolding(event: StandingEvent, index: OriginalIndex, carry: CarryMode): Original[] {
  const { label, length } = sourceOf(event, carry);
  return index.layers.flatMap((layer, at) =>
    [...holding(allOf(layer), label, length)].filter((o) => {
      const start = placeIn(o, label(o.rate));
      return (at > 0 || !index.gone.has(o.path)) && start >= 0 && start + length(o.rate) <= o.frames;
    }),
  );
}
