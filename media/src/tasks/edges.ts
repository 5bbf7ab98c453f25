import {
  type CutPictures,
  cutFinding,
  type Finding,
  FOUND,
  type Frames,
  fadeOut,
  type Layer,
  type Luma,
  passageOf,
  poseAt,
  type Shot,
} from '@gemello/core';
import { isFaultOfFile } from '../plain';
import { explained, type Looked, type Looker } from './looked';

/** What a neighbour shows; null where its file cannot be read, which its own proof says. */
function orUnread<T>(look: () => T): T | null {
  try {
    return look();
  } catch (error) {
    if (!isFaultOfFile(error)) throw error;
    return null;
  }
}

/** How far a cut is looked at, each way. */
const AROUND: Frames = 60;

const middleOf = ({ event }: Shot): Frames => Math.floor((event.record.in + event.record.out) / 2);

/** The frames on which a shot is seen without what comes before and after it, by the list. */
const wholeFrom = ({ event }: Shot): Frames => event.record.in + Math.floor((event.record.out - event.record.in) / 8);
const wholeUntil = ({ event }: Shot): Frames => event.record.out - Math.floor((event.record.out - event.record.in) / 8);

/** True where another layer has something at any of these frames. */
const isCovered = ({ against }: Looker, layer: Layer, from: Frames, to: Frames): boolean =>
  against.conform.layers.some((l) => l !== layer && l.shots.some((s) => s.event.record.in < to && s.event.record.out > from));

/** Tells the cut before a shot, where both sides are known, black or nothing, and nothing else lies over it. */
export function cutBefore(looked: Looker, shot: Shot, layer: Layer): Finding | null {
  const { against } = looked;
  const previous = layer.shots[layer.shots.indexOf(shot) - 1];
  const cut = shot.event.record.in;
  const join = shot.event.transitionIn;
  const ends = previous?.event.record.out ?? Number.NEGATIVE_INFINITY;
  if (ends > cut || join?.type === 'key') return null;
  // Where the list fades in from black, what stands before the cut is no part of it.
  const first = join?.from === 'black';
  const follows = previous && ends === cut && !first ? previous : null;
  const leaves = follows ? sideOf(looked, follows) : null;
  const comes = sideOf(looked, shot);
  if (leaves === undefined || comes === undefined || (leaves === null && comes === null)) return null;
  // A side that fades is looked at beyond its middle: it must be seen whole for its strength to be told.
  const from = first ? cut : Math.max(cut - AROUND, follows ? (comes ? middleOf(follows) : wholeFrom(follows)) : ends);
  const to = Math.min(cut + AROUND, leaves ? middleOf(shot) : wholeUntil(shot));
  if (isCovered(looked, layer, from, to)) return null;
  const pictures: CutPictures = {
    cut,
    from,
    to,
    until: Math.max(to, wholeUntil(shot)),
    first: first || !follows,
    black: leaves === null ? 'leaving' : comes === null ? 'incoming' : null,
    listed: join && passageOf(join),
    mask: (leaves ?? comes)?.pictures.mask ?? against.laid.mask,
    reference: (n) => against.reference(n),
    leaving: (n) => (leaves && follows ? explained(leaves, n - follows.event.record.in) : null),
    incoming: (n) => comes && explained(comes, n - cut),
  };
  return cutFinding(pictures);
}

/** Tells how a shot ends: whether one after which nothing stands goes on for longer, or ends sooner, in the reference, and whether it fades out. */
export function endOf(looked: Looker, shot: Shot, layer: Layer): Finding | null {
  const { against } = looked;
  const next = layer.shots[layer.shots.indexOf(shot) + 1];
  const cut = shot.event.record.out;
  const begins = next ? next.event.record.in - (next.event.transitionIn?.before ?? 0) : Number.POSITIVE_INFINITY;
  const leaves = sideOf(looked, shot);
  if (begins < cut || !leaves) return null;
  const [from, to] = [Math.max(cut - AROUND, wholeFrom(shot)), Math.min(cut + AROUND, begins)];
  if (isCovered(looked, layer, from, to)) return null;
  const ends = {
    cut,
    from,
    mask: leaves.pictures.mask,
    reference: (n: Frames) => against.reference(n),
    leaving: (n: Frames) => asSeen(leaves, shot, n - shot.event.record.in),
  };
  if (next && begins === cut)
    return next.event.transitionIn || next.drawn === 'black' ? null : fadesBefore(looked, next, layer, fadeOut(ends));
  const found = cutFinding({ ...ends, to, black: 'incoming', listed: null, incoming: () => null });
  if (found?.kind === 'cut-moved') return { ...found, edge: 'out' };
  if (found?.kind !== 'transition-differs' || !found.measured) return null;
  return { ...found, measured: { ...found.measured, to: 'black' } };
}

/** A fade out before a cut; null where what comes in is mixed into it, which is a transition of the next event. */
function fadesBefore(looked: Looker, next: Shot, layer: Layer, out: Finding | null): Finding | null {
  const comes = out && cutBefore(looked, next, layer);
  const mixed = comes?.kind === 'cut-moved' || (comes?.kind === 'transition-differs' && comes.measured && !comes.measured.from);
  return mixed ? null : out;
}

/** The picture of an event as it is explained, as strong as the list has it. */
function asSeen(looked: Looked, { event }: Shot, offset: Frames): Luma | null {
  const luma = explained(looked, offset);
  const { opacity } = poseAt(event.placement, offset);
  return luma && opacity < 1 ? luma.map((v) => v * opacity) : luma;
}

/** A side of a cut: what was found of it, null where the list has black there, undefined where it is not known well enough. */
function sideOf(looked: Looker, shot: Shot): Looked | null | undefined {
  if (shot.drawn === 'black') return null;
  const one = orUnread(() => looked.of(shot));
  return one?.explanation && one.explanation.score >= FOUND ? one : undefined;
}
