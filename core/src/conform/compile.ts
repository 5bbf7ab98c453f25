import {
  type Bake,
  type Cdl,
  type Fit,
  isExempt,
  type LutUse,
  type ReferenceFit,
  recordSpan,
  type Standing,
  type StandingEvent,
  standingLayers,
  type Viewing,
} from '../edit';
import type { Original } from '../originals';
import { type FrameRange, type Frames, lengthOf, type Rate } from '../time';
import type { Frame } from './geometry';
import { frameAt, headFrames, type Run, runOf, sourceSpan, tailFrames } from './timemap';

/**
 * What is drawn for an event: frames of its original (or of the movie baked for it), a plain stand-in for what has no
 * original, nothing at all, or the hole that a missing original leaves.
 */
export type Drawn = 'picture' | 'black' | 'bars' | 'title' | 'generator' | 'nothing' | 'missing';

/** One event as it will be shown: what it is made from, and how. */
export interface Shot {
  readonly event: StandingEvent;
  /** The accepted original, or the movie baked for it; null when neither is here, and for events that need none. */
  readonly original: Original | null;
  readonly exempt: boolean;
  readonly drawn: Drawn;
  /** Frame of the original, from 0, that stands for the event's source in; slips included. */
  readonly sourceStart: Frames;
  readonly slip: Frames;
  readonly run: Run;
  readonly cdl: Cdl | null;
  /** The LUT after it; null for none. */
  readonly lut: LutUse | null;
  /** What it is looked at through on a screen. */
  readonly viewing: Viewing | null;
  readonly fit: Fit;
  /** Record frames past record out that it is still seen, under the next transition. */
  readonly tail: Frames;
}

/** One picture layer; shots in record order. */
export interface Layer {
  readonly name: string;
  readonly shots: readonly Shot[];
  /** The last record out of the shots up to each one: beyond its own where events overlap. */
  readonly reach: readonly Frames[];
}

/** The cut, rebuilt from originals. Layers go from the bottom up. */
export interface Conform {
  readonly rate: Rate;
  readonly span: FrameRange;
  /** The frame of the cut: as the list or a person states it, else that of the first original that is shown. */
  readonly frame: Frame;
  readonly referenceFit: ReferenceFit | null;
  readonly layers: readonly Layer[];
}

/** The frame of a cut of which nothing says it. */
const USUAL_FRAME: Frame = { raster: { width: 1920, height: 1080 }, pixelAspect: 1 };

/** Computes the conform of a cut as it stands. Changes nothing; the same input gives the same output. */
export function compile(cut: Standing, originals: readonly Original[] | ReadonlyMap<string, Original>): Conform {
  const byPath = originals instanceof Map ? (originals as ReadonlyMap<string, Original>) : usedOf(cut, originals as readonly Original[]);
  const layers = standingLayers(cut).map(
    (track): Layer => ({
      name: track.name,
      shots: track.events.map((event, index) => shotOfEvent(event, tailFrames(track, index), byPath, cut)),
      reach: reachOf(track.events),
    }),
  );
  return {
    rate: cut.rate,
    span: recordSpan(cut),
    frame: frameOf(cut, layers),
    referenceFit: cut.referenceFit,
    layers,
  };
}

function reachOf(events: readonly StandingEvent[]): Frames[] {
  let reach = Number.NEGATIVE_INFINITY;
  return events.map(({ record }) => {
    reach = Math.max(reach, record.out);
    return reach;
  });
}

/** There may be many more originals than the cut uses. */
function usedOf(cut: Standing, originals: readonly Original[]): Map<string, Original> {
  const wanted = new Set<string>();
  for (const track of cut.tracks)
    for (const { pair, bake } of track.events) {
      if (pair) wanted.add(pair.original);
      if (bake) wanted.add(bake.original);
    }
  const byPath = new Map<string, Original>();
  for (const o of originals) if (wanted.has(o.path)) byPath.set(o.path, o);
  return byPath;
}

/** What a shot rests on beside its event. */
interface MadeShot {
  readonly baked: Original | null;
  readonly original: Original | null;
  readonly rate: Rate;
  readonly rateMode: Standing['rateMode'];
  readonly shot: Shot;
}

/** Shots that were made: a cut is compiled after every decision, and most of its shots are what they were. */
const made = new WeakMap<StandingEvent, MadeShot>();

