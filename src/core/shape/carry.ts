import { PARENT } from "../derive/parent";
import { renameAtEnd, renameInFormula } from "../expression/parse";
import { JOIN_WAYS } from "../query/joinWays";
import { fieldByNames, type ScopeTable, sameName } from "../query/operands";
import { resolveTables } from "../query/scope";
import type { QuerySpec } from "../query/spec";
import { findTable, humanise, type Schema } from "../schema/schema";
import { linkIdNamed, type ShapeNames } from "./shapedSchema";

type Part = Record<string, unknown>;
/** Which table a join's id names, where a part stands; "" is the source. And the tables in reach of its formulas, by the names that lead to them. */
type Scope = ((join: unknown) => string | undefined) & { reached?: ScopeTable[] };

const isPart = (value: unknown): value is Part => typeof value === "object" && value !== null && !Array.isArray(value);
const isQuery = (part: Part): boolean => typeof part.source === "string" && Array.isArray(part.joins);
/** A step of a posting: where values go, and where they come from. */
const isStep = (part: Part): boolean => typeof part.target === "string" && Array.isArray(part.pairs);
/** A join whose way is known: saved descriptions are read as they are, whoever wrote them. */
const isJoin = (part: Part): part is Part & QuerySpec["joins"][number] => typeof part.way === "string" && Object.hasOwn(JOIN_WAYS, part.way);
const nowhere: Scope = () => undefined;

/** The parts of descriptions whose texts name tables. */
const NAMES_TABLE = new Set(["source", "table", "here", "there", "target"]);

/**
 * A saved description with the new names of a table and its columns wherever it names them: in fields, values, links and
 * formulas. What is dropped stays as it is, to be told as missing.
 * @param spec of any kind of object
 * @param schema as it was, in which the description could be read
 */
export function carried(spec: unknown, names: ShapeNames, schema: Schema): unknown {
  const column = (name: unknown): unknown => (typeof name === "string" ? (names.columns.find(([from]) => from === name)?.[1] ?? name) : name);
  const renames = names.columns.filter(([from, to]) => to !== null && to !== from) as [string, string][];
  const table = findTable(schema, names.from);
  const links = new Map(schema.links.map((l) => [l.id, linkIdNamed(l, names)]));
  const farOf = (step: unknown): string | undefined => {
    if (!isPart(step)) return undefined;
    const link = schema.links.find((l) => l.id === step.link);
    return step.toward === "a" || step.toward === "b" ? link?.[step.toward].table : undefined;
  };
  const scopeOf = (source: string | undefined, joins: unknown, outer: Scope): Scope => {
    const all = Array.isArray(joins) ? joins.filter(isPart) : [];
    const from = findTable(schema, source ?? "");
    const reached = from ? resolveTables({ joins: all.filter(isJoin) }, schema, from, []) : [];
    return Object.assign(tableOf, { reached });
    function tableOf(join: unknown): string | undefined {
      if (join === "" || join === undefined) return source;
      if (join === PARENT) return outer("");
      const found = all.find((j) => j.id === join);
      return found && (typeof found.table === "string" ? found.table : farOf(found));
    }
  };
  const inFormula = (text: string, scope: Scope): string =>
    renames.reduce((formula, [from, to]) => {
      const label = table?.columns.find((c) => c.name === from)?.label ?? from;
      // A label that a person gave stays when the name is another.
      const next = label === humanise(from) ? humanise(to) : label;
      const own = scope("") === names.from ? renameInFormula(formula, (name) => sameName(name, label) || sameName(name, from), next) : formula;
      const isReached = (parts: string[]): boolean => {
        const found = parts.length > 1 ? fieldByNames(scope.reached ?? [], parts) : null;
        return found !== null && found.at.table.name === names.from && found.column.name === from;
      };
      return renameAtEnd(own, isReached, next);
    }, text);

  function walk(value: unknown, scope: Scope): unknown {
    if (Array.isArray(value)) return value.map((v) => walk(v, scope));
    if (!isPart(value)) return value;
    const inner = isQuery(value)
      ? scopeOf(value.source as string, value.joins, scope)
      : value.kind === "related"
        ? scopeOf(farOf(value.step), value.joins, scope)
        : typeof value.table === "string" && isPart(value.definition)
          ? scopeOf(value.table, [], scope)
          : isStep(value) && isPart(value.source)
            ? scopeOf(value.source.kind === "table" ? String(value.source.table) : undefined, [], scope)
            : scope;
    const walked: Part = Object.fromEntries(Object.entries(value).map(([key, v]) => [key, walk(v, inner)]));
    return named(walked, value, inner);
  }

  /** A part's own names, its inner parts done. @param before it as it was */
  function named(part: Part, before: Part, scope: Scope): Part {
    const next: Part = Object.fromEntries(
      Object.entries(part).map(([key, v]) => [
        key,
        NAMES_TABLE.has(key) && v === names.from ? names.to : key === "link" && typeof v === "string" ? (links.get(v) ?? v) : v,
      ]),
    );
    if (Array.isArray(part.parts)) next.parts = part.parts.map((p) => (p === names.from ? names.to : p));
    const of = (table: string | undefined): boolean => table === names.from;
    if (before.kind === "field" && of(scope(before.join))) next.column = column(before.column);
    if (before.kind === "related" && of(farOf(before.step))) next.column = column(before.column);
    if (before.kind === "lookup" && Array.isArray(before.steps) && of(farOf(before.steps.at(-1)))) next.column = column(before.column);
    // Values that are the rows of a table, or chosen from its columns.
    if (before.kind !== "field" && of(before.table as string | undefined))
      for (const key of ["column", "shown"]) if (typeof before[key] === "string") next[key] = column(before[key]);
    if (isStep(before)) {
      if (before.target === names.from && Array.isArray(part.same)) next.same = part.same.map(column);
      next.pairs = (part.pairs as unknown[]).map((pair) => (isPart(pair) ? pairNamed(pair, before.target === names.from, of(scope(""))) : pair));
    }
    if (before.kind === "formula" && typeof before.text === "string") next.text = inFormula(before.text, scope);
    return next;
  }

  /** A value of a posting: the column it goes into, and the one it is taken from; of a table that it leads to, the one it is looked up by. */
  function pairNamed(pair: Part, into: boolean, outOf: boolean): Part {
    const { value, found } = pair;
    const link = isPart(found) ? schema.links.find((l) => linkIdNamed(l, names) === found.link) : undefined;
    const by = link && [link.a, link.b].some((end) => end.table === names.from && end.leadsTo === "one");
    return {
      ...pair,
      ...(into ? { column: column(pair.column) } : {}),
      ...(outOf && isPart(value) && value.kind === "field" ? { value: { ...value, name: column(value.name) } } : {}),
      ...(by && isPart(found) ? { found: { ...found, by: column(found.by) } } : {}),
    };
  }

  return walk(spec, nowhere);
}
