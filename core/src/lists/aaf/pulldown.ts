import { PID } from './model';
import { type AafObject, intAt } from './object';

/** Film frames for tape frames, by the kind of a pulldown (AAF Object Specification, PulldownKindType): 2:3, PAL, one to one, 24 to 60, one to two. */
const SHARES: Readonly<Record<number, readonly [film: number, tape: number]>> = {
  0: [4, 5],
  1: [24, 25],
  2: [1, 1],
  3: [1, 1],
  5: [1, 1],
  6: [2, 5],
  7: [1, 2],
};
const FILM_TO_TAPE = 1;

/** What is known of a pulldown: so many frames of what it gives for so many of what it is of. */
export interface PulledDown {
  readonly given: number;
  readonly of: number;
  /** The frame that lies under one of those it gives, counted from its first. */
  under(frame: number): number;
}

/**
 * How a pulldown counts, whatever the clock says: four film frames take five of tape, and where between a film frame begins, the tape frame it is
 * first seen on counts (of film frames A to D: 0, 1, 2, 3, the next A on 5; common practice). `PhaseFrame` says where in that order it
 * begins. Null for kinds that are unknown.
 */
export function pulldownOf(pulldown: AafObject): PulledDown | null {
  const shares = SHARES[intAt(pulldown, PID.pulldownKind) ?? -1];
  if (!shares) return null;
  const [film, tape] = shares;
  const toTape = intAt(pulldown, PID.pulldownDirection) === FILM_TO_TAPE;
  const [given, of] = toTape ? [tape, film] : [film, tape];
  const phase = Math.max(0, intAt(pulldown, PID.pulldownPhase) ?? 0);
  const begun = (frame: number) => Math.floor((frame * of) / given);
  return { given, of, under: (frame) => begun(frame + phase) - begun(phase) };
}
