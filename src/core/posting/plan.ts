import { namesInFormula } from "../expression/parse";
import { emptyQuery } from "../query/empty";
import { namesSomething } from "../query/naming";
import type { Plan } from "../query/plan";
import { resolveQuery } from "../query/resolve";
import type { Operand, QuerySpec } from "../query/spec";
import { type Column, findColumn, findTable, humanise, mayChange, type Schema, singular, storedColumns, type Table } from "../schema/schema";
import type { Today } from "../types/calendar";
import type { DateOrder } from "../types/date";
import { type Checked, type Problem, problem } from "../types/problem";
import { isNumber, type ValueType } from "../types/valueType";
import type { Pair, PostingSpec, PostingStep } from "./spec";
import { stepsOf } from "./steps";

/** One column of the target and the value that goes into it: the value's place in the source's rows, and its type. */
export type PlanPair = {
  column: Column;
  at: number;
  from: ValueType;
  /** The source's name for it, in words. */
  heading: string;
  dates: DateOrder;
  /** Whether an empty value is that of the row before it. */
  down: boolean;
  /** The table in which the value names a row, by which column, and what of that row is written. */
  found: { table: Table; by: Column; give: Column } | null;
  existing: Pair["existing"] | null;
};

/** A link that a change of the target can break. */
export type PlanLink = { name: string; table: string; label: string; near: string[]; far: string[] };

export type TableLinks = {
  /** Links by which a table's rows lead to one row elsewhere: near are the table's columns. */
  outward: PlanLink[];
  /** Links by which rows elsewhere lead to one row of the table: far are the table's columns. */
  inward: PlanLink[];
};

/** The table that rows are moved from, and where its key stands in the source's rows. */
export type PlanOrigin = {
  table: Table;
  key: { column: Column; at: number; from: ValueType }[];
  links: TableLinks;
  /** Columns whose values go nowhere, and are gone with their rows. */
  lost: Column[];
};

/** Of a source whose rows are those of a table: that table, and what the source calls its columns. */
export type Origin = { table: string; columns: { column: string; name: string }[] };

/** Where a step's rows come from: as they were staged or as they lie in the database. */
export type StepSource = { table: Table; origin: Origin | null };

/** One step of a posting resolved against source and target. Plain data. */
export type PostingPlan = {
  action: PostingSpec["action"];
  present: PostingSpec["present"];
  breaking: PostingSpec["breaking"];
  table: Table;
  origin: PlanOrigin | null;
  pairs: PlanPair[];
  same: Column[];
  /** Whether texts are the same that are written in other ways. */
  alike: boolean;
  /** Columns whose totals are shown before and after. */
  totals: Column[];
  links: TableLinks;
};

/** A step with the query over its source that gives the values to be written. */
export type ResolvedStep = { posting: PostingPlan; rows: Plan };

/**
 * Resolves every step of a posting.
 * @param sources where each step's rows come from, in the order of the steps
 * @returns the steps in their order, or every problem with its path into the description
 */
export function resolvePosting(spec: PostingSpec, schema: Schema, sources: StepSource[], today: Today): Checked<ResolvedStep[]> {
  const problems: Problem[] = [];
  const steps = stepsOf(spec).flatMap((step, i) => {
    const watched = (spec.controls ?? []).flatMap((c) => (c.step === i && c.column !== undefined ? [c.column] : []));
    const resolved = resolveStep(step, schema, sources[i] as StepSource, watched, today);
    if (resolved.ok) return [resolved.value];
    problems.push(...resolved.problems.map((p) => (i === 0 ? p : { ...p, path: ["steps", i - 1, ...p.path] })));
    return [];
  });
  return problems.length > 0 ? { ok: false, problems } : { ok: true, value: steps };
}

