import { FILLING, type ListEvent, type Placement } from '../edit';
import { equal, lengthOf, sameSpeed } from '../time';
import { inSubstance } from './plain';
import type { AspectName } from './wording';

/** One thing that may differ between an event as it was meant and as it is read again. */
export interface Aspect {
  readonly code: AspectName;
  /** True for what changes without the picture changing, or is kept in its main part. */
  readonly mild?: true;
  readonly differs: (meant: ListEvent, found: ListEvent | null) => boolean;
}

/** Compares two events that were both read. */
const both =
  (differs: (meant: ListEvent, found: ListEvent) => boolean): Aspect['differs'] =>
  (meant, found) =>
    found !== null && differs(meant, found);

const json = (value: unknown): string => JSON.stringify(value);
const same = (a: unknown, b: unknown): boolean => a === b || json(a) === json(b);
/** `AX` stands for a source that is not named (common practice). */
const reelOf = (reel: string): string => (/^AX$/i.test(reel.trim()) ? '' : inSubstance(reel));
const isMade = (event: ListEvent): boolean => event.kind !== 'clip';

/** Decimals that formats write: a billionth is no difference. */
function sameNumbers(a: unknown, b: unknown): boolean {
  if (typeof a === 'number' && typeof b === 'number') return Math.abs(a - b) <= 1e-6 * Math.max(1, Math.abs(a));
  if (typeof a !== 'object' || typeof b !== 'object' || a === null || b === null) return a === b;
  const [x, y] = [Object.entries(a), Object.entries(b)];
  return x.length === y.length && x.every(([name, value]) => sameNumbers(value, (b as Record<string, unknown>)[name]));
}

const lostJoin = (type: string) => both((a, b) => a.transitionIn?.type === type && b.transitionIn?.type !== type && lengthOfJoin(a) > 0);
const lengthOfJoin = (event: ListEvent): number => event.transitionIn?.duration ?? 0;

/** Where and how long a transition runs and what it leaves. */
function joinMoved({ transitionIn: a }: ListEvent, { transitionIn: b }: ListEvent): boolean {
  if (!a || a.duration === 0) return (b?.duration ?? 0) > 0;
  return a.type === b?.type && (a.duration !== b.duration || a.before !== b.before || a.from !== b.from);
}

/** A placement that changes something; null for one that leaves the picture as it is. */
const changing = (p: Placement | null): Placement | null => (p === null || sameNumbers({ ...p }, FILLING) ? null : p);

/** The keys of a keyed speed, with the frames of the source they name; null for another. */
const keysInSource = ({ retime, source }: ListEvent) =>
  retime.kind === 'keyed' ? retime.keys.map((k) => [k.record, source.in + k.source]) : null;

/** The source as far as both say the same of its rate and its parts of a frame. */
function sourceMoved(a: ListEvent, b: ListEvent): boolean {
  if (isMade(a) || !sameSpeed(a.sourceRate, b.sourceRate) || !equal(a.phase, b.phase)) return false;
  // A keyed speed says itself where its source stands.
  if (a.retime.kind === 'keyed' && b.retime.kind === 'keyed') return false;
  // What a speed passes over follows from it; a freeze shows its first frame.
  return (
    a.source.in !== b.source.in || (a.retime.kind === 'natural' && b.retime.kind === 'natural' && lengthOf(a.source) !== lengthOf(b.source))
  );
}

