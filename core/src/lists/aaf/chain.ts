import type { Raster } from '../../edit';
import { canDropFrames, type Frames, floorDivide, nominal, type Rate, rateFromDecimal, rateOf } from '../../time';
import { classOf, DATA, EVENT_KIND, EVENT_NUMBER, PID, REMARK } from './model';
import {
  type AafObject,
  auidAt,
  childAt,
  childrenAt,
  definitionAt,
  indirectAt,
  intAt,
  mobIdAt,
  rationalAt,
  textAt,
  textOf,
} from './object';
import { type PulledDown, pulldownOf } from './pulldown';

/** All mobs of a file by their identity, and the names of the operations and parameters it uses. */
export interface Contents {
  readonly mobs: ReadonlyMap<string, AafObject>;
  readonly operations: ReadonlyMap<string, string>;
  readonly parameters: ReadonlyMap<string, string>;
  /** Places where chains came by, by mob and slot: many events come by the same. */
  readonly stops: Map<string, Map<number, Stop>>;
}

type Fault = 'missingMob' | 'circle' | 'betweenFrames' | 'pulldown' | 'noLabel';

/** What is known of a clip's source, gathered along its chain: from the clip to its file to the tape or the timecode it was recorded with. */
export interface Chain {
  clipName: string;
  reel: string;
  fileName: string;
  mediaPath: string;
  raster: Raster | null;
  /** Timecode under the asked frame, as a count at its rate; null where none of the chain has one. */
  timecode: { readonly count: Frames; readonly rate: Rate } | null;
  /** Frame of the file, where no timecode is known, and the rate it is counted at. */
  position: Frames;
  rate: Rate | null;
  /** Notes of the clips along it, with their names. */
  readonly notes: string[];
  /** Codes of what was wrong on the way. */
  readonly faults: Fault[];
  /** A pulldown on the way, and how it counts. */
  pulled: PulledDown | null;
  /** The composition that it leads to, where a cut stands in a cut. */
  nested: { readonly mob: AafObject; readonly slot: AafObject; readonly at: Frames } | null;
}

/** The rate that a slot counts its units at; null where it states none that can be. 2997/100 is the rate it is short for. */
export function rateOfSlot(slot: AafObject): Rate | null {
  const rate = rationalAt(slot, PID.editRate) ?? rationalAt(slot, PID.eventEditRate);
  if (!rate || rate.num <= 0 || rate.den <= 0) return null;
  if (rate.num % rate.den !== 0 && rate.den % 10 === 0) return rateFromDecimal(rate.num / rate.den);
  return rateOf(rate.num, rate.den);
}

/** Chains are short: composition, clip, file, tape, and seldom a step more. */
const LONGEST = 16;

/** A place in a slot of a mob, in units of a rate; `own`: in those of the slot itself, whichever they are. */
interface Place {
  readonly mob: string;
  readonly slot: number;
  readonly at: number;
  readonly rate: Rate;
  readonly own: boolean;
}

/** Follows a clip to its source: from `at` units of `rate` in a slot of a mob; `own`: in units of the slot itself, as below a pulldown. */
export function chainOf(contents: Contents, mobId: string, slotId: number, at: number, rate: Rate, own = false): Chain {
  const chain: Chain = {
    clipName: '',
    reel: '',
    fileName: '',
    mediaPath: '',
    raster: null,
    timecode: null,
    position: at,
    rate: null,
    notes: [],
    faults: [],
    pulled: null,
    nested: null,
  };
  const seen: Stop[] = [];
  let next: Place | null = { mob: mobId, slot: slotId, at, rate, own };
  while (next && seen.length < LONGEST) {
    const here: Place = next;
    const stop = stopAt(contents, here.mob, here.slot);
    if (!stop || seen.includes(stop)) {
      chain.faults.push(stop ? 'circle' : 'missingMob');
      break;
    }
    seen.push(stop);
    const { mob, slot, about } = stop;
    const units = stop.units ?? here.rate;
    const place = here.own ? here.at : unitsOf(chain, here.at, here.rate, units);
    if (about.kind === 'CompositionMob' && slot) {
      chain.nested = { mob, slot, at: place };
      break;
    }
    describe(chain, about, place, units);
    next = slot ? follow(chain, slot, place, units) : null;
  }
  return chain;
}

