import type { Decision } from '../decisions';
import { FILLING, type Placement, type Retime, type Transition } from '../edit';
import type { Finding, Passage, SpeedDiffers } from '../proof';
import { type Frames, fractionOf } from '../time';
import { signed } from '../words';

/** An event as far as a mend needs to know it. */
export interface Mendable {
  readonly event: string;
  /** The accepted original, and the frame of it that stands for the source in; null where there is none. */
  readonly original: string | null;
  readonly sourceStart: Frames | null;
  readonly placement: Placement | null;
  /** Width of the frame over its height. */
  readonly shape: number;
  /** How long it is in the cut. */
  readonly length: Frames;
  /** False where no event stands right before it. */
  readonly follows?: boolean;
}

/** What a finding proposes: what is decided, and what a button that does it says. */
export interface Mend {
  readonly decisions: readonly Decision[];
  readonly label: string;
}

/** What would make the conform agree with the reference in one finding; null where that is for a person to find. */
export function mendFor(finding: Finding, of: Mendable): Mend | null {
  const { event, original, sourceStart, placement } = of;
  switch (finding.kind) {
    case 'slipped': {
      if (original === null || sourceStart === null) return null;
      return {
        decisions: [{ kind: 'slip', event, original, sourceStartFrame: sourceStart + finding.frames }],
        label: `Slip by ${signed(finding.frames)}`,
      };
    }
    case 'wrong-picture':
      if (finding.path === null || finding.sourceStartFrame === null) return null;
      return {
        decisions: [{ kind: 'pair', event, original: finding.path, sourceStartFrame: finding.sourceStartFrame }],
        label: 'Pair with the picture found',
      };
    case 'cut-moved':
      // Where no event leaves there is no cut to roll.
      return finding.edge === 'in' && of.follows !== false
        ? { decisions: [{ kind: 'roll', event, frames: finding.frames }], label: `Roll the cut by ${signed(finding.frames)}` }
        : {
            decisions: [{ kind: 'trim', event, edge: finding.edge, frames: finding.frames }],
            label: `Trim its ${finding.edge === 'in' ? 'head' : 'tail'} by ${signed(finding.frames)}`,
          };
    case 'reframed':
      return {
        decisions: [{ kind: 'placement', event, placement: placed(placement, finding, of.shape) }],
        label: 'Apply size and position',
      };
    case 'mirrored': {
      const now = placement ?? FILLING;
      const flipped = finding.axis === 'horizontal' ? { flipX: !now.flipX } : { flipY: !now.flipY };
      // What is flipped in the frame lies, and turns, the other way.
      const side = finding.axis === 'horizontal' ? { x: -now.x } : { y: -now.y };
      return {
        decisions: [{ kind: 'placement', event, placement: { ...now, ...flipped, ...side, rotation: 0 - now.rotation } }],
        label: 'Mirror the picture',
      };
    }
    case 'speed-differs':
      return speedMend(finding, of);
    case 'transition-differs':
      if (finding.measured?.to) return fadeOutMend(finding.measured, of);
      return {
        decisions: [{ kind: 'transition', event, transition: finding.measured && transitionOf(finding.measured) }],
        label: finding.measured ? makeIt(finding.measured, finding.expected) : 'Make it a cut',
      };
    case 'layer-missing':
    case 'picture-missing':
    case 'cannot-tell':
      return null;
  }
}

/**
 * Another speed leaves the picture in place at which list and reference meet. Where they never do, the event slips first, so
 * that they meet at its first frame; null where nothing is there to slip.
 */
function speedMend({ measured, keys, meets = 0, aside = 0 }: SpeedDiffers, { event, original, sourceStart }: Mendable): Mend | null {
  const retime: Retime = keys
    ? { kind: 'keyed', keys: [...keys] }
    : measured === 0
      ? { kind: 'freeze' }
      : measured === 1
        ? { kind: 'natural' }
        : { kind: 'constant', speed: fractionOf(measured) };
  const label = keys
    ? 'Change its speed on the way'
    : measured === 0
      ? 'Make it a freeze'
      : `Set its speed to ${Math.round(measured * 1000) / 10} %`;
  const speed: Decision = { kind: 'speed', event, retime, stays: meets ?? 0 };
  if (meets !== null) return { decisions: [speed], label };
  if (original === null || sourceStart === null) return null;
  return { decisions: [{ kind: 'slip', event, original, sourceStartFrame: sourceStart + aside }, speed], label };
}

/** A fade out, after which no transition can stand, is opacity that goes down; null where something else moves already. */
function fadeOutMend({ durationFrames, offsetFrames }: Passage, { event, placement, length }: Mendable): Mend | null {
  const now = placement ?? FILLING;
  if (now.keys.length > 0 || now.opacity !== 1) return null;
  const { flipX: _x, flipY: _y, fit: _fit, keys: _keys, ...pose } = now;
  const gone = length + offsetFrames + durationFrames;
  const keys = [
    { ...pose, record: gone - durationFrames - 1 },
    { ...pose, opacity: 0, record: gone },
  ];
  return { decisions: [{ kind: 'placement', event, placement: { ...now, keys } }], label: `Fade it out over ${durationFrames} frames` };
}

/** What is changed: the length of a transition, or its kind too. */
function makeIt(measured: Passage, expected: Passage | null): string {
  const { type, durationFrames, wipeCode } = measured;
  if (measured.from && !expected) return `Fade it in over ${durationFrames} frames`;
  const same = expected?.type === type && expected.wipeCode === wipeCode && expected.reverse === measured.reverse;
  return same ? `Make it ${durationFrames} frames` : `Make it a ${type} of ${durationFrames} frames`;
}

/** A passage as a transition of the list. */
export const transitionOf = ({ type, durationFrames, offsetFrames, wipeCode, reverse, from }: Passage): Transition => ({
  type: type === 'wipe' ? 'wipe' : 'dissolve',
  duration: durationFrames,
  before: 0 - offsetFrames,
  from: from ?? 'previous',
  wipeCode,
  ...(reverse ? { look: { reverse, softness: 0, border: null } } : {}),
});

/** A passage as it stands in the list. */
export const passageOf = ({ type, duration, before, from, wipeCode, look }: Transition): Passage => ({
  type,
  durationFrames: duration,
  offsetFrames: 0 - before,
  wipeCode,
  ...(look?.reverse ? { reverse: true } : {}),
  ...(from === 'black' ? { from: 'black' as const } : {}),
});

/** A placement laid anew: scaled and turned about the middle of the frame, then moved (see `Laid`). */
function placed(
  before: Placement | null,
  { scale, x, y, rotation }: { readonly scale: number; readonly x: number; readonly y: number; readonly rotation: number },
  shape: number,
): Placement {
  const now = before ?? FILLING;
  const angle = (rotation * Math.PI) / 180;
  const [across, down] = [now.x * shape * scale, now.y * scale];
  return {
    ...now,
    scaleX: now.scaleX * scale,
    scaleY: now.scaleY * scale,
    x: (across * Math.cos(angle) - down * Math.sin(angle)) / shape + x,
    y: across * Math.sin(angle) + down * Math.cos(angle) + y,
    rotation: now.rotation + rotation,
    keys: [],
  };
}
