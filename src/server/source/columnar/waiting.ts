import { join } from "node:path";
import { quoted } from "@/core/query/dialect/dialect";
import type { ReadColumn, ReadTable } from "@/core/recount/recount";
import { plainValue, type Value } from "@/core/recount/value";
import { type Cell, isExact, type ValueType } from "@/core/types/valueType";
import { Bridge } from "../bridge";
import { JobFailure } from "../failures";
import type { Statement } from "./client";
import type { AskedOfCopy, FoundInCopy, OfCopy } from "./thread";

let bridge: Bridge<AskedOfCopy, FoundInCopy> | null = null;

function found(asked: AskedOfCopy): Exclude<FoundInCopy, { failure: object }> {
  bridge ??= new Bridge(join(process.cwd(), "dist/copy-thread.mjs"), {});
  const answer = bridge.ask(asked);
  if (answer !== null && "failure" in answer) throw new JobFailure(answer.failure);
  return answer;
}

/**
 * What the copy answers a statement, waited for where it is asked.
 * @returns null where it does not answer, or with more rows than are asked for at most
 * @throws JobFailure where the statement cannot be answered at all
 */
export function rowsOfCopy(asked: OfCopy & { statement: Statement; most: number }): Cell[][] | null {
  const answer = found({ all: asked });
  return answer !== null && "rows" in answer ? answer.rows : null;
}

/**
 * Reads tables of the copy plainly, one column beside the other, for the recount (core/recount).
 * @throws JobFailure copyRenewed where the copy has them not of that moment any more
 */
export const tablesOfCopy = (of: OfCopy): ReadTable =>
  function* (table, columns) {
    const types = typesOf(of, table);
    const typed = columns.map((c) => ("stored" in c ? (types.get(c.column) ?? { kind: "text" as const }) : c.type));
    const select = columns.map((c) => ("stored" in c && c.stored === "text" ? `CAST(${quoted(c.column)} AS VARCHAR)` : quoted(c.column)));
    const statement: Statement = {
      text: `SELECT ${[...select, "1"].join(", ")} FROM ${quoted(table)}`,
      values: [],
      columns: typed.map((type) => ({ type, raw: null })),
    };
    const answer = found({ open: { ...of, statement } });
    if (answer === null || !("opened" in answer)) throw new JobFailure("copyRenewed");
    const { opened } = answer;
    const read = columns.map((column, i) => readerOf(column, typed[i] as ValueType));
    try {
      for (let batch = found({ next: opened }); batch !== null && "rows" in batch; batch = found({ next: opened }))
        for (const row of batch.rows) yield read.map((value, i) => value(row[i] ?? null));
    } finally {
      found({ close: opened });
    }
  };

/** What the copy takes the columns of a table for (query/onCopy.ts). */
function typesOf({ tables }: OfCopy, name: string): Map<string, ValueType> {
  const made = tables.find((t) => t.name === name)?.made ?? "[]";
  return new Map((JSON.parse(made) as [string, ValueType][]).map(([column, type]) => [column, type]));
}

/** A cell of the copy as the recount takes it: as its type says, also where links compare what is stored. */
function readerOf(column: ReadColumn, type: ValueType): (cell: Cell) => Value {
  if ("stored" in column && column.stored === "text") return (cell) => (cell === null ? null : String(cell));
  if (isExact(type)) return (cell) => (cell === null ? null : BigInt(cell as string | number));
  if (type.kind === "yesno") return (cell) => (cell === null ? null : Number(cell) === 1);
  if ("stored" in column) return plainValue;
  return (cell) => (type.kind === "floating" && cell !== null ? Number(cell) : (cell as Value));
}
