import type { ProofPick } from "../proof/proof";
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

/*
 * What a page of a query is opened with beside: rows behind its proof, or a control total to keep. It stands after the
 * address's "#", which the server is never sent.
 */

/** A figure of another list, to be kept as a control total. */
export type GivenControl = { column: string | null; value: string; source: string };
export type OpenedWith = { pick: ProofPick } | { control: GivenControl };

/** The path of a query's page, opened with something. */
export const openedWith = (path: string, what: OpenedWith): string => `${path}#${encodeURIComponent(JSON.stringify(what))}`;

/** What an address is opened with; null where it says nothing that is known. */
export function readOpenedWith(hash: string): OpenedWith | null {
  try {
    const said = JSON.parse(decodeURIComponent(hash.replace(/^#/, "")));
    const texts = (of: Record<string, unknown>, ...names: string[]) => names.every((name) => typeof of[name] === "string");
    if (said?.pick && texts(said.pick, "part", "id")) return { pick: said.pick };
    if (said?.control && texts(said.control, "value", "source") && (said.control.column === null || texts(said.control, "column")))
      return { control: said.control };
  } catch {
    // An address typed by hand may say anything.
  }
  return null;
}
