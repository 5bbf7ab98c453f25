import { compile, headFrames, neededFrames, type Shot, sourceFrameAt } from '../conform';
import type { Standing } from '../edit';
import { looseName, looseReel, namesReel, type Original, withoutExtension } from '../originals';
import { type FrameRange, type Frames, lengthOf, type Rate, sameSpeed } from '../time';
import { versionIn } from './version';

/** What tells that a clip is for an event. */
export type FitBy = 'timecode' | 'reel' | 'name' | 'number' | 'length' | 'picture';

/** Where the picture of a clip was found among the originals: the frame of one that its first frame shows. */
export interface PicturePlace {
  readonly original: string;
  readonly frame: Frames;
}

/** A clip that came back for an event. */
export interface Offer {
  readonly path: string;
  readonly fileName: string;
  /** As its name says; null where it says none. */
  readonly version: number | null;
  readonly by: readonly FitBy[];
  /** The frame of the clip that stands for the event's source in. */
  readonly sourceStartFrame: Frames;
  /** The source start of the event's pair that it goes by; null where it has none. */
  readonly pairedAt: Frames | null;
}

/** An event that something came back for: the newest version first. */
export interface EventBack {
  readonly event: string;
  readonly number: string;
  readonly offers: readonly Offer[];
  /** Path of the clip that stands in its place now; null for none. */
  readonly shown: string | null;
}

/**
 * Why a clip is offered for no event: nothing has its timecode or name, it lacks frames that the cut shows, runs at another rate, or
 * seems to have the speed of its event in its pictures, which would then run at it twice.
 */
export type StrangerWhy = 'no-event' | 'too-short' | 'other-rate' | 'speed-baked';

export interface Homecoming {
  readonly back: readonly EventBack[];
  /** Events that nothing came back for: those with an original. */
  readonly out: readonly { readonly event: string; readonly number: string }[];
  readonly strangers: readonly { readonly path: string; readonly fileName: string; readonly why: StrangerWhy }[];
}

/**
 * Which events clips belong to that were made elsewhere. `originals` are what the cut is paired with, `clips` what came back.
 * A clip fits an event whose frames it holds by its timecode, and whose reel, name or number it has. Without timecode its name or number
 * must fit and its length leave equal handles. Where a clip has the number of an event, it is for no other one. `places`: by the path of a
 * clip of which none of this says anything, where its picture is from.
 */
export function comeHome(
  cut: Standing,
  originals: ReadonlyMap<string, Original>,
  clips: readonly Original[],
  places: ReadonlyMap<string, PicturePlace> = new Map(),
): Homecoming {
  // As it is without what came back before.
  const tracks = cut.tracks.map((t) => ({ ...t, events: t.events.map((e) => (e.bake ? { ...e, bake: null } : e)) }));
  const shots = compile({ ...cut, tracks }, originals).layers.flatMap((l) => l.shots);
  const bakes = new Map(cut.tracks.flatMap((t) => t.events.map((e) => [e.key, e.bake?.original ?? null] as const)));
  const offers = new Map<string, Offer[]>();
  const strangers: Homecoming['strangers'][number][] = [];
  const wanted = shots.flatMap((shot) => wantedOf(shot, cut.rate) ?? []);
  for (const clip of clips) {
    const facts = factsOf(clip);
    const tried = wanted.flatMap((one) => {
      const fit = fitOf(one, facts);
      return fit ? [{ shot: one.shot, fit }] : [];
    });
    const said = tried.flatMap(({ shot, fit }) => (typeof fit === 'object' ? [{ shot, fit }] : []));
    const place = tried.length === 0 ? places.get(clip.path) : undefined;
    const found = place ? wanted.flatMap((one) => seenIn(one, facts, place) ?? []) : said;
    const numbered = found.filter(({ fit }) => fit.by.includes('number'));
    for (const { shot, fit } of numbered.length > 0 ? numbered : found)
      offers.set(shot.event.key, [...(offers.get(shot.event.key) ?? []), fit]);
    if (found.length > 0) continue;
    const why = tried.map((t) => t.fit).find((fit) => typeof fit === 'string');
    strangers.push({ path: clip.path, fileName: clip.fileName, why: why ?? 'no-event' });
  }
  const inCut = shots.filter((s) => s.original !== null || offers.has(s.event.key));
  return {
    back: inCut.flatMap(({ event }) => {
      const found = offers.get(event.key);
      return found
        ? [{ event: event.key, number: event.number, offers: found.sort(newestFirst), shown: bakes.get(event.key) ?? null }]
        : [];
    }),
    out: inCut.filter((s) => !offers.has(s.event.key)).map(({ event }) => ({ event: event.key, number: event.number })),
    strangers,
  };
}

/** Versions from the highest down, what has none last; of one version what more speaks for. */
const newestFirst = (a: Offer, b: Offer): number =>
  (b.version ?? -1) - (a.version ?? -1) || b.by.length - a.by.length || a.fileName.localeCompare(b.fileName);

