import { OUTCOME_WORDS } from "@/core/posting/choices";
import { quoted } from "@/core/query/dialect/dialect";
import type { Table } from "@/core/schema/schema";
import { isMisfit, text, type ValueType, whole } from "@/core/types/valueType";
import { abandonStage, openStage } from "@/server/source/sqlite/writers";
import { everyOutcome } from "./preview";
import { createTable, STAGED, stagedTable, stagedValue } from "./stage";

/** A step of a preview as its rows are written out: the table it is about, and the columns that are written. */
export type OutcomeStep = { label: string; pairs: { label: string; type: ValueType }[] };

/** What is said of each row before its values. */
const BEFORE = ["table", "row", "outcome", "reason"];

/** What became of every row of a preview as a table of its own: the table, the row's place, its outcome, the reason, its values. */
export function outcomeTable(preview: string, steps: OutcomeStep[], path: string): Table {
  const several = steps.length > 1;
  const table = stagedTable([
    ...BEFORE.map((heading) => ({ heading, type: heading === "row" ? whole : text })),
    ...steps.flatMap(({ label, pairs }) => pairs.map((p) => ({ heading: several ? `${label}: ${p.label}` : p.label, type: p.type }))),
  ]);
  const stage = openStage(path);
  try {
    stage.exec(createTable(STAGED, table.columns));
    const insert = stage.prepare(`INSERT INTO ${quoted(STAGED)} VALUES (${table.columns.map(() => "?").join(", ")})`);
    stage.exec("BEGIN");
    const misfits = table.columns.map(() => 0);
    let rows = 0;
    for (const { step, row } of everyOutcome(preview)) {
      const reason = row.why ?? (row.posting === null ? null : `since posting #${row.posting}`);
      const cells = steps.flatMap(({ pairs }, i) => pairs.map((_, at) => (i === step ? (row.cells[at] ?? null) : null)));
      const values = cells.map((cell, i) => {
        const at = BEFORE.length + i;
        if (isMisfit(cell)) misfits[at] = (misfits[at] ?? 0) + 1;
        return stagedValue(cell, table.columns[at]?.type ?? text);
      });
      insert.run([steps[step]?.label ?? "", BigInt(row.n), OUTCOME_WORDS[row.outcome], reason, ...values]);
      rows++;
    }
    stage.exec("COMMIT");
    return { ...table, rows, columns: table.columns.map((c, i) => ({ ...c, misfits: misfits[i] ?? 0 })) };
  } catch (error) {
    abandonStage(stage, path);
    throw error;
  } finally {
    stage.close();
  }
}
