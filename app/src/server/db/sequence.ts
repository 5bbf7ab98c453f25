import { type Column, desc, getTableName, inArray, sql } from 'drizzle-orm';
import { tasks } from './schema';

/** What counts as later than everything in its table, whatever the clock says: clocks are set back. */
export const next = (column: Column) =>
  sql<number>`(SELECT coalesce(max(${column}), 0) + 1 FROM ${sql.identifier(getTableName(column.table))})`;

/** Rows that are never written again stand in the order they came in: SQLite numbers them so. */
const arrival = sql`rowid`;
export const lastArrivedFirst = desc(arrival);
export const firstArrivedFirst = arrival;

/** That what a column names is a task, or one that was asked for after it. */
export const sinceTask = (column: Column, task: string) =>
  inArray(column, sql`(SELECT ${tasks.id} FROM ${tasks} WHERE rowid >= (SELECT rowid FROM ${tasks} WHERE ${tasks.id} = ${task}))`);
