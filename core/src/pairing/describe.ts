import type { Original } from '../originals';
import { formatTimeOfDay } from '../time';
import { type Evidence, type EvidenceResult, resultOf } from './criteria';
import { type Contender, evidenceOf } from './examine';
import { countStates, type Pairing, type PairState } from './pair';
import { evidenceText } from './wording';

/** One criterion in the shape of the command-line contract: how it speaks, in four steps and in detail, and what it says. */
export interface EvidenceDescription {
  criterion: Evidence['criterion'];
  result: EvidenceResult;
  grade: Evidence['grade'];
  detail: string;
}

export const describeEvidence = (evidence: Evidence): EvidenceDescription => ({
  criterion: evidence.criterion,
  result: resultOf(evidence),
  grade: evidence.grade,
  detail: evidenceText(evidence),
});

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
  evidence: EvidenceDescription[];
  contenders: { path: string; evidence: EvidenceDescription[]; sourceStartFrame: number; meets: boolean }[];
}

/** Describes one pairing; `event` is the number in the list, `sourceStartFrame` counts from 0 in the file. */
export function describePairing(p: Pairing): PairDescription {
  const said = (c: Contender) => evidenceOf(c).map(describeEvidence);
  return {
    event: p.event.number,
    key: p.event.key,
    track: p.track,
    state: p.state,
    accepted: p.accepted,
    original: p.chosen && describeClip(p.chosen.original),
    sourceStartFrame: p.chosen?.sourceStartFrame ?? null,
    missingHead: p.chosen?.length.missingHead ?? 0,
    missingTail: p.chosen?.length.missingTail ?? 0,
    missingInside: p.chosen?.length.missingInside ?? 0,
    shiftFrames: p.chosen?.shiftFrames ?? 0,
    evidence: p.chosen ? said(p.chosen) : [],
    contenders: p.contenders.map((c) => ({
      path: c.original.path,
      evidence: said(c),
      sourceStartFrame: c.sourceStartFrame,
      meets: c.line !== null,
    })),
  };
}

/** An original in the shape of the command-line contract. */
export function describeClip(o: Original): NonNullable<PairDescription['original']> {
  const timecode = (frames: number) => (o.hasTimecode ? formatTimeOfDay(frames, o.rate) : null);
  return { path: o.path, reel: o.reel, timecodeIn: timecode(o.start), timecodeOut: timecode(o.start + o.frames), frames: o.frames };
}

/** All pairings, and how many stand in each state. */
export const describePairings = (pairings: readonly Pairing[]) => ({
  pairs: pairings.map(describePairing),
  summary: countStates(pairings),
});
