export { type ColumnMapping, FIELDS, type Field, guessMapping, isList, looksLikeTable } from './columns';
export { readTable, tableHead } from './read';
export { writeTable } from './write';
