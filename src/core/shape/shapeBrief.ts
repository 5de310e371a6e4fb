import { briefText, listed, type Phrase } from "../brief/brief";
import type { Table } from "../schema/schema";
import { TYPE_WORDS, type ValueType } from "../types/valueType";
import type { ShapePlan, ShapePlanColumn } from "./shapePlan";
import type { ShapeSpec } from "./spec";

const say = (text: string): Phrase => ({ text });
const typeWords = (type: ValueType): string =>
  type.kind === "decimal" ? `decimal with ${type.scale} decimal places` : type.kind === "yesno" ? "yes/no" : TYPE_WORDS[type.kind];

/** What a change of a table does, in one line: as the journal keeps it, and as it stands over what is being changed. */
export function shapeBrief(spec: ShapeSpec, plan: ShapePlan, table: Table | null): string {
  const names = (columns: string[]) => briefText(listed(columns.map((c) => [say(c)])));
  if (table === null) return `Create the table ${plan.name} with ${names(plan.columns.map((c) => c.column.name))}.`;
  const said = [
    plan.name === table.name ? "" : `rename it to ${plan.name}`,
    ...plan.columns.flatMap((c) => columnWords(c, spec)),
    plan.dropped.length > 0 ? `remove ${names(plan.dropped.map((c) => c.name))}` : "",
    ...plan.said.flatMap(({ column, before, after }) => [
      before.unit === after.unit ? "" : after.unit === null ? `${column} has no unit` : `${column} is in ${after.unit}`,
      before.note === after.note ? "" : `describe ${column}`,
    ]),
    plan.key === null ? "" : plan.key.length === 0 ? "without a key" : `with ${names(plan.key)} as key`,
  ].filter((words) => words !== "");
  if (said.length > 0) return `In ${table.label}: ${said.join("; ")}.`;
  return plan.how === "nothing" ? "" : `In ${table.label}: reorder the columns.`;
}

function columnWords({ id, column, value, edit }: ShapePlanColumn, { columns }: ShapeSpec): string[] {
  if (value.kind === "number") return [`add ${column.name}, numbered`];
  if (value.kind === "fill") return [`add ${column.name}, ${typeWords(column.type)}`];
  if (value.kind === "lookup") {
    const by = `${value.from.name} (${value.match.label})`;
    const given = columns.find((c) => c.id === id);
    const made = given?.lookup?.made?.columns.map((c) => c.from);
    return [
      ...(made ? [`create the table ${value.table} from ${briefText(listed(made.map((c) => [say(c)])))}`] : []),
      ...(given?.misfits === "make" ? [`add missing rows to ${value.table}`] : []),
      edit.references
        ? `add ${column.name}, a link to ${value.table} by ${by}`
        : `add ${column.name}, the ${value.give.label} of ${value.table} by ${value.from.name}`,
    ];
  }
  const given = columns.find((c) => c.id === id);
  if (value.kind === "formula") return [`add ${column.name} as ${value.text}`];
  const old = value.kind === "same" ? value.column : value.from.name;
  return [
    old === column.name ? [] : [`rename ${old} to ${column.name}`],
    edit.declared === undefined ? [] : [`make ${column.name} a ${typeWords(column.type)}`],
    value.kind === "convert" && value.instead ? [`read invalid ${column.name} as ${given?.formula}`] : [],
    value.kind === "convert" && value.fill !== null ? [`fill empty ${column.name} with ${given?.fill}`] : [],
    edit.notNull === undefined ? [] : [`${column.name} is ${edit.notNull ? "required" : "not required"}`],
    edit.unique === undefined ? [] : [`${column.name} is ${edit.unique ? "different in every row" : "not different in every row"}`],
    edit.fallback === undefined ? [] : [edit.fallback === null ? `${column.name} has no default` : `${column.name} is ${given?.fallback} by default`],
    edit.check === undefined ? [] : [edit.check === null ? `${column.name} has no check` : `${column.name} must be ${edit.check.words}`],
  ].flat();
}
