import { NATURAL, type Retime } from '../../edit';
import {
  decimalOf,
  type Fraction,
  type Frames,
  formatRate,
  fraction,
  fractionOf,
  framesPerSecond,
  lengthOf,
  nominal,
  over,
  type Rate,
  readTimecode,
} from '../../time';
import { sourceBetween } from '../midnight';
import { type Draft, named, type Reading, say } from './draft';
import type { MotionLine } from './grammar';
import { EDL_WORDS } from './wording';

export const REVERSE: Retime = { kind: 'constant', speed: fraction(-1) };

/**
 * M2 gives frames per second of source at the record's pace; 0 is a freeze, below 0 is reverse.
 * The factor is taken against the nominal rate, and the exact decimal (23.976) counts as natural. It is rounded as it is written: where the lengths of
 * the event say a speed within that rounding, at the nominal or the true rate, they say the exact one.
 */
export function takeMotion(r: Reading, line: MotionLine, at: number): void {
  const target = motionTarget(r, line);
  if (!target || target.leftOut) {
    say(
      r,
      'lost',
      'motion-without-event',
      at,
      EDL_WORDS.motionWithoutEvent({ framesPerSecond: line.framesPerSecond, timecode: line.timecode, reel: line.reel || '(none)' }),
    );
    return;
  }
  const retime = retimeOf(line, r.rate, lengthOf(target.source), lengthOf(target.record));
  if (target.motionAt !== null && JSON.stringify(target.retime) !== JSON.stringify(retime))
    say(
      r,
      'changed',
      'speed-twice',
      at,
      EDL_WORDS.speedTwice({
        event: named(target),
        motionAt: target.motionAt,
        at,
        framesPerSecond: line.framesPerSecond,
        rate: formatRate(r.rate),
      }),
      target,
    );
  target.retime = retime;
  if (retime.kind === 'constant') runAt(target, retime);
  target.motionAt = at;
  target.roundedBy = (half(line.decimals) * lengthOf(target.record)) / nominal(r.rate);
}

/** Half of what the last place of a written number stands for. */
const half = (decimals: number): number => 0.5 * 10 ** -decimals;

/** Lays the source of an event whose speed is known by now: how far it may run over midnight depends on it. */
function runAt(draft: Draft, { speed }: Extract<Retime, { kind: 'constant' }>): void {
  const [from, to] = [draft.lines.sourceIn, draft.lines.sourceOut].map((label) => readTimecode(label, draft.sourceRate)?.frames);
  if (from === undefined || to === undefined) return;
  const asLong = Math.ceil(lengthOf(draft.record) * Math.max(1, Math.abs(decimalOf(speed))));
  const { source, backwards } = sourceBetween(from, to, asLong, draft.sourceRate);
  draft.source = source;
  draft.backwards = backwards;
}

function retimeOf({ framesPerSecond: fps, decimals }: MotionLine, rate: Rate, source: Frames, record: Frames): Retime {
  if (fps === 0) return { kind: 'freeze' };
  const magnitude = Math.abs(fps);
  const natural = Math.abs(magnitude - framesPerSecond(rate)) < 0.006 || magnitude === nominal(rate);
  if (natural && fps > 0) return NATURAL;
  if (natural) return REVERSE;
  const asWritten = over(fractionOf(magnitude), fraction(nominal(rate)));
  const speed = speedByLengths(magnitude, asWritten, half(decimals), rate, source, record) ?? asWritten;
  return { kind: 'constant', speed: fps < 0 ? { num: -speed.num, den: speed.den } : speed };
}

/** The speed that the lengths of an event say exactly, where it is what M2 rounds; null where M2 as written fits them, or they say another. */
function speedByLengths(fps: number, asWritten: Fraction, rounding: number, rate: Rate, source: Frames, record: Frames): Fraction | null {
  if (source <= 0 || record <= 0) return null;
  const off = Math.abs(decimalOf(asWritten) * record - source);
  if (off < 1e-9) return null;
  const exact = fraction(source, record);
  const within = (perSecond: number) => Math.abs(decimalOf(exact) * perSecond - fps) <= rounding + 1e-9;
  // Systems that count against the true rate write twice 23.976 as 47.952. Lengths are whole frames: they say a speed where that is plainer than the one
  // that is written, and than any two lengths of these frames would give.
  const plain = exact.den < asWritten.den && 2 * exact.den <= record;
  if (plain && nominal(rate) !== framesPerSecond(rate) && within(framesPerSecond(rate))) return exact;
  return off >= 1 && within(nominal(rate)) ? exact : null;
}

/**
 * The side of a transition that an M2 line speaks of: the one whose reel and source in it names, else the one whose
 * reel, else, where the line has a clip's name in place of the reel, the one whose source in. Of two equal ones it is the
 * incoming one.
 */
function motionTarget(r: Reading, { reel, timecode }: MotionLine): Draft | null {
  const incoming = r.current;
  if (!incoming) return null;
  const outgoing = incoming.transitionIn ? incoming.from : null;
  const same = (a: string, b: string) => a.trim().toUpperCase() === b.trim().toUpperCase();
  const stands = (label: string | null, { sourceRate }: Draft) =>
    label !== null && readTimecode(label, sourceRate)?.frames === readTimecode(timecode, sourceRate)?.frames;
  const sides = [
    { draft: incoming, reel: reel === '' || same(incoming.lines.reel, reel), source: stands(incoming.lines.sourceIn, incoming) },
    ...(outgoing
      ? [
          {
            draft: outgoing,
            reel: same(outgoing.lines.reel, reel),
            source: stands(outgoing.lines.sourceIn, outgoing) || stands(incoming.fromSource, outgoing),
          },
        ]
      : []),
  ];
  const found = sides.find((s) => s.reel && s.source) ?? sides.find((s) => s.reel) ?? sides.find((s) => s.source);
  return found?.draft ?? null;
}
