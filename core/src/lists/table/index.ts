export { type ColumnMapping, FIELDS, type Field, guessMapping, isList } from './columns';
export { readTable, type TableOptions } from './read';
export { writeTable } from './write';
