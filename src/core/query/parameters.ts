import { isProblem } from "../expression/check";
import type { Expr } from "../expression/expr";
import type { Today } from "../types/calendar";
import { type Problem, problem } from "../types/problem";
import { RELATIVE_DATES } from "../types/relative";
import { readStretch, type Stretch, stretchText } from "../types/stretch";
import { date, decimal, text, timestamp, type ValueType, whole, yesno } from "../types/valueType";
import type { RunContext } from "./operands";
import { parseValue } from "./parseValue";
import type { PlanParameter } from "./plan";
import type { Parameter, ParameterValues } from "./spec";

/*
 * A description's parameters: what they take, and what a run gives for them.
 */

/** The type of the values a parameter takes. */
export const PARAMETER_TYPES: Record<Parameter["type"], ValueType> = {
  text,
  whole,
  decimal: decimal(6),
  date,
  timestamp,
  period: text,
  yesno,
  choice: text,
  several: text,
};

/** A parameter that is missing, as its problem tells of it. */
export function missingParameter({ detail }: Problem): PlanParameter {
  const type = detail.type as Parameter["type"];
  return { name: String(detail.name), type: PARAMETER_TYPES[type] ?? text, text: null, defaulted: true, ...(type === "period" ? { period: true } : {}) };
}

/** Binds parameters to what a run gives for them, or to their defaults. */
export function resolveParameters(parameters: Parameter[], context: RunContext, problems: Problem[]) {
  const bound = new Map<string, Expr>();
  const several = new Map<string, string[]>();
  const periods = new Map<string, Stretch>();
  const dropped = new Set<string>();
  const list: PlanParameter[] = [];
  parameters.forEach((parameter, i) => {
    const path = ["parameters", i];
    if ([bound, several, periods, dropped].some((known) => known.has(parameter.name))) problems.push(problem("duplicateName", path, { name: parameter.name }));
    const given = context.values[parameter.name];
    const source = given !== undefined && given.trim() !== "" ? given : defaultText(parameter, context.today);
    const defaulted = given === undefined || given === "";
    const period = parameter.type === "period" && source !== null ? readStretch(source, context.today) : null;
    const text = period ? stretchText(period) : source;
    list.push({ name: parameter.name, type: PARAMETER_TYPES[parameter.type], text, defaulted, ...(parameter.type === "period" ? { period: true } : {}) });
    if (source === null) {
      if (parameter.optional) dropped.add(parameter.name);
      else problems.push(problem("parameterMissing", path, { name: parameter.name, type: parameter.type }));
      return;
    }
    if (parameter.type === "period") {
      if (!period) return problems.push(problem("periodType", path, { value: source, name: parameter.name }));
      return periods.set(parameter.name, period);
    }
    if (parameter.type === "several") {
      const chosen = linesOf(source);
      const strange = parameter.choices && !parameter.from ? chosen.find((text) => !parameter.choices?.includes(text)) : undefined;
      if (strange !== undefined) problems.push(problem("parameterChoice", path, { name: parameter.name, value: strange }));
      return several.set(parameter.name, chosen);
    }
    if (parameter.type === "choice" && !parameter.from && !parameter.choices?.includes(source))
      return problems.push(problem("parameterChoice", path, { name: parameter.name, value: source }));
    const value = parseValue(source, PARAMETER_TYPES[parameter.type], path);
    if (isProblem(value)) problems.push(value);
    else bound.set(parameter.name, value.node === "literal" ? { ...value, parameter: parameter.name } : value);
  });
  return { bound, several, periods, dropped, list };
}

/** The parameters left empty whose conditions fall away, by name: "any" to a reader. */
export const openParameters = (parameters: Parameter[], values: ParameterValues, today: Today): string[] =>
  parameters.filter((p) => p.optional && !values[p.name]?.trim() && defaultText(p, today) === null).map((p) => p.name);

/** Of values given, those that are worth keeping for the next time: of parameters that do not begin with a default. */
export const lastingValues = (parameters: Parameter[], values: ParameterValues): ParameterValues =>
  Object.fromEntries(Object.entries(values).filter(([name, text]) => text !== "" && parameters.some((p) => p.name === name && !p.default)));

/** The values given for a parameter that takes several: a line each. */
export const linesOf = (source: string): string[] =>
  source
    .split("\n")
    .map((line) => line.trim())
    .filter((line) => line !== "");

/** Values for parameters that have none, so that a description can be resolved where only its columns matter. */
export function probeValues(parameters: Parameter[]): ParameterValues {
  const probes: Record<Parameter["type"], string> = {
    text: "?",
    whole: "0",
    decimal: "0",
    date: "2000-01-01",
    timestamp: "2000-01-01",
    period: "2000-01-01/2000-01-01",
    yesno: "no",
    choice: "",
    several: "0",
  };
  return Object.fromEntries(parameters.filter((p) => !p.default && !p.optional).map((p) => [p.name, (p.from ? undefined : p.choices?.[0]) ?? probes[p.type]]));
}

/** The text a parameter has when nothing is given for it on a day; null where it has no default. */
export function defaultText(parameter: Parameter, today: Today): string | null {
  const chosen = parameter.default;
  if (!chosen) return null;
  const source = chosen.kind === "relative" ? RELATIVE_DATES[chosen.date].of(today) : chosen.text;
  return source === "" ? null : source;
}
