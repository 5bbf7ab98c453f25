import fc from 'fast-check';
import Papa from 'papaparse';
import { describe, expect, it } from 'vitest';
import { saidIn, writeCsv } from '.';

const cellsOf = (text: string): string[][] => Papa.parse<string[]>(text, { delimiter: ',' }).data.slice(0, -1);

describe('a table for spreadsheets', () => {
  it('has no cell that is reckoned out (OWASP, "CSV Injection": = + - @ tab return)', () => {
    const odd = ['=1+1', '+A1', '-A1', '@SUM(A1)', '\tx', '\rx', '=HYPERLINK("http://a.example","b")', '-2+3'];
    for (const [cell] of cellsOf(writeCsv(odd.map((c) => [c])))) expect(cell?.[0]).toBe("'");
  });
  it('leaves numbers and words as they are, signs within them too', () => {
    const plain = ['-12', '+0.5', '-0,5', '01:00:00:00', 'A001C003_B', 'gull = far', "the gull's cry", ''];
    expect(cellsOf(writeCsv([plain]))).toEqual([plain]);
  });
  it('quotes by RFC 4180, lines end with CRLF', () => {
    expect(
      writeCsv([
        ['a,b', 'say "c"'],
        ['d\ne', ''],
      ]),
    ).toBe('"a,b","say ""c"""\r\n"d\ne",\r\n');
  });
  it('says when it is read what was written, whatever that was', () => {
    const begins = fc.constantFrom('', "'", "''", '=', "'=", "''@", '+', '-', '\t');
    const cell = fc.tuple(begins, fc.string({ maxLength: 8 })).map(([a, b]) => a + b);
    fc.assert(
      fc.property(fc.array(fc.array(cell, { minLength: 2, maxLength: 2 }), { minLength: 1, maxLength: 5 }), (rows) => {
        expect(cellsOf(writeCsv(rows)).map((row) => row.map(saidIn))).toEqual(rows);
      }),
    );
  });
});
