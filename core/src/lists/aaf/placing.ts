import { poseAt } from '../../conform';
import { FILLING, type Placement, type Pose } from '../../edit';
import { classOf, LINEAR, OPERATIONS, PARAMETERS, PID } from './model';
import { type AafObject, auidAt, childrenAt, definitionAt, indirectAt, rationalAt, rationalOf } from './object';

/** Parameters that a placement is made of. */
export const PLACED_BY: ReadonlySet<string> = new Set([
  PARAMETERS.scaleX,
  PARAMETERS.scaleY,
  PARAMETERS.opacity,
  PARAMETERS.percentX,
  PARAMETERS.percentY,
  PARAMETERS.percentEnabled,
]);

/** What an effect does to how its picture is seen. */
interface Placing {
  readonly placement: Placement;
  /** A value changes otherwise than evenly from point to point, and is taken to change evenly. */
  readonly uneven: boolean;
  /** The effect may do more than its placement says. */
  readonly partly: boolean;
}

/**
 * What an effect does to how its picture is seen: enlarged, seen through, mirrored. Keys count from where the effect begins, in units of
 * its track. Null for any other effect, and where a value cannot be read. Which effect it is says how a scale is meant: that of the
 * specification is a factor (1 is natural size), that of picture in picture a percentage (100; the outside collection has a mark "22-100" over one
 * that goes from 22 to 100). Opacity is 0..1; a flop changes left and right, a flip top and bottom (the trade's words; the specification
 * from memory). Positions, crops and rotations have units that we are not sure of: they are no part of it.
 */
export function placingOf(group: AafObject, length: number): Placing | null {
  switch (definitionAt(group, PID.operation)) {
    case OPERATIONS.flip:
      return whole({ ...FILLING, flipY: true });
    case OPERATIONS.flop:
      return whole({ ...FILLING, flipX: true });
    case OPERATIONS.flipFlop:
      return whole({ ...FILLING, flipX: true, flipY: true });
    case OPERATIONS.scale:
      return scaleOf(group, PARAMETERS.scaleX, PARAMETERS.scaleY, length, 1, false);
    case OPERATIONS.opacity: {
      const level = valuesOf(group, PARAMETERS.opacity, length);
      if (!level || level === 'unreadable' || level.points.some((p) => p.value < 0 || p.value > 1)) return null;
      return { ...placed({ opacity: level }), partly: false };
    }
    default:
      return isOn(group, PARAMETERS.percentEnabled) ? scaleOf(group, PARAMETERS.percentX, PARAMETERS.percentY, length, 100, true) : null;
  }
}

const whole = (placement: Placement): Placing => ({ placement, uneven: false, partly: false });

function scaleOf(group: AafObject, ofX: string, ofY: string, length: number, natural: number, partly: boolean): Placing | null {
  const [x, y] = [valuesOf(group, ofX, length), valuesOf(group, ofY, length)];
  if (x === 'unreadable' || y === 'unreadable' || (!x && !y)) return null;
  const all = [...(x?.points ?? []), ...(y?.points ?? [])];
  if (!all.every((p) => p.value > 0)) return null;
  const factor = (values: Values | null): Values | null =>
    values && { ...values, points: values.points.map((p) => ({ ...p, value: p.value / natural })) };
  return { ...placed({ scaleX: factor(x), scaleY: factor(y) }), partly };
}

/** False where a switch is there and off. */
function isOn(group: AafObject, definition: string): boolean {
  const parameter = childrenAt(group, PID.parameters).found.find((p) => auidAt(p, PID.parameterDefinition) === definition);
  const value = parameter && indirectAt(parameter, PID.constant);
  return value?.[0] !== 0;
}

/** The values of a parameter, one or several of them on the way. */
interface Values {
  readonly points: readonly { readonly record: number; readonly value: number }[];
  readonly uneven: boolean;
}

function valuesOf(group: AafObject, definition: string, length: number): Values | 'unreadable' | null {
  const parameter = childrenAt(group, PID.parameters).found.find((p) => auidAt(p, PID.parameterDefinition) === definition);
  if (!parameter) return null;
  const number = (value: Uint8Array | null): number | null => {
    const rational = value && rationalOf(value);
    return rational && rational.den !== 0 ? rational.num / rational.den : null;
  };
  if (classOf(parameter) !== 'VaryingValue') {
    const value = number(indirectAt(parameter, PID.constant));
    return value === null ? 'unreadable' : { points: [{ record: 0, value }], uneven: false };
  }
  const points = childrenAt(parameter, PID.points).found.map((p) => {
    const [time, value] = [rationalAt(p, PID.pointTime), number(indirectAt(p, PID.pointValue))];
    return time && time.den !== 0 && value !== null ? { record: (time.num / time.den) * length, value } : null;
  });
  const read = points.filter((p) => p !== null).sort((a, b) => a.record - b.record);
  if (read.length === 0 || read.length < points.length) return 'unreadable';
  return { points: read, uneven: read.length > 1 && definitionAt(parameter, PID.interpolation) !== LINEAR };
}

function placed(values: Partial<Record<'scaleX' | 'scaleY' | 'opacity', Values | null>>): { placement: Placement; uneven: boolean } {
  const given = Object.entries(values).flatMap(([name, of]) => (of ? [[name, of] as const] : []));
  const each = given.map(([name, { points }]) => {
    const keys = points.map(({ record, value }) => ({ ...FILLING_POSE, record, [name]: value }));
    return { ...FILLING, ...keys[0], keys: keys.length > 1 ? keys : [] };
  });
  return { placement: each.reduce<Placement>((a, b) => laidOver(a, b), FILLING), uneven: given.some(([, { uneven }]) => uneven) };
}

const { flipX: _x, flipY: _y, fit: _fit, keys: _keys, ...FILLING_POSE } = FILLING;

/** One placement done to what another one made of a picture; of those that move, at the keys of both. */
export function laidOver(outer: Placement, inner: Placement | null): Placement {
  if (!inner) return outer;
  const pose = (a: Pose, b: Pose): Pose => ({
    ...FILLING_POSE,
    scaleX: a.scaleX * b.scaleX,
    scaleY: a.scaleY * b.scaleY,
    opacity: a.opacity * b.opacity,
  });
  const records = [...new Set([...outer.keys, ...inner.keys].map((k) => k.record))].sort((a, b) => a - b);
  const keys = records.map((record) => ({ record, ...pose(poseAt(outer, record), poseAt(inner, record)) }));
  const { record: _, ...first } = keys[0] ?? { record: 0, ...pose(outer, inner) };
  return { ...first, flipX: outer.flipX !== inner.flipX, flipY: outer.flipY !== inner.flipY, fit: null, keys };
}

/** The same placement with its keys counted from a later place. */
export const countedFrom = (placement: Placement, place: number): Placement => ({
  ...placement,
  keys: placement.keys.map((k) => ({ ...k, record: k.record - place })),
});
