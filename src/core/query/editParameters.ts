import type { Schema } from "../schema/schema";
import { isNumber, type ValueType } from "../types/valueType";
import { type OperatorName, PARAMETER_NAME } from "./choices";
import { comparisonOf, comparisonsIn, conditionLists, mapComparisons, mapConditionLists } from "./conditions";
import { changeCondition } from "./edit";
import { operandsOf, operandWords } from "./operands";
import { OPERATORS, takesPeriod } from "./operators";
import { scopeOf } from "./reach";
import { mapRelated, relatedConditions } from "./related";
import type { ConditionTree, Parameter, QuerySpec, Value } from "./spec";

/** What kind of parameter is asked for, by the type it is compared with. */
export const PARAMETER_FOR: Record<ValueType["kind"], Parameter["type"]> = {
  text: "text",
  whole: "whole",
  decimal: "decimal",
  floating: "decimal",
  date: "date",
  timestamp: "date",
  yesno: "yesno",
};

/** Whether a parameter can stand where a value of a type is wanted. */
export const suits = (parameter: Parameter, type: ValueType, operator: OperatorName): boolean =>
  takesPeriod(operator) ? parameter.type === "period" : suitsOne(parameter, type, OPERATORS[operator].values === "many");

const suitsOne = (parameter: Parameter, type: ValueType, many: boolean): boolean =>
  (many && parameter.type === "several") ||
  parameter.type === PARAMETER_FOR[type.kind] ||
  (parameter.type === "timestamp" && type.kind === "timestamp") ||
  parameter.type === "choice" ||
  (isNumber(type) && ["whole", "decimal"].includes(parameter.type));

/** The values of a condition with one of them set; a list has the one for all. */
export function withValue(spec: QuerySpec, id: string, index: number, value: Value): Value[] {
  const condition = comparisonOf(spec, id);
  if (!condition) return [];
  return OPERATORS[condition.operator].values === "many" ? [value] : condition.values.map((v, i) => (i === index ? value : v));
}

/**
 * Asks for a value of a condition when the query is run: by a new parameter, named by the condition's field, or start and
 * end of a range. What was typed stays as its default.
 */
export function askWhenRun(spec: QuerySpec, schema: Schema, id: string, index: number, type: ValueType): QuerySpec {
  const condition = comparisonOf(spec, id);
  if (!condition) return spec;
  const field = operandWords(condition.left, scopeOf(spec, schema)).split(" › ").at(-1) ?? "";
  const stem = field.replace(/[^\p{L}\p{N}_ ]/gu, "").trim();
  const range = OPERATORS[condition.operator].values === 2;
  const within = takesPeriod(condition.operator);
  const wanted = within ? "period" : range ? (index === 0 ? "start" : "end") : /^[\p{L}_]/u.test(stem) ? stem : "value";
  let name = wanted;
  for (let n = 2; spec.parameters.some((p) => p.name === name); n++) name = `${wanted} ${n}`;
  const current = condition.values[index];
  const fixed = current?.kind === "value" && current.text !== "" ? { default: { kind: "fixed" as const, text: current.text } } : {};
  const asked = changeCondition(spec, id, { values: withValue(spec, id, index, { kind: "parameter", name }) });
  const many = OPERATORS[condition.operator].values === "many";
  const typed = condition.values.flatMap((v) => (v.kind === "value" && v.text !== "" ? [v.text] : []));
  const several = { name, type: "several" as const, ...(typed.length > 0 ? { default: { kind: "fixed" as const, text: typed.join("\n") } } : {}) };
  return { ...asked, parameters: [...spec.parameters, many ? several : { name, type: within ? "period" : PARAMETER_FOR[type.kind], ...fixed }] };
}

const asks = (value: Value, name: string): boolean => value.kind === "parameter" && value.name === name;

/** A parameter by another name, wherever conditions ask for it; as it was where the name is none, or taken. */
export function renameParameter(spec: QuerySpec, was: string, name: string): QuerySpec {
  if (!PARAMETER_NAME.test(name) || spec.parameters.some((p) => p.name === name)) return spec;
  const rename = (list: ConditionTree[]) =>
    mapComparisons(list, (c) => ({ ...c, values: c.values.map((v) => (asks(v, was) ? { kind: "parameter", name } : v)) }));
  const renamed = mapRelated(mapConditionLists(spec, rename), rename);
  return { ...renamed, parameters: spec.parameters.map((p) => (p.name === was ? { ...p, name } : p)) };
}

/** Whether anything asks for a parameter: a condition, a formula, or the choices of another parameter. */
export function isAsked(spec: QuerySpec, name: string): boolean {
  if (spec.parameters.some((p) => p.name !== name && p.from)) return true;
  const lists = [...conditionLists(spec), ...relatedConditions(spec)];
  if (lists.flatMap(comparisonsIn).some((c) => c.values.some((v) => asks(v, name)))) return true;
  return operandsOf(spec).some((o) => o.kind === "formula" && (o.text.includes(`:${name}`) || o.text.includes(`:"${name}"`)));
}

/** A query without a parameter and the conditions that ask for it. */
export function removeParameter(spec: QuerySpec, name: string): QuerySpec {
  const without = (list: ConditionTree[]) => mapComparisons(list, (c) => (c.values.some((v) => asks(v, name)) ? null : c));
  const left = mapRelated(mapConditionLists(spec, without), without);
  return { ...left, parameters: spec.parameters.filter((p) => p.name !== name) };
}
