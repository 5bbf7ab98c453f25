import { NATURAL, type Retime } from '../../edit';
import { decimalOf, formatRate, fraction, fractionOf, framesPerSecond, lengthOf, nominal, over, type Rate, readTimecode } from '../../time';
import { sourceBetween } from '../midnight';
import { type Draft, named, type Reading, say } from './draft';
import type { MotionLine } from './grammar';
import { EDL_WORDS } from './wording';

export const REVERSE: Retime = { kind: 'constant', speed: fraction(-1) };

/**
 * M2 gives frames per second of source at the record's pace; 0 is a freeze, below 0 is reverse.
 * The factor is taken against the nominal rate, and the exact decimal (23.976) counts as natural.
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
  const retime = retimeOf(line.framesPerSecond, r.rate);
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
}

/** Lays the source of an event whose speed is known by now: how far it may run over midnight depends on it. */
function runAt(draft: Draft, { speed }: Extract<Retime, { kind: 'constant' }>): void {
  const [from, to] = [draft.lines.sourceIn, draft.lines.sourceOut].map((label) => readTimecode(label, draft.sourceRate)?.frames);
  if (from === undefined || to === undefined) return;
  const asLong = Math.ceil(lengthOf(draft.record) * Math.max(1, Math.abs(decimalOf(speed))));
  const { source, backwards } = sourceBetween(from, to, asLong, draft.sourceRate);
  draft.source = source;
  draft.backwards = backwards;
}

function retimeOf(fps: number, rate: Rate): Retime {
  if (fps === 0) return { kind: 'freeze' };
  const magnitude = Math.abs(fps);
  const natural = Math.abs(magnitude - framesPerSecond(rate)) < 0.006 || magnitude === nominal(rate);
  if (natural && fps > 0) return NATURAL;
  return natural ? REVERSE : { kind: 'constant', speed: over(fractionOf(fps), fraction(nominal(rate))) };
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
