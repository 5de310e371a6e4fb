import { isProblem } from "../expression/check";
import { type Ast, FormulaSyntaxError, parseFormula } from "../expression/parse";
import { operandsOf, type Resolver, type ScopeTable } from "../query/operands";
import { probeValues } from "../query/parameters";
import { resolveQuery } from "../query/resolve";
import { resolveTables } from "../query/scope";
import { type Broken, findColumn, findTable, humanise, type Schema, type Step, type Table } from "../schema/schema";
import type { Today } from "../types/calendar";
import { type Problem, problem, sentence } from "../types/problem";
import { text, type ValueType } from "../types/valueType";
import { expandDefinition, expandDerived, figureWords } from "./expand";
import { PARENT } from "./parent";
import type { Definition, DerivedField } from "./spec";

/**
 * The schema with derived fields as columns of their tables, each with the type it comes to. One that cannot be worked
 * out stays as a column marked with the reason; so does one that leads back to itself.
 * @param today only the types matter here, but a formula may name the day
 */
export function withDerivedFields(schema: Schema, fields: DerivedField[], today: Today): Schema {
  let current = schema;
  let waiting = fields.filter((f) => findTable(schema, f.table));
  const gone = fields.filter((f) => !findTable(schema, f.table));
  for (let tried = -1; tried !== waiting.length; ) {
    tried = waiting.length;
    for (const field of waiting) {
      const found = derivedType(field, current, today);
      if (!isProblem(found)) current = addField(current, field, found);
    }
    waiting = waiting.filter((f) => !current.tables.find((t) => t.name === f.table)?.columns.some((c) => c.name === f.id));
  }
  // All that wait are added first, so that each one's reason can name the others.
  const reasons = waiting.map((field) => ({ field, why: circleOf(field, waiting, schema) ?? sentence(derivedType(field, current, today) as Problem) }));
  for (const { field, why } of reasons) current = addField(current, field, text, why);
  const broken: Broken[] = [
    ...reasons.map(({ field, why }): Broken => ({ kind: "derived", id: field.id, label: field.label, table: field.table, why })),
    ...gone.map((f): Broken => ({ kind: "derived", id: f.id, label: f.label, table: f.table, why: sentence(problem("tableGone", [], { table: f.table })) })),
  ];
  return { ...current, broken: [...(schema.broken ?? []), ...broken] };
}

/** The schema with one more derived field, or with one changed, as if it were saved. */
export function withDraft(schema: Schema, draft: DerivedField, today: Today): Schema {
  const without = schema.tables.map((t) => ({ ...t, columns: t.columns.filter((c) => !(t.name === draft.table && c.name === draft.id)) }));
  return withDerivedFields({ ...schema, tables: without }, [draft], today);
}

/** The type a definition comes to on its table, or the first thing that stands in its way. */
export function derivedType(field: Pick<DerivedField, "table" | "definition">, schema: Schema, today: Today): ValueType | Problem {
  const table = findTable(schema, field.table);
  if (!table) return problem("tableGone", ["table"], { table: field.table });
  const at: ScopeTable = { id: "", alias: table.name, table, path: [], join: null };
  const values = field.definition.kind === "rollup" ? probeValues(field.definition.query.parameters) : {};
  const problems: Problem[] = [];
  const resolver: Resolver = {
    schema,
    context: { today, values },
    scope: [at],
    parameters: new Map(),
    several: new Map(),
    periods: new Map(),
    dropped: new Set(),
    asked: [],
    problems,
    formulas: [],
    derived: new Map(),
    expanding: [],
    expand: expandDerived,
    resolve: resolveQuery,
  };
  const expr = expandDefinition(field.definition, at, resolver, ["definition"]);
  // A derived field that asks for a value without a default can be typed all the same.
  const real = problems.filter((p) => p.code !== "parameterMissing");
  return real[0] ?? expr?.type ?? (problems[0] as Problem);
}

