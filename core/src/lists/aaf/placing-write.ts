import { poseAt } from '../../conform';
import type { Placement } from '../../edit';
import { type Frames, fraction } from '../../time';
import { DEFINED, LINEAR, OPERATIONS, PARAMETERS } from './model';
import type { NewObject } from './object-write';

/** Fractions are as fine as this. */
const FINE = 100_000;
const rational = (n: number): readonly number[] => {
  const { num, den } = fraction(Math.round(n * FINE), FINE);
  return [num, den];
};

type Named = 'scaleX' | 'scaleY' | 'opacity';

/**
 * A picture as its placement has it, as far as the format can say it with certainty: its scale, how far it is seen through, what is
 * mirrored. `lead` and `length`: frames of the part ahead of the event, and in all.
 */
export function placedPart(part: NewObject, placement: Placement | null, lead: Frames, length: Frames): NewObject {
  if (!placement) return part;
  const effect = (operation: string, of: NewObject, parameters?: readonly NewObject[]): NewObject => ({
    is: 'OperationGroup',
    has: { DataDefinition: DEFINED.picture, Length: length, Operation: operation, InputSegments: [of], Parameters: parameters },
  });
  const poses = placement.keys.length > 0 ? placement.keys : [placement];
  const changes = (name: Named) => poses.some((p) => p[name] !== 1);
  const value = (name: Named) => valued(PARAMETERS[name], placement, name, lead, length);
  const scaled = changes('scaleX') || changes('scaleY') ? effect(OPERATIONS.scale, part, [value('scaleX'), value('scaleY')]) : part;
  const seen = changes('opacity') ? effect(OPERATIONS.opacity, scaled, [value('opacity')]) : scaled;
  const { flipX, flipY } = placement;
  if (!flipX && !flipY) return seen;
  return effect(flipX && flipY ? OPERATIONS.flipFlop : flipX ? OPERATIONS.flop : OPERATIONS.flip, seen);
}

function valued(parameter: string, placement: Placement, name: Named, lead: Frames, length: Frames): NewObject {
  const { keys } = placement;
  if (keys.every((k) => k[name] === keys[0]?.[name])) {
    const value = { type: 'Rational', value: rational((keys[0] ?? placement)[name]) };
    return { is: 'ConstantValue', has: { Definition: parameter, Value: value } };
  }
  // Points lie inside of the part: what moves before or after it is where it is at its ends.
  const [first, last] = [-lead, length - lead];
  const inside = keys.map((k) => k.record).filter((record) => record >= first && record <= last);
  const records = inside.length < keys.length ? [...new Set([first, ...inside, last])] : inside;
  const points = records.map((record) => ({
    is: 'ControlPoint',
    has: {
      Time: [Math.round((record + lead) * 1000), Math.max(1, length * 1000)],
      Value: { type: 'Rational', value: rational(poseAt(placement, record)[name]) },
    },
  }));
  return { is: 'VaryingValue', has: { Definition: parameter, Interpolation: LINEAR, PointList: points } };
}
