import type { Contents } from './chain';
import { classOf, PID } from './model';
import { type AafObject, auidAt, childrenAt, indirectAt, rationalOf } from './object';

/** The number that bytes of an unstated type stand for: a fraction of 8, a whole number of 4, 2 or 1. */
function plainNumber(value: Uint8Array): number | null {
  const rational = value.length === 8 ? rationalOf(value) : null;
  if (rational) return rational.num / rational.den;
  const view = new DataView(value.buffer, value.byteOffset, value.byteLength);
  return value.length >= 4 ? view.getInt32(0, true) : value.length >= 2 ? view.getUint16(0, true) : (value[0] ?? null);
}

/** A constant parameter as a number, by the name that the dictionary gives it; null where it is none. */
export function numberOf({ parameters }: Contents, group: AafObject, name: RegExp): number | null {
  for (const p of childrenAt(group, PID.parameters).found) {
    if (!name.test(parameters.get(auidAt(p, PID.parameterDefinition)) ?? '')) continue;
    const value = indirectAt(p, PID.constant);
    return value && plainNumber(value);
  }
  return null;
}

/** Of an effect's settings so many are told; the rest is told as a number. */
const MOST = 12;

/** What an effect is set to, to be read by a person: its fractions with their names, those that change from the first to the last. */
export function valuesOf(contents: Contents, group: AafObject, carried: ReadonlySet<string> = NONE): string {
  const fractionIn = (object: AafObject, id: number): number | null => {
    const value = indirectAt(object, id);
    const number = value?.length === 8 ? rationalOf(value) : null;
    return number && number.num / number.den;
  };
  const told = childrenAt(group, PID.parameters).found.flatMap((p) => {
    const id = auidAt(p, PID.parameterDefinition);
    const name = contents.parameters.get(id)?.replace('ParameterDef_', '');
    if (!name || carried.has(id)) return [];
    if (classOf(p) !== 'VaryingValue') {
      const number = fractionIn(p, PID.constant);
      return number === null ? [] : [`${name} ${number}`];
    }
    const points = childrenAt(p, PID.points).found.flatMap((point) => fractionIn(point, PID.pointValue) ?? []);
    const [first, last] = [points[0], points.at(-1)];
    if (first === undefined || (points.length > 1 && points.every((v) => v === 0))) return [];
    return [first === last ? `${name} ${first}` : `${name} ${first} to ${last}`];
  });
  return told.length > MOST ? `${told.slice(0, MOST).join(', ')} and ${told.length - MOST} more` : told.join(', ');
}
const NONE: ReadonlySet<string> = new Set();
