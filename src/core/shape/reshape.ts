import { quoted } from "../query/dialect/dialect";
import { type ColumnPart, type Constraint, type CreateTable, writeCreateTable } from "./createTable";
import { isSame } from "./names";
import type { ColumnEdit, ShapePlan, ShapePlanColumn } from "./shapePlan";

const isNew = ({ kind }: ShapePlanColumn["value"]): boolean => kind !== "same" && kind !== "convert";

/** A check with what it says as its name, which SQLite tells of a row that breaks it. */
const checkText = ({ sql, words }: { sql: string; words: string }, column: string): string =>
  `CONSTRAINT ${quoted(`${column} must be ${words}`)} CHECK (${sql})`;

/** The definition of a column that is new. */
export function newColumn({ column, edit }: Pick<ShapePlanColumn, "column" | "edit">): string {
  const { declared = "", notNull, unique, fallback, check, primaryKey, references } = edit;
  return [
    quoted(column.name),
    declared,
    primaryKey && "PRIMARY KEY",
    notNull && "NOT NULL",
    unique && "UNIQUE",
    typeof fallback === "string" && `DEFAULT ${fallback}`,
    check && checkText(check, column.name),
    references && `REFERENCES ${quoted(references.table)} (${quoted(references.column)})`,
  ]
    .filter((part) => part)
    .join(" ");
}

/** A definition with what an edit says, all else as it is written. */
function editedColumn(part: ColumnPart, edit: ColumnEdit, dropsKey: boolean): string {
  const gone = new Set<Constraint["kind"]>();
  const added: string[] = [];
  if (dropsKey) gone.add("primaryKey");
  if (edit.notNull !== undefined) {
    gone.add("notNull").add("null");
    if (edit.notNull) added.push("NOT NULL");
  }
  if (edit.unique !== undefined) {
    gone.add("unique");
    if (edit.unique) added.push("UNIQUE");
  }
  if (edit.fallback !== undefined) {
    gone.add("default");
    if (edit.fallback !== null) added.push(`DEFAULT ${edit.fallback}`);
  }
  if (edit.check !== undefined) {
    gone.add("check");
    if (edit.check) added.push(checkText(edit.check, part.name));
  }
  if (added.length === 0 && edit.declared === undefined && !part.constraints.some((c) => gone.has(c.kind))) return part.text;
  const kept = part.constraints.filter((c) => !gone.has(c.kind)).map((c) => c.text);
  return [part.written, edit.declared ?? part.type, ...kept, ...added].filter((text) => text !== "").join(" ");
}

/**
 * The statement of a table as a plan has it, of the one it has now, its names changed already. Foreign keys and other
 * constraints of the table stay as they are written; a key only where the plan has no other.
 */
export function reshapedSql(now: CreateTable, plan: ShapePlan): string {
  const rekeyed = plan.key !== null;
  const columns = plan.columns.map((planned): ColumnPart => {
    const part = isNew(planned.value) ? undefined : now.columns.find((c) => isSame(c.name, planned.column.name));
    const aliases = rekeyed && plan.key?.length === 1 && plan.key[0] === planned.column.name && planned.value.kind !== "number";
    if (!part) return { name: planned.column.name, written: "", type: "", constraints: [], text: newColumn(planned) };
    // INTEGER as the one column of a key is SQLite's own number of the row, which must stay.
    const declared = planned.edit.declared ?? part.type;
    const edit = aliases && /^INTEGER$/i.test(declared) ? { ...planned.edit, declared: "INT" } : planned.edit;
    return { ...part, text: editedColumn(part, edit, rekeyed) };
  });
  const constraints = now.constraints.filter((c) => !(rekeyed && c.kind === "primaryKey"));
  const byNumber = plan.columns.some((c) => c.value.kind === "number");
  const key =
    rekeyed && !byNumber && plan.key && plan.key.length > 0
      ? [{ kind: "primaryKey" as const, text: `PRIMARY KEY (${plan.key.map(quoted).join(", ")})`, columns: plan.key }]
      : [];
  return writeCreateTable({ ...now, columns, constraints: [...constraints, ...key] });
}

/** The statement of a table that is made. */
export function madeSql(plan: ShapePlan): string {
  const byNumber = plan.columns.some((c) => c.value.kind === "number");
  const key = plan.key && plan.key.length > 0 && !byNumber ? [`PRIMARY KEY (${plan.key.map(quoted).join(", ")})`] : [];
  return `CREATE TABLE ${quoted(plan.name)} (${[...plan.columns.map(newColumn), ...key].join(", ")})`;
}
