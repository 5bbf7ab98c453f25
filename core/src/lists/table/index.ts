export { type ColumnMapping, FIELDS, type Field, guessMapping, isList } from './columns';
export { readTable, tableHead } from './read';
export { writeTable } from './write';
