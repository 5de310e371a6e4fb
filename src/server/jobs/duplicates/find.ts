import type { AlikeRow, Duplicates } from "@/core/duplicates/merging";
import { similarGroups } from "@/core/duplicates/similar";
import { cellOfStored, type Stored, storedText } from "@/core/posting/coerce";
import type { PlanLink } from "@/core/posting/plan";
import { quoted } from "@/core/query/dialect/dialect";
import type { Table } from "@/core/schema/schema";
import { rowIdentity, writtenColumns } from "@/server/jobs/posting/target";
import { type Connection, tableSql } from "@/server/source/connection";
import { JobFailure } from "@/server/source/failures";

/** How many groups are told at once. */
const MOST_TOLD = 500;
/** Of how many rows names are held against all others letter by letter. */
const MOST_NEAR = 300_000;

/**
 * Finds rows of a table that are alike in columns.
 * @param links by which rows elsewhere lead to the table's
 * @throws JobFailure "refusedEdit" where there are too many rows to compare them letter by letter
 */
export function findDuplicates(db: Connection, table: Table, links: PlanLink[], question: { columns: string[]; near: boolean }): Duplicates {
  const columns = writtenColumns(table);
  const keys = table.key.flatMap((name) => table.columns.find((c) => c.name === name) ?? []);
  const { names: identity } = rowIdentity(db, table);
  const list = question.columns.map((name) => `CAST(${quoted(name)} AS TEXT)`).join(", ");
  const order = ` ORDER BY ${identity.join(", ")}`;
  const rows = db.prepare(`SELECT ${list} FROM ${tableSql(db, table.name)}${order}`).raw();
  const total = Number(
    db
      .prepare(`SELECT COUNT(*) FROM ${tableSql(db, table.name)}`)
      .pluck()
      .get(),
  );
  if (question.near && total > MOST_NEAR)
    throw new JobFailure("refusedEdit", `names of up to ${MOST_NEAR.toLocaleString("en")} rows can be compared letter by letter; compare without it`);
  const texts = function* () {
    for (const row of rows.iterate() as Iterable<(string | null)[]>) yield row.map((value) => value ?? "");
  };
  const found = similarGroups(texts(), question.near);
  const told = found.slice(0, MOST_TOLD);
  const wanted = new Map<number, AlikeRow>();
  const places = new Set(told.flatMap((g) => g.rows));
  const counts = links.map((link) => ({
    link,
    count: db.prepare(`SELECT COUNT(*) FROM ${tableSql(db, link.table)} WHERE ${link.near.map((c) => `${quoted(c)} = ?`).join(" AND ")}`).pluck(),
  }));
  if (places.size > 0) {
    const all = db
      .prepare(`SELECT ${columns.map((c) => quoted(c.name)).join(", ")} FROM ${tableSql(db, table.name)}${order}`)
      .raw()
      .safeIntegers(true);
    let at = 0;
    for (const row of all.iterate() as Iterable<Stored[]>) {
      if (places.has(at)) wanted.set(at, rowOf(row));
      at++;
    }
  }
  const rowsGoing = found.reduce((sum, g) => sum + g.rows.length - 1, 0);
  return {
    columns,
    groups: told.map(({ rows: list, near }) => ({ near, rows: list.flatMap((place) => wanted.get(place) ?? []) })),
    all: { groups: found.length, rows: rowsGoing, of: total },
  };

  function rowOf(row: Stored[]): AlikeRow {
    const own = (name: string) => row[columns.findIndex((c) => c.name === name)] ?? null;
    return {
      key: keys.map((k) => storedText(own(k.name), k)),
      cells: columns.map((c, i) => cellOfStored(row[i] ?? null, c)),
      links: counts.reduce((sum, { link, count }) => sum + Number(count.get(link.far.map(own))), 0),
    };
  }
}
