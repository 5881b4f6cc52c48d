/** A moment that a column holds, as ISO 8601 text in UTC, to the millisecond: SQL. */
export const iso = (column: string) => `to_char(${column} at time zone 'utc', 'YYYY-MM-DD"T"HH24:MI:SS.MS"Z"')`
