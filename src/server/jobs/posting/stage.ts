import { quoted } from "@/core/query/dialect/dialect";
import type { Plan } from "@/core/query/plan";
import type { Column, Table } from "@/core/schema/schema";
import { declaration } from "@/core/shape/declaration";
import { ownStorage } from "@/core/types/storage";
import { type Cell, isExact, isMisfit, type ValueType } from "@/core/types/valueType";
import type { Reading } from "@/server/source/reading";
import type { FileDatabase } from "@/server/source/sqlite/database";
import { abandonStage, openStage } from "@/server/source/sqlite/writers";

/** The one table of a staged source. */
export const STAGED = "rows";

/** A table to keep values of columns in, as the ledger keeps them; names that are taken get a number. */
export function stagedTable(columns: { heading: string; type: ValueType }[], rows = 0): Table {
  const names = new Set<string>();
  const free = (heading: string) => {
    for (let n = 1; ; n++) {
      const name = n === 1 ? heading : `${heading} ${n}`;
      if (!names.has(name.toLowerCase())) return name;
    }
  };
  const made = columns.map(({ heading, type }): Column => {
    const name = free(heading);
    names.add(name.toLowerCase());
    return { name, label: name, type, storage: ownStorage(type), nullable: true, misfits: 0 };
  });
  return { name: STAGED, label: "file", columns: made, key: [], rows };
}

export const createTable = (name: string, columns: Column[], more = ""): string =>
  `CREATE TABLE ${quoted(name)} (${columns.map((c) => `${quoted(c.name)} ${declaration(c.type)}`).join(", ")}${more})`;

/** The columns that a query shows, as those of a table. */
export const queryTable = (plan: Plan): Table => stagedTable(plan.columns.filter((c) => !c.hidden).map((c) => ({ heading: c.heading, type: c.type })));

/** A cell as such a table keeps it; what does not fit its type as it is written. */
export function stagedValue(cell: Cell, type: ValueType): string | number | bigint | null {
  if (cell === null || isMisfit(cell)) return cell === null ? null : cell.misfit;
  return isExact(type) || type.kind === "yesno" ? BigInt(cell) : cell;
}

/** Writes a query's rows into such a table. @returns the table with how many there are, and how many values of each column do not fit */
export function writeQuery(from: Pick<Reading, "ask">, plan: Plan, into: FileDatabase, table: Table): Table {
  const { name, columns } = table;
  const misfits = columns.map(() => 0);
  const shown = plan.columns.flatMap((c, at) => (c.hidden ? [] : [{ at, column: c }]));
  const insert = into.prepare(`INSERT INTO ${quoted(name)} VALUES (${columns.map(() => "?").join(", ")})`);
  let rows = 0;
  for (const row of from.ask({ of: "rows", plan })) {
    insert.run(
      shown.map(({ at, column }, i) => {
        const cell = row[at] ?? null;
        if (isMisfit(cell)) misfits[i] = (misfits[i] ?? 0) + 1;
        return stagedValue(cell, column.type);
      }),
    );
    rows++;
  }
  return { ...table, rows, columns: columns.map((c, i) => ({ ...c, misfits: misfits[i] ?? 0 })) };
}

/** Keeps a query's rows as a staged source. */
export function stageQuery(from: Reading, plan: Plan, path: string): Table {
  const table = queryTable(plan);
  const stage = openStage(path);
  try {
    stage.exec(createTable(STAGED, table.columns));
    stage.exec("BEGIN");
    const written = writeQuery(from, plan, stage, table);
    stage.exec("COMMIT");
    return { ...written, label: "query" };
  } catch (error) {
    abandonStage(stage, path);
    throw error;
  } finally {
    stage.close();
  }
}
