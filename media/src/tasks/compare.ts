import {
  agreement,
  comparable,
  compile,
  type Explanation,
  FOUND,
  type Frames,
  frameOfRun,
  isReframed,
  judge,
  meanOf,
  type PictureLook,
  type Shot,
  shotsByKey,
  spread,
  type ToCompare,
  withPairs,
} from '@gemello/core';
import { isFaultOfFile } from '../plain';
import { type Against, openProof, type ProofBasis, type ReferenceLaid } from './against';
import { type Agreeing, alike } from './alike';
import { explained, isBlackInReference, type Looked, type Looker, looker } from './looked';
import { type FileFault, inSteps, type Report, type StopSignal, stopIfAsked } from './task';

export interface ComparePayload extends ProofBasis {
  readonly laid?: ReferenceLaid;
  readonly asked: readonly ToCompare[];
}

/** What was seen of the candidates of one event. */
export interface EventLooks {
  readonly event: string;
  readonly looks: readonly PictureLook[];
}

/** Pictures of an event by which its candidates are held against each other. */
const TOLD = 24;

/** One candidate as it was seen: what explains the reference by it, and how well each of some pictures agrees. */
interface Seen {
  readonly look: PictureLook;
  readonly score: number;
  readonly values: readonly number[];
}

/** Holds candidates of events against the reference, event by event. Files are only read; one that cannot be is named, and nothing is said of it. */
export function* compareSteps(
  { asked, ...basis }: ComparePayload,
  report: Report,
  signal: StopSignal,
): Generator<EventLooks, readonly FileFault[]> {
  const { step, within } = inSteps(report);
  const against = openProof(basis, within, signal, basis.laid);
  const problems: FileFault[] = [];
  try {
    const lookers = inTurns(against, basis, asked);
    for (const [index, { event, candidates }] of asked.entries()) {
      stopIfAsked(signal);
      step({ done: index, total: asked.length, what: '' });
      const seen = candidates.flatMap((_, turn) => seenOf(lookers[turn] as Turn, event, problems) ?? []);
      yield { event, looks: besideEachOther(seen) };
    }
    step({ done: asked.length, total: asked.length, what: '' });
    return problems;
  } finally {
    against.close();
  }
}

interface Turn {
  readonly looked: Looker;
  readonly shots: ReadonlyMap<string, Shot>;
}

/** The cut with the first candidate of each event in place, with the second, and so on: compiled once for each. */
function inTurns(against: Against, { list, originals }: ProofBasis, asked: readonly ToCompare[]): Turn[] {
  const rates = new Map(originals.map((o) => [o.path, o.rate]));
  const most = Math.max(0, ...asked.map((a) => a.candidates.length));
  return Array.from({ length: most }, (_, turn) => {
    const pairs = asked.flatMap(({ event, candidates }) => {
      const one = candidates[turn];
      if (!one) return [];
      const { path, sourceStartFrame } = one;
      return [[event, { original: path, sourceStartFrame, acceptedAt: sourceStartFrame, rate: rates.get(path) ?? null }] as const];
    });
    const conform = compile(withPairs(list, new Map(pairs)), originals);
    return { looked: looker({ ...against, conform }), shots: shotsByKey(conform) };
  });
}

function seenOf({ looked, shots }: Turn, event: string, problems: FileFault[]): Seen | null {
  const shot = shots.get(event);
  if (!shot?.original) return null;
  const { path } = shot.original;
  try {
    return seen(looked.of(shot), shot, path);
  } catch (error) {
    if (!isFaultOfFile(error)) throw error;
    if (!problems.some((p) => p.path === path)) problems.push({ path, message: error.message });
    return null;
  }
}

function seen(looked: Looked, shot: Shot, path: string): Seen {
  const { pictures, explanation } = looked;
  const open: Seen = { look: { path, is: 'open' }, score: 0, values: [] };
  if (!explanation) return open;
  const { score } = explanation;
  if (score >= FOUND) {
    const sourceStartFrame = shot.sourceStart + frameOfRun(explanation, pictures.expected, 0) - pictures.expected(0);
    const [low, high] = explanation.range.map((d) => d - explanation.slip) as [Frames, Frames];
    const look = { path, is: 'found', sourceStartFrame, range: [low, high], altered: isAltered(explanation), score: round(score) } as const;
    return { look, score, values: valuesOf(looked) };
  }
  const isAnother = judge(pictures, explanation).findings.some((f) => f.kind === 'wrong-picture') && !isBlackInReference(looked);
  return isAnother ? { ...open, look: { path, is: 'another', score: round(Math.max(0, score)), best: null } } : open;
}

const round = (n: number): number => Math.round(n * 1000) / 1000;

const isAltered = ({ line, knots, laid }: Explanation): boolean => Boolean(line) || Boolean(knots) || laid.flip !== '' || isReframed(laid);

function valuesOf(looked: Looked): number[] {
  const { pictures } = looked;
  return spread(pictures.core, TOLD).map((offset) => {
    const [r, s] = [pictures.reference(offset), explained(looked, offset)];
    return r && s ? agreement(comparable(r, pictures.mask), comparable(s, pictures.mask)) : 0;
  });
}

/**
 * What is seen of each once the others are known: a take that agrees clearly less than another is not the one. One that must be
 * altered to agree may be a wider export of the same shot, and stays.
 */
function besideEachOther(all: readonly Seen[]): PictureLook[] {
  const agreeing = all.map(({ values }) => ({ score: values.length > 0 ? meanOf(values) : 0, values }));
  const best = agreeing.reduce((a, b) => (b.score > a.score ? b : a), { score: 0, values: [] });
  return all.map(({ look, score }, i): PictureLook => {
    const own = agreeing[i] as Agreeing;
    if (look.is !== 'found' || look.altered || own === best || alike(best, own)) return look;
    return { path: look.path, is: 'another', score: round(score), best: round(best.score) };
  });
}
