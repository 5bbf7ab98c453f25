import { z } from 'zod';

/** A column of a table as it is sent: values that return are sent once, and then by their number. */
export type Column<V = unknown> = { readonly all: readonly V[] } | { readonly kinds: readonly V[]; readonly of: readonly number[] };
export type Packed = Readonly<Record<string, Column>>;

/** A table as it is sent: columns of one length. What stands in them is not looked at one by one, for there may be millions. */
export const packedSchema = z.custom<Packed>((value) => {
  if (typeof value !== 'object' || value === null) return false;
  const columns = Object.values(value as Packed);
  return columns.every(isColumn) && new Set(columns.map(lengthOfColumn)).size <= 1;
}, 'The table is not whole.');

const isColumn = (column: unknown): column is Column => {
  const { all, kinds, of } = (column ?? {}) as { all?: unknown; kinds?: unknown; of?: unknown };
  return Array.isArray(all) || (Array.isArray(kinds) && Array.isArray(of));
};

/** A column that has more kinds of value than one in this many rows is sent as it is. */
const RETURNING = 4;

/** Stands for every list that holds nothing, which most do. */
const EMPTY = Symbol('empty');

/** Packs the values of a column. They are told apart by what they are as JSON; the same object is looked at once. */
export function packColumn<V>(values: readonly V[]): Column<V> {
  const numbers = new Map<unknown, number>();
  const kinds: V[] = [];
  const of: number[] = [];
  const most = values.length / RETURNING;
  for (const value of values) {
    const number = numbers.get(value) ?? numbers.get(keyOf(value));
    of.push(number ?? kinds.length);
    if (number !== undefined) continue;
    if (kinds.length > most) return { all: values };
    numbers.set(value, kinds.length).set(keyOf(value), kinds.length);
    kinds.push(value);
  }
  return { kinds, of };
}

const keyOf = (value: unknown): unknown => {
  if (typeof value !== 'object' || value === null) return value;
  return Array.isArray(value) && value.length === 0 ? EMPTY : JSON.stringify(value);
};

/** Gives the value of a column in a row. A value that was sent once is the same one in every row. */
export function columnReader<V>(column: Column | undefined): (row: number) => V {
  if (!column) return () => undefined as V;
  if ('all' in column) return (row) => column.all[row] as V;
  return (row) => column.kinds[column.of[row] as number] as V;
}

export const lengthOfColumn = (column: Column | undefined): number =>
  !column ? 0 : 'all' in column ? column.all.length : column.of.length;
