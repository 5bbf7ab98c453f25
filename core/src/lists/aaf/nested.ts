import { type Rate, sameSpeed } from '../../time';
import type { Piece, Shown } from './pieces';

/** A count of one rate at another, as a number that may fall between two. */
const scaled = (n: number, from: Rate, to: Rate): number => (n * to.num * from.den) / (to.den * from.num);

/**
 * Pieces of a cut that counts at `from`, counted at the rate of the cut it stands in, in real time. Each edge falls on the nearest frame; what
 * is seen there is asked of the inner cut at the time of that frame.
 */
export function atRate(pieces: readonly Piece[], from: Rate, to: Rate): readonly Piece[] {
  if (sameSpeed(from, to)) return pieces;
  return pieces.flatMap((p): Piece[] => {
    const [start, end] = [Math.round(scaled(p.in, from, to)), Math.round(scaled(p.out, from, to))];
    if (end <= start) return [];
    const { show } = p;
    const inner = (n: number) => Math.floor(scaled(n, to, from) + 1e-9);
    const lead = Math.round(scaled(p.lead, from, to));
    const first = p.lead - inner(lead);
    return [
      {
        ...p,
        in: start,
        out: end,
        lead,
        join: p.join && {
          ...p.join,
          duration: Math.round(scaled(p.join.duration, from, to)),
          before: Math.round(scaled(p.join.before, from, to)),
        },
        show: show && ((at, length) => withKeysAt(show(first + inner(at), Math.max(1, inner(at + length) - inner(at))), from, to)),
      },
    ];
  });
}

/** Keys count frames of the record: those of the inner cut as those of the outer. */
function withKeysAt(shown: Shown, from: Rate, to: Rate): Shown {
  const { retime, placement } = shown;
  const keyed =
    retime.kind === 'keyed' ? { ...retime, keys: retime.keys.map((k) => ({ ...k, record: scaled(k.record, from, to) })) } : retime;
  const moved =
    placement && placement.keys.length > 0
      ? { ...placement, keys: placement.keys.map((k) => ({ ...k, record: scaled(k.record, from, to) })) }
      : placement;
  return { ...shown, retime: keyed, placement: moved };
}