/** Resolves one step. @param watched columns whose totals are asked for besides */
function resolveStep(spec: PostingStep, schema: Schema, { table: source, origin }: StepSource, watched: string[], today: Today): Checked<ResolvedStep> {
  const table = findTable(schema, spec.target);
  if (!table) return { ok: false, problems: [problem("tableGone", ["target"], { table: spec.target })] };
  const problems: Problem[] = [...writeProblems(table, ["target"])];
  const from = spec.action === "move" ? originOf(spec, origin, schema) : null;
  if (from && "code" in from) problems.push(from);
  const keys = from && !("code" in from) ? from.key : [];
  const columns = [...spec.pairs.map(operandOf), ...keys.map(({ name }): Operand => ({ kind: "field", join: "", column: name }))];
  const query: QuerySpec = { ...emptyQuery(source.name), columns: columns.map((value, i) => ({ id: `p${i}`, value })) };
  const resolved = resolveQuery(query, sourceSchema(schema, source), { today, values: {} });
  if (!resolved.ok) problems.push(...resolved.problems.filter((p) => p.code !== "noColumns").map((p) => ({ ...p, path: ["pairs", p.path[1] ?? 0, "value"] })));
  const pairs = spec.pairs.flatMap((pair, i): PlanPair[] => {
    const column = findColumn(table, pair.column);
    const path = ["pairs", i];
    const twice = spec.pairs.findIndex((p) => p.column === pair.column) !== i;
    if (!column || column.derived) problems.push(problem("columnGone", path, { table: table.label, column: pair.column }));
    else if (column.generated) problems.push(problem("postingGenerated", path, { column: column.label }));
    else if (twice) problems.push(problem("duplicateName", path, { name: column.label }));
    else {
      const planned = resolved.ok ? resolved.value.columns[i] : undefined;
      const found = pair.found ? foundIn(pair.found, column, table, schema) : null;
      if (found && "code" in found) problems.push({ ...found, path });
      else if (planned)
        return [
          {
            column,
            at: i,
            from: planned.type,
            heading: headingOf(pair),
            dates: pair.dates ?? "ymd",
            down: pair.down ?? false,
            found,
            existing: pair.existing ?? null,
          },
        ];
    }
    return [];
  });
  problems.push(...matchProblems(spec, table));
  if (problems.length > 0 || !resolved.ok) return { ok: false, problems };
  const posting: PostingPlan = {
    action: spec.action,
    present: spec.present,
    breaking: spec.breaking,
    table: { ...table, columns: storedColumns(table) },
    origin:
      from && !("code" in from)
        ? {
            table: { ...from.table, columns: storedColumns(from.table) },
            key: from.key.map(({ column }, i) => {
              const at = spec.pairs.length + i;
              return { column, at, from: resolved.value.columns[at]?.type ?? column.type };
            }),
            links: linksOf(from.table, schema),
            lost: lostColumns(from.table, origin, spec.pairs),
          }
        : null,
    pairs,
    alike: spec.alike ?? false,
    same: spec.same.flatMap((name) => findColumn(table, name) ?? []),
    totals: totalsOf(table, pairs, spec.action, schema, watched),
    links: linksOf(table, schema),
  };
  return { ok: true, value: { posting, rows: inSourceOrder(resolved.value, source) } };
}

/** Why a table cannot be written at all. */
function writeProblems(table: Table, path: Problem["path"]): Problem[] {
  if (table.view) return [problem("postingView", path, { table: table.label })];
  if (table.denied) return [problem("postingDenied", path, { table: table.label })];
  return table.trigger ? [problem("postingTrigger", path, { table: table.label, trigger: table.trigger })] : [];
}

/** What is missing for rows to be matched and to be whole. */
function matchProblems(spec: PostingStep, table: Table): Problem[] {
  const problems: Problem[] = [];
  const lands = spec.action === "add" || spec.action === "move";
  for (const name of spec.same)
    if (!spec.pairs.some((p) => p.column === name)) problems.push(problem("postingSame", ["same"], { column: findColumn(table, name)?.label ?? name }));
  if (spec.same.length === 0 && (!lands || spec.present !== "add")) problems.push(problem("postingNoSame", ["same"]));
  if (lands)
    for (const column of storedColumns(table))
      if (!column.nullable && !column.filled && !column.generated && !spec.pairs.some((p) => p.column === column.name))
        problems.push(problem("postingRequired", ["pairs"], { column: column.label }));
  if (spec.action === "change" && spec.pairs.every((p) => spec.same.includes(p.column))) problems.push(problem("postingNothing", ["pairs"]));
  return problems;
}

