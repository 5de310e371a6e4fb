import type { ValueCandidate } from "@/core/posting/valuePairs";
import { quoted } from "@/core/query/dialect/dialect";
import { type Connection, isOnServer, tableSql } from "@/server/source/connection";
import { openReader } from "@/server/source/sqlite/readers";
import { STAGED } from "./stage";

/** How many different values of a column are looked for. */
const MOST_VALUES = 500;

/** Of each candidate, the share of the source's different values that are found where they would have to be, 0 to 1. @param staged the source's file */
export function valueShares(db: Connection, staged: string, candidates: ValueCandidate[]): number[] {
  const source = openReader(staged);
  try {
    const known = new Map<string, string>();
    const valuesOf = (column: string): string => {
      const found = known.get(column);
      if (found !== undefined) return found;
      const sql = `SELECT json_group_array(v) FROM (SELECT DISTINCT TRIM(${quoted(column)}) AS v FROM ${quoted(STAGED)} WHERE TRIM(${quoted(column)}) <> '' LIMIT ${MOST_VALUES})`;
      const made = String(source.prepare(sql).pluck().get());
      known.set(column, made);
      return made;
    };
    // A server compares texts with texts alone.
    const held = (column: string) => (isOnServer(db) ? `CAST(t.${quoted(column)} AS text)` : `t.${quoted(column)}`);
    const listed = isOnServer(db) ? "json_array_elements_text(?)" : "json_each(?)";
    return candidates.map(({ from, among }) => {
      const sql = `SELECT COUNT(*), SUM(CASE WHEN EXISTS (SELECT 1 FROM ${tableSql(db, among.table)} t WHERE ${held(among.column)} = v.value) THEN 1 ELSE 0 END) FROM ${listed} v`;
      const [all, found] = db.prepare(sql).raw().get(valuesOf(from)) as [number, number | null];
      return all === 0 ? 0 : (found ?? 0) / all;
    });
  } finally {
    source.close();
  }
}
