import { type Column, desc, getTableName, sql } from 'drizzle-orm';

/** What counts as later than everything in its table, whatever the clock says: clocks are set back. */
export const next = (column: Column) =>
  sql<number>`(SELECT coalesce(max(${column}), 0) + 1 FROM ${sql.identifier(getTableName(column.table))})`;

/** Rows that are never written again stand in the order they came in: SQLite numbers them so. */
const arrival = sql`rowid`;
export const lastArrivedFirst = desc(arrival);
export const firstArrivedFirst = arrival;