function addField(schema: Schema, field: DerivedField, type: ValueType, broken?: string): Schema {
  const { definition, unit, format } = field;
  const tables = schema.tables.map((table): Table => {
    if (table.name !== field.table) return table;
    const words = definitionWords(definition, schema);
    const column = {
      name: field.id,
      label: field.label,
      type,
      storage: "plain" as const,
      nullable: true,
      unit,
      format,
      misfits: 0,
      derived: { definition, words, broken },
    };
    return { ...table, columns: [...table.columns, column] };
  });
  return { ...schema, tables };
}

/** Where a derived field comes from, in words: "shipper › island"; "total of freight charge over consignments". */
export function definitionWords(definition: Definition, schema: Schema): string {
  switch (definition.kind) {
    case "formula":
      return definition.text.trim();
    case "lookup": {
      const { names, end } = walk(definition.steps, schema);
      return [...names, (end && findColumn(end, definition.column)?.label) ?? definition.column].join(" › ");
    }
    case "rollup": {
      const { names, end } = walk([definition.step], schema);
      const [column] = definition.query.columns;
      const scope = end ? resolveTables(definition.query, schema, end, []) : [];
      const where = definition.query.conditions.length > 0 ? ", with conditions" : "";
      return `${column ? figureWords(column, scope) : "a figure"} over ${names[0] ?? "missing rows"}${where}`;
    }
    default:
      return definition satisfies never;
  }
}

function walk(steps: Step[], schema: Schema): { names: string[]; end: Table | undefined } {
  const ends = steps.map((step) => schema.links.find((l) => l.id === step.link)?.[step.toward]);
  return { names: ends.map((e, i) => e?.name ?? humanise(steps[i]?.link ?? "")), end: findTable(schema, ends.at(-1)?.table ?? "") };
}

/** The names of a circle a field stands in, as a sentence; null where it stands in none. */
function circleOf(start: DerivedField, fields: DerivedField[], schema: Schema): string | null {
  const trail: DerivedField[] = [];
  const find = (field: DerivedField): DerivedField[] | null => {
    const at = trail.indexOf(field);
    if (at >= 0) return [...trail.slice(at), field];
    trail.push(field);
    for (const next of mentioned(field, fields, schema)) {
      const circle = find(next);
      if (circle) return circle;
    }
    trail.pop();
    return null;
  };
  const circle = find(start);
  return circle && sentence(problem("circle", [], { names: circle.map((f) => f.label).join(" → ") }));
}

/** The derived fields that one is worked out from. */
function mentioned({ table, definition }: DerivedField, fields: DerivedField[], schema: Schema): DerivedField[] {
  const named = (of: string, column: string) => fields.filter((f) => f.table === of && (f.id === column || f.label.toLowerCase() === column.toLowerCase()));
  switch (definition.kind) {
    case "formula":
      return namesIn(definition.text).flatMap((path) => named(table, path.at(-1) ?? ""));
    case "lookup":
      return named(walk(definition.steps, schema).end?.name ?? "", definition.column);
    case "rollup": {
      const { query } = definition;
      const end = findTable(schema, query.source);
      const scope = end ? resolveTables(query, schema, end, []) : [];
      const tableAt = (join: string) => (join === PARENT ? table : (scope.find((s) => s.id === join)?.table.name ?? ""));
      return operandsOf(query).flatMap((o) =>
        o.kind === "field"
          ? named(tableAt(o.join), o.column)
          : o.kind === "formula"
            ? namesIn(o.text).flatMap((path) => named(query.source, path.at(-1) ?? ""))
            : [],
      );
    }
    default:
      return definition satisfies never;
  }
}

/** The names of columns in a formula; none where it cannot be read. */
function namesIn(source: string): string[][] {
  try {
    return namesOf(parseFormula(source));
  } catch (error) {
    if (error instanceof FormulaSyntaxError) return [];
    throw error;
  }
}

function namesOf(ast: Ast): string[][] {
  if (ast.node === "name") return [ast.path];
  return Object.values(ast).flatMap((part: unknown): string[][] => {
    if (Array.isArray(part))
      return part.flatMap((p) =>
        typeof p === "object" && p !== null ? ("node" in p ? namesOf(p as Ast) : Object.values(p).flatMap((x) => namesOf(x as Ast))) : [],
      );
    return typeof part === "object" && part !== null && "node" in part ? namesOf(part as Ast) : [];
  });
}