/** All that an event says, each in the order in which it is told. */
export const ASPECTS: readonly Aspect[] = [
  {
    code: 'events',
    differs: (a, b) => b === null && a.kind !== 'black',
  },
  {
    code: 'black',
    mild: true,
    differs: (a, b) => b === null && a.kind === 'black',
  },
  {
    code: 'record',
    differs: both((a, b) => a.record.in !== b.record.in || a.record.out !== b.record.out),
  },
  {
    code: 'kinds',
    differs: both((a, b) => a.kind !== b.kind),
  },
  { code: 'dissolves', differs: lostJoin('dissolve') },
  { code: 'wipes', differs: lostJoin('wipe') },
  { code: 'keys', differs: lostJoin('key') },
  {
    code: 'transitions',
    differs: both(joinMoved),
  },
  {
    code: 'wipe-looks',
    mild: true,
    differs: both((a, b) => {
      const [x, y] = [a.transitionIn, b.transitionIn];
      return x?.type === 'wipe' && y?.type === 'wipe' && (Number(x.wipeCode) !== Number(y.wipeCode) || !same(x.look, y.look));
    }),
  },
  {
    code: 'mixed-rates',
    differs: both((a, b) => !isMade(a) && !sameSpeed(a.sourceRate, b.sourceRate)),
  },
  {
    code: 'source',
    differs: both(sourceMoved),
  },
  {
    code: 'source-counting',
    mild: true,
    differs: both((a, b) => !isMade(a) && sameSpeed(a.sourceRate, b.sourceRate) && a.sourceRate.dropFrame !== b.sourceRate.dropFrame),
  },
  {
    code: 'keyed-speed',
    mild: true,
    differs: both((a, b) => a.retime.kind === 'keyed' && !sameNumbers(keysInSource(a), keysInSource(b))),
  },
  {
    code: 'speed',
    differs: both((a, b) => a.retime.kind !== 'keyed' && !same(a.retime, b.retime)),
  },
  {
    code: 'rate-modes',
    mild: true,
    differs: both((a, b) => a.rateMode !== b.rateMode),
  },
  {
    code: 'part-frames',
    mild: true,
    differs: both((a, b) => !equal(a.phase, b.phase)),
  },
  {
    code: 'placement',
    differs: both((a, b) => changing(a.placement) !== null && changing(b.placement) === null),
  },
  {
    code: 'part-placement',
    differs: both((a, b) => changing(b.placement) !== null && !sameNumbers(changing(a.placement), changing(b.placement))),
  },
  {
    code: 'cdl',
    differs: both((a, b) => !sameNumbers(a.cdl, b.cdl)),
  },
  {
    code: 'switched-off',
    differs: both((a, b) => a.enabled !== b.enabled),
  },
  {
    code: 'numbers',
    mild: true,
    differs: both((a, b) => a.number !== '' && a.number !== b.number),
  },
  {
    code: 'links',
    mild: true,
    differs: both((a, b) => a.linked.length > b.linked.length),
  },
  {
    code: 'reels',
    differs: both((a, b) => !isMade(a) && reelOf(a.reel) !== reelOf(b.reel)),
  },
  {
    code: 'clip-names',
    differs: both((a, b) => inSubstance(a.clipName) !== inSubstance(b.clipName)),
  },
  {
    code: 'file-names',
    differs: both((a, b) => a.fileName !== b.fileName),
  },
  {
    code: 'places',
    mild: true,
    differs: both((a, b) => a.mediaPath !== '' && a.mediaPath !== b.mediaPath),
  },
  {
    code: 'markers',
    mild: true,
    differs: (a, b) => a.markers.length > (b?.markers.length ?? 0) || (b !== null && !same(a.markers.map(atFrame), b.markers.map(atFrame))),
  },
  {
    code: 'marker-colours',
    mild: true,
    differs: both(
      (a, b) =>
        a.markers.length === b.markers.length &&
        !same(
          a.markers.map((m) => m.colour),
          b.markers.map((m) => m.colour),
        ),
    ),
  },
  {
    code: 'notes',
    mild: true,
    differs: (a, b) => lacking(a.notes.map(inSubstance), (b?.notes ?? []).map(inSubstance)),
  },
];

/** True when one of the texts stands less often in the other list. */
function lacking(texts: readonly string[], others: readonly string[]): boolean {
  const left = [...others];
  return texts.some((text) => {
    const at = left.indexOf(text);
    if (at >= 0) left.splice(at, 1);
    return at < 0 && text !== '';
  });
}

const atFrame = ({ record, text }: { record: number; text: string }) => [record, inSubstance(text)];