/** What is asked of a clip that is for an event. */
interface Wanted {
  readonly shot: Shot;
  /** Frames of its original that the cut shows; null for a still and for what has no original. */
  readonly needed: FrameRange | null;
  /** As many frames as it is seen for, where it has no source of its own. */
  readonly frames: Frames;
  readonly rate: Rate;
  /** Its names and its reel, loosely; null where no reel is named. */
  readonly names: readonly string[];
  readonly reel: string | null;
}

function wantedOf(shot: Shot, cutRate: Rate): Wanted | null {
  const { event, original, exempt, tail } = shot;
  if (!original && !exempt) return null;
  const needed = original && original.kind !== 'still' ? (neededFrames(shot, 0)?.given ?? null) : null;
  return {
    shot,
    needed,
    frames: needed ? lengthOf(needed) : headFrames(event) + lengthOf(event.record) + tail,
    rate: needed && original ? original.rate : cutRate,
    names: namesOf(shot),
    reel: original && reelOf(original),
  };
}

/** What a clip says of itself. */
interface Facts {
  readonly clip: Original;
  readonly version: number | null;
  readonly parts: ReadonlySet<string>;
  readonly name: string;
  readonly reel: string | null;
}

function factsOf(clip: Original): Facts {
  const { stem, version } = versionIn(clip.fileName);
  return { clip, version, parts: new Set(stem.split(/[\s_.-]+/)), name: looseName(stem), reel: reelOf(clip) };
}

const reelOf = ({ reel }: Original): string | null => (namesReel(reel) ? looseReel(reel) : null);

/** What a clip is to an event: an offer, why it is none though it seems to be, or null where nothing speaks for it. */
function fitOf({ shot, needed, frames, rate, names, reel }: Wanted, facts: Facts): Offer | StrangerWhy | null {
  const { event, original, sourceStart } = shot;
  const { clip, version } = facts;
  const number = event.number !== '' && facts.parts.has(event.number) && 'number';
  const name = names.some((n) => facts.name.includes(n)) && 'name';
  const sameReel = reel !== null && facts.reel === reel && 'reel';
  if (!number && !name && !sameReel) return null;
  const offer = (by: readonly (FitBy | false)[], sourceStartFrame: Frames): Offer => ({
    path: clip.path,
    fileName: clip.fileName,
    version,
    by: by.filter((b): b is FitBy => b !== false),
    sourceStartFrame,
    pairedAt: event.pair?.sourceStartFrame ?? null,
  });
  if (original?.hasTimecode && needed && clip.hasTimecode) {
    if (!sameSpeed(clip.rate, rate)) return 'other-rate';
    const begins = clip.start - original.start;
    if (begins >= needed.out || begins + clip.frames <= needed.in) return null;
    if (mayBeBaked(shot, begins, clip.frames)) return 'speed-baked';
    if (begins > needed.in || begins + clip.frames < needed.out) return 'too-short';
    return offer(['timecode', sameReel, name, number], sourceStart - begins);
  }
  if (!number && !name) return null;
  if (!sameSpeed(clip.rate, rate)) return 'other-rate';
  const spare = clip.frames - frames;
  if (spare < 0) return 'too-short';
  if (spare % 2 !== 0) return null;
  return offer([name, number, 'length'], spare / 2 + (needed ? sourceStart - needed.in : headFrames(event)));
}

/** What a clip whose picture is known is to an event: an offer where it holds the frames that the cut shows of that original. */
function seenIn(
  { shot, needed, rate }: Wanted,
  { clip, version }: Facts,
  { original, frame }: PicturePlace,
): { shot: Shot; fit: Offer } | null {
  if (!needed || shot.original?.path !== original || !sameSpeed(clip.rate, rate)) return null;
  if (frame > needed.in || frame + clip.frames < needed.out) return null;
  const fit: Offer = {
    path: clip.path,
    fileName: clip.fileName,
    version,
    by: ['picture'],
    sourceStartFrame: shot.sourceStart - frame,
    pairedAt: shot.event.pair?.sourceStartFrame ?? null,
  };
  return { shot, fit };
}

/** True where a retimed event would have such a clip with equal handles if its speed were in the pictures: a frame of it for each of the record. */
function mayBeBaked(shot: Shot, begins: Frames, frames: Frames): boolean {
  const { event, run, tail } = shot;
  if (run.kind === 'even' && run.step === run.den && !run.backwards) return false;
  const head = headFrames(event);
  const spare = frames - (head + lengthOf(event.record) + tail);
  return spare >= 0 && spare % 2 === 0 && sourceFrameAt(shot, event.record.in - head - spare / 2) === begins;
}

/** What an event is called, loosely: by its own names and its original's. */
const namesOf = ({ event, original }: Shot): string[] =>
  [event.clipName, withoutExtension(event.fileName), original?.clipName ?? '']
    .map((name) => looseName(name))
    .filter((name) => name.length >= SHORTEST_NAME);

/** Shorter names stand in others by chance. */
const SHORTEST_NAME = 5;