function shotOfEvent(event: StandingEvent, tail: Frames, byPath: ReadonlyMap<string, Original>, cut: Standing): Shot {
  const { pair, bake } = event;
  const baked = (bake && byPath.get(bake.original)) ?? null;
  const original = baked ?? (pair && byPath.get(pair.original)) ?? null;
  const { rate, rateMode } = cut;
  const known = made.get(event);
  if (
    known?.original === original &&
    known.baked === baked &&
    known.rate === rate &&
    known.rateMode === rateMode &&
    known.shot.tail === tail &&
    known.shot.fit === (event.placement?.fit ?? cut.fit)
  )
    return known.shot;
  const shot = newShot(event, tail, baked, original, cut);
  made.set(event, { baked, original, rate, rateMode, shot });
  return shot;
}

function newShot(event: StandingEvent, tail: Frames, baked: Original | null, original: Original | null, cut: Standing): Shot {
  const { pair, bake } = event;
  const exempt = isExempt(event);
  return {
    event,
    original,
    exempt,
    drawn: drawnOf(event, original, exempt),
    sourceStart: baked ? startOfBaked(bake as Bake, pair) : (pair?.sourceStartFrame ?? 0),
    slip: pair ? pair.sourceStartFrame - pair.acceptedAt : 0,
    run: runOf(ruledBy(event, cut), cut.rate, original && original.kind !== 'still' ? original.rate : event.sourceRate),
    cdl: baked && bake?.graded ? null : event.cdl,
    lut: baked && bake?.graded ? null : event.lut,
    viewing: event.viewing,
    fit: event.placement?.fit ?? cut.fit,
    tail,
  };
}

/** A movie that was made from the event's source is slipped with it. */
const startOfBaked = ({ sourceStartFrame, pairedAt }: Bake, pair: StandingEvent['pair']): Frames =>
  sourceStartFrame + (pair && pairedAt !== undefined ? pair.sourceStartFrame - pairedAt : 0);

/** An event that says nothing of its rate runs as the cut does. */
const ruledBy = (event: StandingEvent, cut: Standing): StandingEvent =>
  event.rateMode === 'usual' && cut.rateMode !== 'usual' ? { ...event, rateMode: cut.rateMode } : event;

function drawnOf(event: StandingEvent, original: Original | null, exempt: boolean): Drawn {
  if (!event.enabled) return 'nothing';
  if (original) return 'picture';
  if (!exempt) return 'missing';
  return event.kind === 'clip' ? 'nothing' : event.kind;
}

function frameOf({ framing }: Standing, layers: readonly Layer[]): Frame {
  if (framing?.raster) return { raster: framing.raster, pixelAspect: framing.pixelAspect ?? 1 };
  for (const layer of layers)
    for (const { original } of layer.shots) if (original) return { raster: original.raster, pixelAspect: original.pixelAspect ?? 1 };
  return USUAL_FRAME;
}

/** The frame of a shot's original shown at a record frame; may lie outside the file. A still shows frame 0. */
export function sourceFrameAt(shot: Shot, record: Frames): Frames {
  if (shot.original?.kind === 'still') return 0;
  return shot.sourceStart + frameAt(shot.run, record - shot.event.record.in);
}

/** The shot of an event's key, or null. */
export function shotOf(conform: Conform, key: string): Shot | null {
  for (const layer of conform.layers) for (const shot of layer.shots) if (shot.event.key === key) return shot;
  return null;
}

/** All shots by the key of their event. */
export const shotsByKey = (conform: Conform | null): Map<string, Shot> =>
  new Map(conform?.layers.flatMap((l) => l.shots).map((s) => [s.event.key, s]) ?? []);

/** Frames a shot needs of its original with handles, clipped to what the original has. A still gives any number. */
export function neededFrames(shot: Shot, handles: Frames): { wanted: FrameRange; given: FrameRange } | null {
  if (!shot.original) return null;
  if (shot.original.kind === 'still') {
    const all = { in: 0, out: headFrames(shot.event) + lengthOf(shot.event.record) + shot.tail + 2 * handles };
    return { wanted: all, given: all };
  }
  const seen = sourceSpan(shot.event, shot.run, shot.tail);
  const wanted = { in: shot.sourceStart + seen.in - handles, out: shot.sourceStart + seen.out + handles };
  const given = { in: Math.max(0, wanted.in), out: Math.min(shot.original.frames, wanted.out) };
  return { wanted, given: lengthOf(given) > 0 ? given : { in: 0, out: 0 } };
}
