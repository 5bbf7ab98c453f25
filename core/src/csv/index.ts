import Papa from 'papaparse';

/**
 * What a spreadsheet would take for a formula and reckon out: it begins with `=`, `@`, a tab or a return, or with a sign and is no number (OWASP,
 * "CSV Injection"). What begins as such a cell is written is marked too, so that the mark is taken off once.
 */
const FORMULA = /^'*(?:[=@\t\r]|[+-](?!\d+(?:[.,]\d+)?$))/;

/** Rows of cells as text (RFC 4180), the headings first. A cell that a spreadsheet would reckon out begins with an apostrophe, by which it is text there too. */
export const writeCsv = (rows: readonly (readonly string[])[]): string =>
  `${Papa.unparse(rows as string[][], { escapeFormulae: FORMULA })}\r\n`;

/** What a cell says: the apostrophe is taken off that marks as text what a spreadsheet would reckon out. */
export const saidIn = (cell: string): string => (cell.startsWith("'") && FORMULA.test(cell.slice(1)) ? cell.slice(1) : cell);