/** The table that rows are moved from, with its key's columns and what the source calls them. */
function originOf(spec: PostingStep, origin: Origin | null, schema: Schema): { table: Table; key: { column: Column; name: string }[] } | Problem {
  const table = origin && findTable(schema, origin.table);
  if (!table) return problem("postingMoveSource", ["source"]);
  if (table.name === spec.target) return problem("postingMoveSelf", ["target"], { table: table.label });
  const [refused] = writeProblems(table, ["source"]);
  if (refused) return refused;
  const key = table.key.flatMap((column) => {
    const [found, shown] = [findColumn(table, column), origin.columns.find((c) => c.column === column)];
    return found && shown ? [{ column: found, name: shown.name }] : [];
  });
  return key.length === 0 || key.length < table.key.length ? problem("postingMoveKey", ["source"], { table: table.label }) : { table, key };
}

/** Columns that no pair takes a value from: a formula takes those that it names. */
function lostColumns(table: Table, origin: Origin | null, pairs: Pair[]): Column[] {
  const taken = (name: string): boolean =>
    pairs.some(({ value }) => (value.kind === "field" ? value.name === name : namesInFormula(value.text).some((n) => n.toLowerCase() === name.toLowerCase())));
  const named = new Map(origin?.columns.map(({ column, name }) => [column, name]));
  return storedColumns(table).filter((c) => !c.generated && !taken(named.get(c.name) ?? c.name) && !taken(c.label));
}

/** The rows of a table as a source of their own. */
export const originOfTable = (table: Table): Origin | null =>
  !mayChange(table) ? null : { table: table.name, columns: storedColumns(table).map(({ name }) => ({ column: name, name })) };

/** The rows of a source keep the order they lie in: that is how a person finds the row a refusal speaks of. */
function inSourceOrder(plan: Plan, source: Table): Plan {
  if (source.view || (source.key.length > 0 && !storedColumns(source).some((c) => source.key.includes(c.name) && c.filled === "number"))) return plan;
  if (source.onServer && source.key.length > 0) return plan;
  // Where rows lie in the file; on a server, in its table.
  const column = source.onServer ? "ctid" : "rowid";
  return { ...plan, tieBreak: [{ node: "field", alias: plan.source.alias, column, type: { kind: "whole" }, storage: "plain", guarded: false }] };
}

/** A staged source stands alone; a table of the database has its derived fields and links. */
const sourceSchema = (schema: Schema, source: Table): Schema => (findTable(schema, source.name) === source ? schema : { tables: [source], links: [] });

const operandOf = (pair: Pair): Operand =>
  pair.value.kind === "formula" ? { kind: "formula", text: pair.value.text } : { kind: "field", join: "", column: pair.value.name };

export const headingOf = (pair: Pair): string => (pair.value.kind === "formula" ? pair.value.text : pair.value.name);

function foundIn({ link: id, by }: NonNullable<Pair["found"]>, column: Column, table: Table, schema: Schema): PlanPair["found"] | Problem {
  const link = schema.links.find((l) => l.id === id);
  const ends = link && (link.a.table === table.name && link.a.columns[0] === column.name ? [link.a, link.b] : [link.b, link.a]);
  const [near, far] = ends ?? [];
  const other = far && findTable(schema, far.table);
  if (!near || !far || !other || near.columns.length !== 1 || near.columns[0] !== column.name) return problem("linkGone", [], { link: id });
  const [named, give] = [findColumn(other, by), findColumn(other, far.columns[0] ?? "")];
  if (!named || named.derived || !give) return problem("columnGone", [], { table: other.label, column: by });
  return { table: { ...other, columns: [] }, by: named, give };
}

/** What is watched: amounts, as a sheet adds them up, not numbers that are names. */
const totalsOf = (table: Table, pairs: PlanPair[], action: PostingSpec["action"], schema: Schema, watched: string[]): Column[] => {
  const columns = action === "remove" ? storedColumns(table) : pairs.filter((p) => !p.found).map((p) => p.column);
  const asked = storedColumns(table).filter((c) => watched.includes(c.name) && isNumber(c.type));
  const shown = columns.filter((c) => isNumber(c.type) && !namesSomething(schema, { table, column: c })).slice(0, 6);
  return [...shown, ...asked.filter((c) => !shown.includes(c))];
};