/** A place where a chain comes by: a mob and one of its slots, with what they say of themselves. */
interface Stop {
  readonly mob: AafObject;
  /** Undefined where the mob has none such. */
  readonly slot: AafObject | undefined;
  readonly units: Rate | null;
  readonly about: About;
}
function stopAt(contents: Contents, mobId: string, slotId: number): Stop | null {
  const held = contents.stops;
  const known = held.get(mobId)?.get(slotId);
  if (known) return known;
  const mob = contents.mobs.get(mobId);
  if (!mob) return null;
  const slots = childrenAt(mob, PID.slots).found;
  const slot = slots.find((s) => intAt(s, PID.slotId) === slotId);
  const of = held.get(mobId) ?? new Map<number, Stop>();
  const made: Stop = {
    mob,
    slot,
    units: (slot && rateOfSlot(slot)) ?? null,
    about: of.values().next().value?.about ?? aboutOf(mob, slots),
  };
  held.set(mobId, of.set(slotId, made));
  return made;
}

/** A count of one rate at another; where it falls between two units the earlier, which is noted. */
function unitsOf(chain: Chain, at: number, from: Rate, to: Rate): number {
  const [num, den] = [at * to.num * from.den, to.den * from.num];
  if (num % den !== 0 && !chain.faults.includes('betweenFrames')) chain.faults.push('betweenFrames');
  return Math.floor(num / den);
}

/** What a mob says of itself, whatever part of it is asked for. */
interface About {
  readonly kind: string;
  readonly name: string;
  readonly notes: readonly string[];
  readonly tape: boolean;
  readonly isFile: boolean;
  readonly url: string;
  readonly raster: Raster | null;
  readonly timecode: TimecodeTrack | null;
}

function aboutOf(mob: AafObject, slots: readonly AafObject[]): About {
  const kind = classOf(mob);
  const essence = childAt(mob, PID.essenceDescription);
  const described = essence ? classOf(essence) : '';
  const locators = essence ? childrenAt(essence, PID.locators).found : [];
  const [width, height] = essence ? [intAt(essence, PID.storedWidth), intAt(essence, PID.storedHeight)] : [null, null];
  return {
    kind,
    name: textAt(mob, PID.mobName),
    notes: [...commentsOf(mob, PID.mobComments), ...commentsOf(mob, PID.mobAttributes)],
    tape: described === 'TapeDescriptor',
    isFile: essence !== null && described !== 'TapeDescriptor' && described !== 'ImportDescriptor',
    url: locators.map((l) => textAt(l, PID.url)).find((u) => u !== '') ?? '',
    raster: width && height && width > 0 && height > 0 ? { width, height } : null,
    timecode: kind === 'SourceMob' || kind === 'MasterMob' ? timecodeOf(slots) : null,
  };
}

/** Takes what a mob says of itself. */
function describe(chain: Chain, { kind, name, notes, tape, isFile, url, raster, timecode }: About, place: Frames, rate: Rate): void {
  if (kind === 'MasterMob' && chain.clipName === '') chain.clipName = name;
  for (const note of notes) chain.notes.push(note);
  if (kind !== 'SourceMob') {
    // A clip's own timecode counts where nothing further down has one.
    if (timecode && !chain.timecode) chain.timecode = labelAt(chain, timecode, place, rate);
    return;
  }
  if (tape) chain.reel = name;
  else {
    if (url !== '' && chain.mediaPath === '') chain.mediaPath = url;
    if (isFile && chain.fileName === '') chain.fileName = name;
    chain.raster ??= raster;
  }
  chain.position = place;
  chain.rate = rate;
  if (timecode) chain.timecode = labelAt(chain, timecode, place, rate);
}

