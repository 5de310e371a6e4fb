import { quoted } from "@/core/query/dialect/dialect";
import type { Column } from "@/core/schema/schema";
import { parseCreateTable } from "@/core/shape/createTable";
import { isSame } from "@/core/shape/names";
import { newColumn, reshapedSql } from "@/core/shape/reshape";
import type { ShapePlan } from "@/core/shape/shapePlan";
import { JobFailure } from "@/server/source/failures";
import type { FileDatabase } from "@/server/source/sqlite/database";
import { foreignFaults } from "./foreignFaults";
import { type RowSql, readingsOf } from "./readings";
import type { ColumnPair, ShapeRecord } from "./record";
import { belongings, otherTexts, type SchemaText, schemaFault, schemaTexts, tableText } from "./schemaTexts";
import { identityOf, keptTable, type Move, rebuild, sequenceOf } from "./transform";
import { joinWorked, workedSql, workOut } from "./worked";

/** What a change came to besides the table itself. */
export type ShapeDone = {
  record: ShapeRecord /** Rows with a value that was turned into another. */;
  rows: number /** Indexes that went with their columns. */;
  lostIndexes: string[];
};

/**
 * Changes a table's shape on an open transaction: names first, by SQLite's own means, so that whatever refers to them is
 * changed with them; then columns at its end, or every row anew. Indexes and triggers stay; an index that needs a column
 * that is dropped goes with it.
 * @param entry the number under which what is lost is kept; null to keep nothing, where it is only tried
 * @throws JobFailure "shapeRefused" where a view, a trigger, a check or a computed column needs what is dropped, where a
 *   value does not fit, or keys would lead nowhere
 */
export function changeShape(db: FileDatabase, plan: ShapePlan, entry: number | null): ShapeDone {
  const table = plan.table as string;
  const texts = schemaTexts(db);
  const fault = schemaFault(db);
  const faults = plan.how === "rebuild" ? foreignFaults(db) : 0;
  const sequence = sequenceOf(db, table);
  workOut(db, plan.worked);
  rename(db, plan);
  let lostIndexes: string[] = [];
  let rows = 0;
  if (plan.how === "added")
    for (const column of plan.columns.filter((c) => c.value.kind === "fill")) db.exec(`ALTER TABLE ${quoted(plan.name)} ADD COLUMN ${newColumn(column)}`);
  if (plan.how === "rebuild") ({ lostIndexes, rows } = rebuilt(db, plan, entry));
  const now = schemaFault(db);
  if (now !== null && fault === null)
    throw new JobFailure("shapeRefused", `it is used elsewhere in the database (${now.replace(/^error in /, "")}); change that first`);
  if (plan.how === "rebuild" && foreignFaults(db) > faults) throw new JobFailure("shapeRefused", "rows of other tables would lead to rows that do not exist");
  const after = schemaTexts(db);
  const record: ShapeRecord = {
    before: { name: table },
    after: { name: plan.name },
    pairs: pairsOf(plan),
    texts: { before: otherTexts(texts, after), after: otherTexts(after, texts) },
    said: plan.said,
    sequence: sequence === null ? null : String(sequence),
    kept: plan.how === "rebuild" ? kept(plan).map((k) => k.before.name) : [],
  };
  return { record, rows, lostIndexes };
}

/** Renames by SQLite's own means; names that change places go by others for a moment. */
function rename(db: FileDatabase, plan: ShapePlan): void {
  const table = plan.table as string;
  try {
    const column = (from: string, to: string) => db.exec(`ALTER TABLE ${quoted(table)} RENAME COLUMN ${quoted(from)} TO ${quoted(to)}`);
    const between = plan.renames.map(([from], i): [string, string] => [from, `next_ledger_name_${i}`]);
    const crossed = plan.renames.some(
      ([from, to]) => isSame(from, to) || plan.renames.some(([other]) => isSame(other, to)) || plan.dropped.some((c) => isSame(c.name, to)),
    );
    if (!crossed) for (const [from, to] of plan.renames) column(from, to);
    else {
      for (const [from, to] of between) column(from, to);
      plan.renames.forEach(([, to], i) => void column(between[i]?.[1] as string, to));
    }
    if (plan.name === table) return;
    const through = isSame(plan.name, table) ? [table, "next_ledger_name", plan.name] : [table, plan.name];
    for (let i = 1; i < through.length; i++) db.exec(`ALTER TABLE ${quoted(through[i - 1] as string)} RENAME TO ${quoted(through[i] as string)}`);
  } catch (error) {
    throw new JobFailure("shapeRefused", `the database could not rename it: ${(error as Error).message}`);
  }
}

/** A column's name once the renames are done. */
const nameNow = (plan: ShapePlan, { name }: Column): string => plan.renames.find(([from]) => from === name)?.[1] ?? name;