/** The links of a table that keys made: those a change must not break. */
export function linksOf(table: Table, schema: Schema): TableLinks {
  const ends = schema.links
    .filter((l) => l.madeBy !== "person")
    .flatMap((l) => [
      { near: l.a, far: l.b },
      { near: l.b, far: l.a },
    ])
    .filter((e) => e.far.leadsTo === "one" && e.near.leadsTo === "many");
  const label = (name: string) => findTable(schema, name)?.label ?? name;
  return {
    outward: ends
      .filter((e) => e.near.table === table.name)
      .map((e) => ({ name: e.far.name, table: e.far.table, label: label(e.far.table), near: e.near.columns, far: e.far.columns })),
    inward: ends
      .filter((e) => e.far.table === table.name)
      .map((e) => ({ name: e.near.name, table: e.near.table, label: label(e.near.table), near: e.near.columns, far: e.far.columns })),
  };
}

/**
 * Pairs columns of a source with those of a target by their names, however they are written; then those that share their words with one
 * column alone. A text beside a number that leads to another table is looked for there: a shipper by its name.
 */
export function pairsByName(source: Table, target: Table, schema: Schema): Pair[] {
  const columns = storedColumns(target).filter((c) => c.filled !== "number" && !c.generated);
  const twins = new Map(
    columns.flatMap((c): [Column, Column][] => {
      const twin = twinOf(c, source);
      return twin ? [[c, twin]] : [];
    }),
  );
  const open = columns.filter((c) => !twins.has(c));
  const unused = source.columns.filter((c) => ![...twins.values()].includes(c));
  for (const column of open) {
    const [near, ...others] = unused.filter((c) => sharesWords(c, column));
    if (near && others.length === 0 && open.filter((c) => sharesWords(near, c)).length === 1) twins.set(column, near);
  }
  return columns.flatMap((column): Pair[] => {
    const twin = twins.get(column);
    if (!twin) return [];
    const found = twin.type.kind === "text" && column.type.kind !== "text" ? namedBy(column, target, schema) : undefined;
    return [{ column: column.name, value: { kind: "field", name: twin.name }, ...(found ? { found } : {}) }];
  });
}

const plain = (name: string): string => name.toLowerCase().replace(/[^\p{L}\p{N}]/gu, "");

/** The column of a source that is called as another, or whose name begins so. */
function twinOf(column: Column, source: Table): Column | undefined {
  const begins = (a: string, b: string) => Math.min(a.length, b.length) > 3 && (a.startsWith(b) || b.startsWith(a));
  return (
    source.columns.find((c) => plain(c.name) === plain(column.name) || plain(c.label) === plain(column.label)) ??
    source.columns.find((c) => begins(plain(c.name), plain(column.name)))
  );
}

/** Words that say nothing of what a column holds. */
const SMALL_WORDS = ["a", "an", "and", "for", "in", "of", "the"];
const wordsOf = (name: string): string[] =>
  humanise(name)
    .toLowerCase()
    .split(/[^\p{L}\p{N}]+/u)
    .filter((word) => word !== "" && !SMALL_WORDS.includes(word))
    .map(singular);

/** Whether all words of one name stand in the other: the name of a shop, and shop name. */
function sharesWords(a: Column, b: Column): boolean {
  const [few = [], many = []] = [wordsOf(a.name), wordsOf(b.name)].sort((x, y) => x.length - y.length);
  return few.length > 0 && few.every((word) => many.includes(word));
}

/** By which column the row that a column leads to is commonly named: its code, else its name, else its first text. */
function namedBy(column: Column, target: Table, schema: Schema): Pair["found"] {
  for (const link of schema.links) {
    const [near, far] = link.a.table === target.name ? [link.a, link.b] : [link.b, link.a];
    if (near.table !== target.name || near.columns.length !== 1 || near.columns[0] !== column.name || far.leadsTo !== "one") continue;
    const texts = findTable(schema, far.table)?.columns.filter((c) => c.type.kind === "text" && !c.derived) ?? [];
    const by = texts.find((c) => /(^|_)code$/i.test(c.name)) ?? texts.find((c) => /(^|_)name$/i.test(c.name)) ?? texts[0];
    if (by) return { link: link.id, by: by.name };
  }
  return undefined;
}