function labelAt(chain: Chain, timecode: TimecodeTrack, place: Frames, rate: Rate): NonNullable<Chain['timecode']> {
  const { count, rate: counted, whole, labelled } = countAt(timecode, place, rate);
  if (!whole && !chain.faults.includes('betweenFrames')) chain.faults.push('betweenFrames');
  if (!labelled && !chain.faults.includes('noLabel')) chain.faults.push('noLabel');
  return { count, rate: counted };
}

/** A stretch of labels: from a place in its slot on, in units of that, they count from `start` at `rate`. */
interface Labels {
  readonly from: number;
  readonly start: Frames;
  readonly rate: Rate;
}

/** The labels of a mob, in the order of its slot, which counts in units of its own and may begin ahead of the mob's first frame. */
export interface TimecodeTrack {
  readonly units: Rate;
  readonly origin: number;
  readonly labels: readonly Labels[];
  /** True where drop-frame is stated at a rate that has none. */
  readonly dropRefused: boolean;
}

/** The timecode of a mob: of several slots the one that is numbered first, else the first (AAF Object Specification, PhysicalTrackNumber). */
export function timecodeOf(slots: readonly AafObject[]): TimecodeTrack | null {
  let first: TimecodeTrack | null = null;
  for (const slot of slots) {
    const found = timecodeIn(slot, slots);
    if (!found) continue;
    if (intAt(slot, PID.trackNumber) === 1) return found;
    first ??= found;
  }
  return first;
}

function timecodeIn(slot: AafObject, slots: readonly AafObject[]): TimecodeTrack | null {
  const segment = childAt(slot, PID.segment);
  const parts = segment && classOf(segment) === 'Sequence' ? childrenAt(segment, PID.components).found : segment ? [segment] : [];
  const labels: Labels[] = [];
  const units = rateOfSlot(slot);
  let from = 0;
  let dropRefused = false;
  for (const part of parts) {
    const [start, fps] = classOf(part) === 'Timecode' ? [intAt(part, PID.timecodeStart), intAt(part, PID.timecodeFps)] : [null, null];
    if (start !== null && fps && fps >= 1 && fps <= 240) {
      const drop = intAt(part, PID.timecodeDrop) === 1;
      const rate = rateOfLabels(fps, drop, units, slots);
      if (drop && !canDropFrames(rate)) dropRefused = true;
      labels.push({ from, start, rate: { ...rate, dropFrame: drop && canDropFrames(rate) } });
    }
    from += Math.max(0, intAt(part, PID.length) ?? 0);
  }
  const [one] = labels;
  return one ? { units: units ?? one.rate, origin: intAt(slot, PID.origin) ?? 0, labels, dropRefused } : null;
}

/**
 * The rate that so many labels a second stand for: that of the slot, where it counts as many; else that of another slot of the mob, since a
 * slot that counts samples says nothing of frames; else drop-frame says that it is one of the 1001 rates.
 */
function rateOfLabels(fps: number, drop: boolean, units: Rate | null, slots: readonly AafObject[]): Rate {
  const counts = (rate: Rate | null): rate is Rate => rate !== null && nominal(rate) === fps;
  if (counts(units)) return units;
  const other = slots.map(rateOfSlot).find(counts);
  return other ?? (drop ? rateOf(fps * 1000, 1001) : rateOf(fps, 1));
}

/** A label at a place of a mob. */
interface Label {
  readonly count: Frames;
  readonly rate: Rate;
  /** The place falls on a frame; where it falls between two the count is that of the earlier. */
  readonly whole: boolean;
  /** False ahead of the first stretch of labels, from where they are counted backwards. */
  readonly labelled: boolean;
}

/** The label at a place of a mob, `at` units of `rate` from its first. */
export function countAt({ units, origin, labels }: TimecodeTrack, at: number, rate: Rate): Label {
  const [num, den] = [at * units.num * rate.den + origin * units.den * rate.num, units.den * rate.num];
  const found = labels.findLast(({ from }) => from * den <= num);
  const here = found ?? (labels[0] as Labels);
  const [frames, each] = [(num - here.from * den) * here.rate.num * units.den, den * here.rate.den * units.num];
  return { count: here.start + floorDivide(frames, each), rate: here.rate, whole: frames % each === 0, labelled: found !== undefined };
}