const sourceOf = ({ value }: ShapePlan["columns"][number]): string | null =>
  value.kind === "same" ? value.column : value.kind === "convert" ? value.from.name : null;

/** The columns of which something is lost: those dropped, and those turned into another type. */
const kept = (plan: ShapePlan): { before: Column; after: Column | null }[] => [
  ...plan.dropped.filter((c) => !c.generated).map((before) => ({ before, after: null })),
  ...plan.columns.flatMap(({ value, column }) => (value.kind === "convert" ? [{ before: value.from, after: column }] : [])),
];

function rebuilt(db: FileDatabase, plan: ShapePlan, entry: number | null): { lostIndexes: string[]; rows: number } {
  const now = tableText(db, plan.name) as string;
  const parsed = parseCreateTable(now);
  if (!parsed) throw new JobFailure("shapeRefused", "this table is not an ordinary one, so its columns cannot be changed");
  const own = belongings(schemaTexts(db), plan.name);
  const sql = reshapedSql(parsed, plan);
  const identity = identityOf(now, sql, (name) => name);
  const readings = readingsOf(db, plan);
  // What is read is read under the names that columns have by now.
  const row: RowSql = {
    now: (column) => `o.${quoted(plan.renames.find(([from]) => from === column)?.[1] ?? column)}`,
    worked: ({ name }) => workedSql(name),
    number: `o.${identity.old[0]}`,
  };
  const moves = plan.columns.flatMap((planned): Move[] => {
    const { column, value } = planned;
    if (column.generated) return [];
    return [{ to: column.name, value: readings(planned, row).value, same: value.kind === "same" ? column.name : undefined }];
  });
  const losing = kept(plan).map(({ before, after }) => ({ from: nameNow(plan, before), to: after?.name ?? null }));
  const keep = entry !== null && losing.length > 0 ? { table: keptTable(entry), columns: losing } : undefined;
  try {
    rebuild(db, { table: plan.name, name: plan.name, sql, moves, identity, keep, beside: joinWorked(plan.worked, "o", identity.old) });
  } catch (error) {
    throw refusal(error, plan);
  }
  const lostIndexes = own.flatMap((text) => (madeAgain(db, text, plan) ? [] : [text.name]));
  const rows = keep
    ? Number(
        db
          .prepare(`SELECT COUNT(*) FROM ${quoted(keep.table)}`)
          .pluck()
          .get(),
      )
    : 0;
  return { lostIndexes, rows };
}

/** Makes an index or a trigger of the table again. @returns whether it could; an index whose column is dropped cannot */
function madeAgain(db: FileDatabase, { type, sql }: SchemaText, plan: ShapePlan): boolean {
  try {
    db.exec(sql);
    return true;
  } catch (error) {
    const { message } = error as Error;
    if (type === "index" && plan.dropped.length > 0 && /no such column/.test(message)) return false;
    throw new JobFailure("shapeRefused", /UNIQUE/.test(message) ? "two rows would have the same values where an index allows each once" : message);
  }
}

/** What SQLite says of a row or a statement it will not have, as a refusal. */
function refusal(error: unknown, plan: ShapePlan): unknown {
  const { code = "", message = "" } = error as { code?: string; message?: string };
  const gone = /no such column: "?(.*?)"?(?: - should .*)?$/.exec(message)?.[1];
  if (gone !== undefined) return new JobFailure("shapeRefused", `“${gone}” is used by a check, a key or a computed column of this table`);
  if (/CHECK/.test(code)) return new JobFailure("shapeRefused", `a row would break the check “${message.replace(/^CHECK constraint failed: /, "")}”`);
  if (/NOTNULL/.test(code)) return new JobFailure("shapeRefused", `a required column would be empty in a row (${message.split(".").at(-1)})`);
  if (/UNIQUE|PRIMARYKEY/.test(code)) return new JobFailure("shapeRefused", "two rows would have the same value where each is allowed once");
  if (/AUTOINCREMENT/.test(message))
    return new JobFailure("shapeRefused", "its key is numbered so that no number is given twice (AUTOINCREMENT), and must stay a whole number");
  if (code === "SQLITE_ERROR") return new JobFailure("shapeRefused", `the database could not make “${plan.name}” so: ${message}`);
  return error;
}

const pairsOf = (plan: ShapePlan): ColumnPair[] => [
  ...plan.columns.map((planned) => {
    const before =
      planned.value.kind === "convert" ? planned.value.from : sourceOf(planned) === null ? null : { ...planned.column, name: sourceOf(planned) as string };
    return { before, after: planned.column, same: planned.value.kind === "same" };
  }),
  ...plan.dropped.map((before) => ({ before, after: null, same: false })),
];
