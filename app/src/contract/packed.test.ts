import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { columnReader, lengthOfColumn, packColumn } from './packed';

/** Values as a column of the table holds them, many of them alike. */
const value = fc.oneof(
  fc.constantFrom('A001', 'A002', '', null, 0, 24, true, false),
  fc.constantFrom([], ['windy'], [{ code: 'same-name', message: 'x' }]),
  fc.constantFrom({ num: 24, den: 1, dropFrame: false }, { num: 30_000, den: 1001, dropFrame: true }),
  fc.string({ maxLength: 6 }).map((s) => `clip ${s}`),
);
const sent = <T>(column: T): T => JSON.parse(JSON.stringify(column));
const read = (column: ReturnType<typeof packColumn>) => {
  const at = columnReader(column);
  return Array.from({ length: lengthOfColumn(column) }, (_, row) => at(row));
};

describe('a column of the table', () => {
  it('is the same after it was packed, sent and read, whatever it holds', () => {
    fc.assert(
      fc.property(fc.array(value, { maxLength: 80 }), (values) => {
        expect(read(sent(packColumn(values)))).toEqual(values);
      }),
    );
  });
  it('sends a value that returns once: a thousand rates of two kinds are two rates and a thousand numbers', () => {
    const rates = Array.from({ length: 1000 }, (_, i) => ({ num: i % 3 === 0 ? 25 : 24, den: 1 }));
    const column = packColumn(rates);
    expect('kinds' in column && [column.kinds, column.of.length]).toEqual([
      [
        { num: 25, den: 1 },
        { num: 24, den: 1 },
      ],
      1000,
    ]);
    const at = columnReader<object>(column);
    expect(at(1)).toBe(at(2));
    expect(at(0)).not.toBe(at(1));
  });
  it('of values that do not return is sent as it is', () => {
    const names = Array.from({ length: 100 }, (_, i) => `A001C${i}`);
    expect(packColumn(names)).toEqual({ all: names });
  });
  it('keeps apart what only looks alike: a list from none, nothing from an empty text, a text from what it says', () => {
    const alike = ['', null, [], [''], 0, '0', false, 'false', '[]'];
    const values = Array.from({ length: 90 }, (_, i) => alike[i % alike.length]);
    expect(read(sent(packColumn(values)))).toEqual(values);
  });
  it('that is not there has no rows, and gives nothing', () => {
    expect([lengthOfColumn(undefined), columnReader(undefined)(0), lengthOfColumn(packColumn([]))]).toEqual([0, undefined, 0]);
  });
});