/** Where a slot leads on from one of its places; null at the end of the chain. */
function follow(chain: Chain, slot: AafObject, place: number, rate: Rate): Place | null {
  let segment = childAt(slot, PID.segment);
  let at = place + (intAt(slot, PID.origin) ?? 0);
  let own = false;
  for (let depth = 0; segment && depth < LONGEST; depth++) {
    switch (classOf(segment)) {
      case 'SourceClip': {
        const mob = mobIdAt(segment, PID.sourceId);
        if (!mob) return null;
        return { mob, slot: intAt(segment, PID.sourceSlot) ?? 0, at: at + (intAt(segment, PID.startTime) ?? 0), rate, own };
      }
      case 'Sequence': {
        let from = 0;
        let inside: AafObject | null = null;
        for (const part of childrenAt(segment, PID.components).found) {
          const length = intAt(part, PID.length) ?? 0;
          if (classOf(part) === 'Transition') {
            from -= length;
            continue;
          }
          if (at < from + length) {
            inside = part;
            break;
          }
          from += length;
        }
        at -= from;
        segment = inside;
        break;
      }
      case 'Pulldown': {
        const pulled = pulldownOf(segment);
        if (pulled) [at, chain.pulled] = [pulled.under(at), pulled];
        else chain.faults.push('pulldown');
        own = true;
        segment = childAt(segment, PID.pulldownInput);
        break;
      }
      case 'Selector':
        segment = childAt(segment, PID.selected);
        break;
      case 'EssenceGroup':
        segment = childrenAt(segment, PID.choices).found[0] ?? null;
        break;
      case 'OperationGroup':
        segment = childrenAt(segment, PID.inputs).found[0] ?? null;
        break;
      default:
        return null;
    }
  }
  return null;
}

/** Comments or attributes of a mob or a component: `name: value`, or a remark that has no name of its own. Those whose value is no text are left out. */
export const commentsOf = (object: AafObject, id: number): string[] =>
  taggedIn(object, id)
    .filter(({ name }) => name !== EVENT_NUMBER && name !== EVENT_KIND)
    .map(({ name, text }) => (name === REMARK ? text : `${name}: ${text}`));

/** The number or the kind of an event, where its writer kept it; else empty. */
export const keptIn = (component: AafObject, what: typeof EVENT_NUMBER | typeof EVENT_KIND): string =>
  taggedIn(component, PID.componentAttributes).find(({ name }) => name === what)?.text ?? '';

function taggedIn(object: AafObject, id: number): readonly { name: string; text: string }[] {
  const { found } = childrenAt(object, id);
  // Most have none.
  return found.length === 0
    ? NO_TAGS
    : found.flatMap((tagged) => {
        const [name, value] = [textAt(tagged, PID.taggedName), indirectAt(tagged, PID.taggedValue)];
        // A text is zeros and letters in pairs; anything else is a number or worse.
        const text = value && value.length >= 2 && value.length % 2 === 0 ? textOf(value) : '';
        // biome-ignore lint/suspicious/noControlCharactersInRegex: they are what is looked for
        return name !== '' && /^[^\u0000-\u0008\u000b\u000c\u000e-\u001f]+$/u.test(text) ? [{ name, text }] : [];
      });
}
const NO_TAGS: readonly { name: string; text: string }[] = [];

/** What a slot or a component is of. */
export const kindOf = (object: AafObject): (typeof DATA)[string] | null => DATA[definitionAt(object, PID.dataDefinition)] ?? null;

/** Definitions of a dictionary by their AUID, with their names. */
export const namesIn = (dictionary: AafObject | null, id: number): Map<string, string> =>
  new Map(dictionary ? childrenAt(dictionary, id).found.map((d) => [auidAt(d, PID.identification), textAt(d, PID.definitionName)]) : []);
