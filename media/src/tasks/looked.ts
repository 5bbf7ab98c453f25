import {
  type EventPictures,
  type Explanation,
  explain,
  FOUND,
  type Frames,
  frameOfRun,
  framesAlone,
  GRID,
  isBlack,
  isMoving,
  type Luma,
  lengthOf,
  partSeen,
  type Shot,
  sourceFrameAt,
  speedOf,
  spread,
  strengthOf,
  warped,
} from '@gemello/core';
import { type Against, withoutTitles } from './against';

/** Events, each looked at once, however many of its neighbours ask. */
export interface Looker {
  readonly against: Against;
  of(shot: Shot): Looked;
}

export interface Looked {
  /** Where in the frame it does, when that is only a part of it. */
  readonly where: Uint8Array | null;
  /** Record frames at which it stands alone and the reference has a picture. */
  readonly alone: readonly Frames[];
  readonly pictures: EventPictures;
  readonly explanation: Explanation | null;
}

export function looker(against: Against): Looker {
  const known = new Map<Shot, Looked>();
  return {
    against,
    of(shot) {
      const one = known.get(shot) ?? lookAt(against, shot);
      known.set(shot, one);
      return one;
    },
  };
}

/** Frames at either edge that a moved cut may have taken from an event are left out of what tells it, as far as it is long enough. */
const EDGE: Frames = 14;
const EDGE_SHARE = 0.28;
const SHORT: Frames = 20;
const SHORT_SHARE = 0.15;

/** The frames on which a shot is seen by itself and the reference has a picture; `where`, when it is only a part of the frame. */
function seenOf({ conform, reference }: Against, shot: Shot): { alone: Frames[]; where: Uint8Array | null } {
  const isThere = (n: Frames) => reference(n) !== null;
  const alone = framesAlone(conform, shot).filter(isThere);
  if (alone.length * 2 >= lengthOf(shot.event.record) || !shot.original) return { alone, where: null };
  const part = partSeen(conform, shot, GRID);
  const frames = part?.frames.filter(isThere) ?? [];
  return part && frames.length > 2 * alone.length ? { alone: frames, where: part.where } : { alone, where: null };
}

function lookAt(against: Against, shot: Shot): Looked {
  const { conform, sources, laid } = against;
  const { record, retime } = shot.event;
  const { alone, where } = seenOf(against, shot);
  const edge = alone.length < SHORT ? Math.floor(alone.length * SHORT_SHARE) : Math.min(EDGE, Math.floor(alone.length * EDGE_SHARE));
  const length = record.out - record.in;
  const expected = (offset: Frames) => sourceFrameAt(shot, record.in + offset);
  const speed = length > 1 ? (expected(length - 1) - expected(0)) / (length - 1) : 1;
  const listed = speedOf(retime);
  const mask = withoutTitles(conform, alone, where ? laid.mask.map((v, i) => v & (where[i] as number)) : laid.mask);
  const pictures: EventPictures = {
    core: alone.slice(edge, alone.length - edge).map((n) => n - record.in),
    alone: alone.map((n) => n - record.in),
    length,
    reference: (offset) => against.reference(record.in + offset),
    source: (n, offset) => sources.luma(shot, n, record.in + offset),
    coarse: (n) => sources.coarse(shot, n, mask),
    prints: () => sources.printsAsLaid(shot),
    sourceFrames: shot.original?.frames ?? 0,
    expected,
    speed,
    listed,
    natural: listed !== 0 && retime.kind !== 'freeze' && speed !== 0 ? speed / listed : 1,
    still: shot.original?.kind === 'still' || retime.kind === 'freeze',
    moving: isMoving(shot.event.placement),
    mask,
  };
  return { alone, where, pictures, explanation: shot.original && alone.length > 0 ? explain(pictures) : null };
}

/** The picture of an event as it is explained. */
export function explained({ pictures, explanation }: Pick<Looked, 'pictures' | 'explanation'>, offset: Frames): Luma | null {
  if (!explanation) return null;
  const luma = pictures.source(frameOfRun(explanation, pictures.expected, offset), offset);
  return luma && warped(luma, explanation.laid);
}

/** How strong what explains a picture is in one that is black, at the most: coding leaves a trace of something. */
const TRACE = 0.15;

/** True where the reference is black and the conform is not. */
export function isBlackInReference(looked: Pick<Looked, 'pictures' | 'explanation'>): boolean {
  const { core, reference, source, expected, mask } = looked.pictures;
  const frames = spread(core, 9);
  const black = frames.filter((k) => {
    const [r, s] = [reference(k), source(expected(k), k)];
    if (r === null || s === null || !isBlack(r, mask) || isBlack(s, mask)) return false;
    // A dark picture, explained, is as strong as it is; what is left of black is not.
    const told = looked.explanation && looked.explanation.score >= FOUND ? explained(looked, k) : null;
    return told === null || (strengthOf(r, told, mask) ?? 0) < TRACE;
  });
  return frames.length > 0 && black.length > frames.length / 2;
}
