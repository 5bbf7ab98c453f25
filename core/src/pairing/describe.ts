import { formatTimeOfDay } from '../time';
import type { Contender, Evidence } from './evidence';
import { countStates, type Pairing, type PairState } from './pair';

/** A pairing in the shape of the command-line contract. */
export interface PairDescription {
  event: string;
  key: string;
  track: string;
  state: PairState;
  accepted: boolean;
  original: { path: string; reel: string; timecodeIn: string | null; timecodeOut: string | null; frames: number } | null;
  sourceStartFrame: number | null;
  missingHead: number;
  missingTail: number;
  missingInside: number;
  shiftFrames: number;
  evidence: Evidence[];
  contenders: { path: string; evidence: Evidence[]; sourceStartFrame: number; meets: boolean }[];
}

/** Describes one pairing; `event` is the number in the list, `sourceStartFrame` counts from 0 in the file. */
export function describePairing(p: Pairing): PairDescription {
  return {
    event: p.event.number,
    key: p.event.key,
    track: p.track,
    state: p.state,
    accepted: p.accepted,
    original: p.chosen && describeChosen(p.chosen),
    sourceStartFrame: p.chosen?.sourceStartFrame ?? null,
    missingHead: p.chosen?.missingHead ?? 0,
    missingTail: p.chosen?.missingTail ?? 0,
    missingInside: p.chosen?.missingInside ?? 0,
    shiftFrames: p.chosen?.shiftFrames ?? 0,
    evidence: [...(p.chosen?.evidence ?? [])],
    contenders: p.contenders.map((c) => ({
      path: c.original.path,
      evidence: [...c.evidence],
      sourceStartFrame: c.sourceStartFrame,
      meets: c.meets,
    })),
  };
}

function describeChosen({ original: o }: Contender) {
  const timecode = (frames: number) => (o.hasTimecode ? formatTimeOfDay(frames, o.rate) : null);
  return { path: o.path, reel: o.reel, timecodeIn: timecode(o.start), timecodeOut: timecode(o.start + o.frames), frames: o.frames };
}

/** Describes all pairings with a count per state. */
export function describePairings(pairings: readonly Pairing[]): { pairs: PairDescription[]; summary: Record<PairState, number> } {
  return { pairs: pairings.map(describePairing), summary: countStates(pairings) };
}
