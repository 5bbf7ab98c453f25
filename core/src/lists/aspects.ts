import { FILLING, type ListEvent, type Placement } from '../edit';
import { equal, lengthOf, sameSpeed } from '../time';
import { inSubstance } from './plain';

/** One thing that may differ between an event as it was meant and as it is read again. */
export interface Aspect {
  readonly code: string;
  /** True for what changes without the picture changing, or is kept in its main part. */
  readonly mild?: true;
  readonly differs: (meant: ListEvent, found: ListEvent | null) => boolean;
  readonly message: (events: string, title: string) => string;
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
    message: (n, t) => `${n} that ${t} cannot hold as they are.`,
  },
  {
    code: 'black',
    mild: true,
    differs: (a, b) => b === null && a.kind === 'black',
    message: (n, t) => `${n} of black: ${t} leaves a gap there.`,
  },
  {
    code: 'record',
    differs: both((a, b) => a.record.in !== b.record.in || a.record.out !== b.record.out),
    message: (n, t) => `${n} that stand elsewhere on the record in ${t}.`,
  },
  {
    code: 'kinds',
    differs: both((a, b) => a.kind !== b.kind),
    message: (n, t) => `${n} such as titles, bars or generators: ${t} does not say what they are.`,
  },
  { code: 'dissolves', differs: lostJoin('dissolve'), message: (n, t) => `${n} with a dissolve: ${t} has cuts only.` },
  { code: 'wipes', differs: lostJoin('wipe'), message: (n, t) => `${n} with a wipe: ${t} has no wipes.` },
  { code: 'keys', differs: lostJoin('key'), message: (n, t) => `${n} with a key: ${t} has none.` },
  {
    code: 'transitions',
    differs: both(joinMoved),
    message: (n, t) => `${n} whose transition begins or ends elsewhere, or leaves something else, in ${t}.`,
  },
  {
    code: 'wipe-looks',
    mild: true,
    differs: both((a, b) => {
      const [x, y] = [a.transitionIn, b.transitionIn];
      return x?.type === 'wipe' && y?.type === 'wipe' && (Number(x.wipeCode) !== Number(y.wipeCode) || !same(x.look, y.look));
    }),
    message: (n, t) => `${n} whose wipe has another pattern, direction or edge in ${t}.`,
  },
  {
    code: 'mixed-rates',
    differs: both((a, b) => !isMade(a) && !sameSpeed(a.sourceRate, b.sourceRate)),
    message: (n, t) => `${n} at another rate than the cut: ${t} counts all at one rate.`,
  },
  {
    code: 'source',
    differs: both(sourceMoved),
    message: (n, t) => `${n} that begin or end at another frame of their source in ${t}.`,
  },
  {
    code: 'source-counting',
    mild: true,
    differs: both((a, b) => !isMade(a) && sameSpeed(a.sourceRate, b.sourceRate) && a.sourceRate.dropFrame !== b.sourceRate.dropFrame),
    message: (n, t) => `${n} whose source timecode is counted otherwise in ${t}: drop-frame or not.`,
  },
  {
    code: 'keyed-speed',
    mild: true,
    differs: both((a, b) => a.retime.kind === 'keyed' && !sameNumbers(keysInSource(a), keysInSource(b))),
    message: (n, t) => `${n} whose speed changes on the way: ${t} gets the mean speed.`,
  },
  {
    code: 'speed',
    differs: both((a, b) => a.retime.kind !== 'keyed' && !same(a.retime, b.retime)),
    message: (n, t) => `${n} with a speed that ${t} cannot say.`,
  },
  {
    code: 'rate-modes',
    mild: true,
    differs: both((a, b) => a.rateMode !== b.rateMode),
    message: (n, t) => `${n} for which it was settled how another rate runs: ${t} does not say it.`,
  },
  {
    code: 'part-frames',
    mild: true,
    differs: both((a, b) => !equal(a.phase, b.phase)),
    message: (n) =>
      `${n} whose source begins on a part of a frame, as retimed ones do after a trim: single frames of them will show the one beside.`,
  },
  {
    code: 'placement',
    differs: both((a, b) => changing(a.placement) !== null && changing(b.placement) === null),
    message: (n, t) => `${n} with another size or position: ${t} cannot say it.`,
  },
  {
    code: 'part-placement',
    differs: both((a, b) => changing(b.placement) !== null && !sameNumbers(changing(a.placement), changing(b.placement))),
    message: (n, t) => `${n} whose size or position ${t} says in part only.`,
  },
  {
    code: 'cdl',
    differs: both((a, b) => !sameNumbers(a.cdl, b.cdl)),
    message: (n, t) => `${n} with a CDL grade: ${t} has no place for it; send a .ccc beside it.`,
  },
  {
    code: 'switched-off',
    differs: both((a, b) => a.enabled !== b.enabled),
    message: (n, t) => `${n} that are switched off: ${t} would show them.`,
  },
  {
    code: 'numbers',
    mild: true,
    differs: both((a, b) => a.number !== '' && a.number !== b.number),
    message: (n, t) => `${n} with a number: ${t} does not number them so.`,
  },
  {
    code: 'links',
    mild: true,
    differs: both((a, b) => a.linked.length > b.linked.length),
    message: (n, t) => `${n} linked with others: ${t} does not say what belongs together.`,
  },
  {
    code: 'reels',
    differs: both((a, b) => !isMade(a) && reelOf(a.reel) !== reelOf(b.reel)),
    message: (n, t) => `${n} with a reel that ${t} cannot hold as it is.`,
  },
  {
    code: 'clip-names',
    differs: both((a, b) => inSubstance(a.clipName) !== inSubstance(b.clipName)),
    message: (n, t) => `${n} with a clip name that ${t} cannot hold as it is.`,
  },
  {
    code: 'file-names',
    differs: both((a, b) => a.fileName !== b.fileName),
    message: (n, t) => `${n} with a file name: ${t} has no place for it.`,
  },
  {
    code: 'places',
    mild: true,
    differs: both((a, b) => a.mediaPath !== '' && a.mediaPath !== b.mediaPath),
    message: (n, t) => `${n} whose list says where the offline clip lay: ${t} does not.`,
  },
  {
    code: 'markers',
    mild: true,
    differs: (a, b) => a.markers.length > (b?.markers.length ?? 0) || (b !== null && !same(a.markers.map(atFrame), b.markers.map(atFrame))),
    message: (n, t) => `${n} with markers that ${t} has no place for.`,
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
    message: (n, t) => `${n} whose markers have another colour in ${t}.`,
  },
  {
    code: 'notes',
    mild: true,
    differs: (a, b) => lacking(a.notes.map(inSubstance), (b?.notes ?? []).map(inSubstance)),
    message: (n, t) => `${n} with notes that ${t} has no place for.`,
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
