import { holds, isNamed, isTold, resultOf } from './criteria';
import { type Contender, isShort } from './examine';
import type { Preference, RuleLine, Rules } from './rules';

type Examined = Omit<Contender, 'line'>;

/** The first line of the rules that a candidate meets, missing frames aside; null where it meets none. */
export function lineMet(rules: Rules, c: Examined): number | null {
  for (let at = 0; at < rules.lines.length; at++) if (meets(rules.lines[at] as RuleLine, c)) return at;
  return null;
}

function meets(line: RuleLine, c: Examined): boolean {
  if (!holds(line.reel, c.reel)) return false;
  // A still has no time: only its name can speak for it.
  if (c.original.kind === 'still' && !holds(line.picture, c.picture)) return false;
  if (c.original.kind === 'still') return isNamed(c.name) && (line.name === 'off' || holds(line.name, c.name));
  return (
    holds(line.name, c.name) &&
    holds(line.slate, c.slate) &&
    holds(line.picture, c.picture) &&
    (line.checksum === 'off' || c.checksum.grade === 'exact') &&
    timecodeHolds(line, c) &&
    (line.rate === 'off' || c.rate.grade === 'exact') &&
    (line.raster === 'off' || c.raster.grade === 'exact') &&
    (line.folder === 'off' || resultOf(c.folder) === 'agrees' || resultOf(c.folder) === 'loosely')
  );
}

/** Whether timecode holds. */
function timecodeHolds({ timecode: asked }: RuleLine, { timecode, name, slate, original }: Examined): boolean {
  if (asked === 'off') return true;
  if (!isTold(timecode, original, isNamed(name) || isNamed(slate))) return false;
  const result = resultOf(timecode);
  return result === 'agrees' || (result === 'loosely' && (asked === 'overlaps' || timecode.grade === 'contained'));
}

/** Best first: by the line that is met, having all frames, its picture, what speaks for it, and what is preferred among equals. */
export function inOrder(contenders: readonly Contender[], preference: Preference): Contender[] {
  if (contenders.length < 2) return [...contenders];
  return contenders
    .map((contender) => ({ contender, rank: rankOf(contender, preference) }))
    .sort((a, b) => compareRanks(a.rank, b.rank) || (a.contender.original.path < b.contender.original.path ? -1 : 1))
    .map((c) => c.contender);
}

type Rank = readonly number[];

const compareRanks = (a: Rank, b: Rank): number => {
  const at = a.findIndex((part, i) => part !== b[i]);
  return at < 0 ? 0 : (a[at] as number) - (b[at] as number);
};

const POINTS = { agrees: 3, loosely: 2, unknown: 1, disagrees: 0 } as const;

const rankOf = (c: Contender, preference: Preference): Rank => [
  c.line ?? 99,
  c.line !== null && isShort(c) ? 1 : 0,
  -POINTS[resultOf(c.picture)],
  -[c.reel, c.name, c.slate, c.timecode, c.length, c.rate, c.checksum].reduce((sum, e) => sum + POINTS[resultOf(e)], 0),
  ...preferred(c, preference),
];

/** What a preference says of a candidate: the smaller, the more it is wanted. */
const preferred = ({ original }: Contender, { raster, folders }: Preference): Rank => [
  folders.some((folder) => original.path.startsWith(`${folder}/`)) ? 0 : 1,
  (raster === 'largest' ? -1 : 1) * original.raster.width * original.raster.height,
];

/** What comes of the candidates that meet one line of the rules: one is chosen, or a person must. */
export type Outcome = 'one' | 'several' | 'none';

/**
 * Whether the candidates leave a choice. Those that have all frames come before those that lack some, and those whose picture is
 * that of the reference before all others; copies of one content are one; a preference that a person set settles what is equal but
 * for it.
 */
export function outcomeOf(ordered: readonly Contender[], preference: Preference, preferenceIsSet: boolean): Outcome {
  const [best] = ordered;
  if (!best || best.line === null) return 'none';
  const agrees = (c: Contender) => c.picture.grade === 'exact';
  const rivals = ordered.slice(1).filter((c) => c.line === best.line && (isShort(best) || !isShort(c)) && (agrees(c) || !agrees(best)));
  const others = rivals.filter((c) => c.original.print === '' || c.original.print !== best.original.print);
  if (others.length === 0) return 'one';
  if (!preferenceIsSet) return 'several';
  const wanted = preferred(best, preference);
  return others.every((c) => compareRanks(wanted, preferred(c, preference)) < 0) ? 'one' : 'several';
}
