import { PARAMETER_VALUE_MOST } from "./choices";
import type { ParameterValues } from "./spec";

/*
 * The values of a query's parameters in the address of its page, so that a link asks for what was looked at. What an
 * address gives is checked where it is used, like what is typed.
 */

/** The values an address gives, by the parameters' names: "?start=2026-09-01". What is given twice is taken as it stands first. */
export function valuesOfAddress(given: Record<string, string | string[] | undefined>): ParameterValues {
  const first = ([name, value]: [string, string | string[] | undefined]): [string, string][] => {
    const text = Array.isArray(value) ? value[0] : value;
    return text === undefined || text === "" ? [] : [[name, text.slice(0, PARAMETER_VALUE_MOST)]];
  };
  return Object.fromEntries(Object.entries(given).flatMap(first));
}

/** A page's path with values of parameters. @example addressWith("/queries/q", { start: "2026-09-01" }) // "/queries/q?start=2026-09-01" */
export function addressWith(path: string, values: ParameterValues): string {
  const given = Object.entries(values).filter(([, text]) => text !== "");
  return given.length === 0 ? path : `${path}?${new URLSearchParams(given)}`;
}
