import { givenBy } from "../query/aggregates";
import type { HoldsName, JoinWay, StackName } from "../query/choices";
import { schemaRead } from "../query/comparedSchema";
import { type Comparison, sidesOf } from "../query/comparison";
import { comparisonsIn, isGroup, joinConditions } from "../query/conditions";
import { isParted } from "../query/fieldParts";
import { brings, isLinked } from "../query/joinWays";
import { columnWords, operandWords, type ScopeTable } from "../query/operands";
import { OPERATORS, takesPeriod } from "../query/operators";
import { rowsWords } from "../query/rowsToCompare";
import { resolveTables } from "../query/scope";
import type { Condition, ConditionGroup, ConditionTree, Join, Operand, QueryColumn, QuerySpec, Value } from "../query/spec";
import { showsPercent, WINDOWS } from "../query/windows";
import { namedTable } from "../schema/rowNames";
import { findColumn, findTable, type LinkComparison, plural, type Schema, type Table } from "../schema/schema";
import { isIsoDate, readTimestamp } from "../types/date";
import { counted, type Locale, writeDate } from "../types/format";
import type { Problem } from "../types/problem";
import { RELATIVE_DATES } from "../types/relative";
import { stretchWords } from "../types/stretch";
import { writeTyped } from "../types/typed";
import { decimal, text, type ValueType, whole } from "../types/valueType";

/** The parts of a comparison that can be changed. */
export type ComparePart = "here" | "there" | "key" | "fields" | "tolerance" | "carried";

/** What a phrase edits. `part` is one of the kinds below and tells which popover opens. */
export type PhraseTarget =
  | { kind: "source" }
  | { kind: "compare"; part: ComparePart }
  | { kind: "join"; id: string }
  | { kind: "way"; id: string }
  | { kind: "conditionField"; id: string }
  | { kind: "holds"; id: string }
  | { kind: "operator"; id: string }
  | { kind: "value"; id: string; index: number }
  | { kind: "group"; id: string }
  | { kind: "columns" }
  | { kind: "order" }
  | { kind: "limit" }
  | { kind: "firstOf" }
  | { kind: "field"; name: string };

/** A run of words: plain, or a control that edits the description. A value that is not given yet waits. */
export type Phrase = { text: string; target?: PhraseTarget; tone?: "parameter" | "waiting" };

/** What stands in a sentence in place of a value that is not given yet. */
export const OPEN_VALUE = "…";

const say = (words: string): Phrase => ({ text: words });

/** "a, b and c" out of phrases. */
export function listed(items: Phrase[][]): Phrase[] {
  return items.flatMap((item, i) => {
    if (i === 0) return item;
    return [say(i === items.length - 1 ? " and " : ", "), ...item];
  });
}

/** The brief as plain text, for report titles, exports and screen readers. */
export const briefText = (phrases: Phrase[]): string => phrases.map((p) => p.text).join("");

/**
 * The brief of a query: one plain sentence whose phrases are the controls that edit it.
 * It reads the description alone, so a broken one can still be read and mended.
 * @param open parameters left empty, whose conditions fall away
 */
export function queryBrief(
  spec: QuerySpec,
  schema: Schema,
  locale: Locale,
  { beside, open = [] }: { beside?: Beside | undefined; open?: string[] } = {},
): Phrase[] {
  const phrases = [...rowsBrief(spec, schema, locale, beside), ...shownBrief(spec, schema, locale)];
  return phrases.map((p) => (p.tone === "parameter" && open.includes(p.text) ? { ...p, text: `${p.text} (any)` } : p));
}

/** A table that conditions may name though the query does not bring it: the row that a panel or a rollup belongs to. */
export type Beside = { join: string; path: string[]; table: Table };

/** How the rows of several sources are put together, as a choice. */
export const STACK_CHOICES: Record<StackName, string> = {
  all: "All rows of each",
  different: "Each different row once",
  both: "Only rows found in all of them",
  first: "Only rows of the first that are in no other",
};

/** "consignment", "consignment and agent manifest (all rows)", "Freight lodged without Freight billed" */
function sourceWords({ stack }: QuerySpec, label: string, schema: Schema): string {
  if (!stack) return label;
  const others = stack.parts.map((name) => findTable(schema, name)?.label ?? name);
  if (stack.how === "first") return `${label} without ${others.join(" and ")}`;
  const all = [label, ...others];
  const words = `${all.slice(0, -1).join(", ")} and ${all.at(-1)}`;
  return { all: `${words} (all rows)`, different: `${words} (different rows)`, both: `rows in both ${words}` }[stack.how];
}

/** The part of a brief that says which rows there are: what is printed under a report's title. */
export function rowsBrief(spec: QuerySpec, given: Schema, locale: Locale, beside?: Beside): Phrase[] {
  const schema = schemaRead(given, spec);
  const table = findTable(schema, spec.source);
  const label = table?.label ?? spec.source;
  const own = beside ? [{ id: beside.join, alias: beside.join, table: beside.table, path: beside.path, join: null }] : [];
  const scope = [...(table ? resolveTables(spec, schema, table, []) : []), ...own];
  const phrases: Phrase[] = spec.compare
    ? comparePhrases(spec.compare, schema, locale)
    : [say("From "), { text: sourceWords(spec, label, schema), target: { kind: "source" } }];
  const said = spec.joins.filter((j) => brings(j.way) && !isPassedThrough(j.id, spec));
  if (said.length > 0) phrases.push(say(", with "), ...listed(said.map((j) => joinPhrases(j.id, spec, { scope, schema, locale }))));
  const having = spec.joins.filter((j) => !brings(j.way));
  if (having.length > 0) phrases.push(say(", only those that have "), ...listed(having.map((j) => havingPhrases(j, { scope, schema, locale }))));
  if (spec.conditions.length > 0) phrases.push(say(", where "), ...listed(spec.conditions.map((c) => conditionPhrases(c, { scope, schema, locale }))));
  return [...phrases, say(". ")];
}

/** "Compare Freight lodged with agent manifest by waybill no: freight and weight, with differences up to 0.01 taken as the same" */
function comparePhrases(compare: Comparison, schema: Schema, locale: Locale): Phrase[] {
  const { here, there } = sidesOf(compare, schema);
  const phrase = (part: ComparePart, text: string): Phrase => ({ text, target: { kind: "compare", part } });
  const pairs = (list: Comparison["key"]) =>
    list.map((pair) => {
      const [h, t] = [here && findColumn(here, pair.here), there && findColumn(there, pair.there)];
      const words = h?.label ?? (pair.here || (t?.label ?? pair.there));
      return !t || t.label === words ? words : `${words} (there ${t.label})`;
    });
  const and = new Intl.ListFormat(locale.locale, { type: "conjunction" });
  return [
    say("Compare "),
    phrase("here", here?.label ?? compare.here),
    say(" with "),
    compare.there === "" ? { ...phrase("there", OPEN_VALUE), tone: "waiting" } : phrase("there", there?.label ?? compare.there),
    say(" by "),
    phrase("key", and.format(pairs(compare.key)) || "no field yet"),
    say(": "),
    phrase("fields", and.format(pairs(compare.fields)) || "rows alone"),
    ...(compare.fields.length > 0 ? [say(", with differences up to "), phrase("tolerance", compare.tolerance || OPEN_VALUE), say(" taken as the same")] : []),
    ...(compare.carried?.length ? [say(", beside "), phrase("carried", and.format(pairs(compare.carried)))] : []),
  ];
}

function shownBrief(spec: QuerySpec, given: Schema, locale: Locale): Phrase[] {
  const schema = schemaRead(given, spec);
  const table = findTable(schema, spec.source);
  const scope = table ? resolveTables(spec, schema, table, []) : [];
  const phrases = columnPhrases(spec, scope);
  const { grouped, groupConditions = [], lineConditions = [] } = spec;
  const own = (c: ConditionTree) => conditionPhrases(c, { scope, schema, locale, own: spec.columns });
  if (grouped && groupConditions.length > 0) phrases.push(say(". Only groups where "), ...listed(groupConditions.map(own)));
  if (lineConditions.length > 0) phrases.push(say(`. Then only ${grouped ? "groups" : "rows"} where `), ...listed(lineConditions.map(own)));
  if (spec.order.length > 0) {
    const order = spec.order.map((o) => orderWords(spec, o, scope, schema)).join(", then ");
    phrases.push(say(grouped || lineConditions.length > 0 ? ". Sorted by " : ", sorted by "), { text: order, target: { kind: "order" } });
  }
  phrases.push(say(". "));
  if (spec.firstOf) {
    const per = spec.firstOf.per.map((id) => spec.columns.find((c) => c.id === id)).map((c) => (c ? columnWords(c, scope, spec.columns) : "a missing column"));
    phrases.push(say("First "), { text: `${counted(spec.firstOf.rows, "row", locale)} per ${per.join(" and ")}`, target: { kind: "firstOf" } }, say(". "));
  }
  if (spec.limit !== null) phrases.push(say("First "), { text: counted(spec.limit, "row", locale), target: { kind: "limit" } }, say(" only. "));
  return phrases;
}

/** What rows a figure counts, as a sentence of its own: "Only rows where status is not void." */
export function figureConditionsBrief(where: ConditionTree[], spec: QuerySpec, schema: Schema, locale: Locale): Phrase[] {
  const table = findTable(schema, spec.source);
  const scope = table ? resolveTables(spec, schema, table, []) : [];
  return [say("Only rows where "), ...listed(where.map((c) => conditionPhrases(c, { scope, schema, locale }))), say(".")];
}

/** A table brought only on the way to another, which says it in its path: it leaves no row out and nothing reads it. */
function isPassedThrough(id: string, spec: QuerySpec): boolean {
  const reads = (operand: Operand | null) => operand?.kind === "formula" || (operand?.kind === "field" && operand.join === id);
  const leadsOn = spec.joins.some((j) => j.from === id);
  const decides = spec.joins.some((j) => j.id === id && j.way !== "keep");
  return leadsOn && !decides && !spec.columns.some((c) => reads(c.value)) && !comparisonsIn(spec.conditions).some((c) => reads(c.left));
}

function joinPhrases(id: string, spec: QuerySpec, saying: Saying): Phrase[] {
  const { scope } = saying;
  const join = spec.joins.find((j) => j.id === id);
  const at = scope.find((s) => s.id === id);
  const name: Phrase = { text: at ? pathWords(at.path) : "a missing table", target: { kind: "join", id } };
  const from = scope.find((s) => s.id === join?.from);
  const on = join && !isLinked(join) && join.way !== "every" ? join.on.map((c) => conditionPhrases(c, saying)) : null;
  const compared: Phrase[] = on ? [say("; "), ...(on.length > 0 ? listed(on) : [noComparison(id)])] : [];
  const near = plural(from?.path.at(-1) ?? from?.table.label ?? "row");
  return [
    name,
    say(" ("),
    { text: WAY_WORDS[join?.way ?? "keep"](at ? plural(at.path.at(-1) ?? at.table.label) : "rows", near), target: { kind: "way", id } },
    ...compared,
    say(")"),
  ];
}

const noComparison = (id: string): Phrase => ({ text: "no comparison yet", target: { kind: "join", id } });

/** How a sentence says, behind a joined table, what becomes of rows without a match. */
const WAY_WORDS: Record<JoinWay, (far: string, near: string) => string> = {
  keep: () => "if any",
  only: () => "only rows with one",
  other: (far) => `every one of the ${far}, with or without a match`,
  both: (far, near) => `all ${near} and all ${far}, matched or not`,
  has: () => "",
  hasNone: () => "",
  every: (far, near) => `every pair of ${near} and ${far}`,
};

/** "no surcharges where kind is damage": a table that rows must have rows of, or none of. */
function havingPhrases(join: Join, saying: Saying): Phrase[] {
  const { schema, scope } = saying;
  const { id } = join;
  const far = isLinked(join) ? schema.links.find((l) => l.id === join.link)?.[join.toward] : undefined;
  const table = findTable(schema, isLinked(join) ? (far?.table ?? "") : join.table);
  // What no link leads to is compared with other tables, so its fields are said with its name.
  const own = table ? [{ id, alias: id, table, path: isLinked(join) ? [] : [table.label], join: null }] : [];
  const where = joinConditions(join).map((c) => conditionPhrases(c, { ...saying, scope: [...own, ...scope] }));
  const one = far?.leadsTo === "one";
  return [
    { text: join.way === "has" ? (one ? "a" : "some") : "no", target: { kind: "way", id } },
    say(" "),
    { text: far?.name ?? (isLinked(join) || !table ? "missing rows" : plural(table.label)), target: { kind: "join", id } },
    ...(where.length > 0 ? [say(" where "), ...listed(where)] : isLinked(join) ? [] : [say(" ("), noComparison(id), say(")")]),
  ];
}

/** A table by the links that lead to it: "shipper", "the sailing’s vessel". */
const pathWords = (path: string[]): string => (path.length > 1 ? `the ${path.join("’s ")}` : (path[0] ?? ""));

/** The words a value is said in, by the type it is compared with. */
function valueWords(value: Value, { scope, schema, locale, own }: Saying, percent = false): string {
  if (value.kind === "parameter") return value.name;
  if (value.kind === "relative") return RELATIVE_DATES[value.date].words;
  if (value.kind === "field") return operandWords(value, scope);
  if (value.kind === "person") return "the signed-in person";
  const column = value.kind === "column" ? own?.find((c) => c.id === value.id) : undefined;
  if (value.kind === "column") return column ? columnWords(column, scope, own) : "a missing column";
  if (value.kind === "rows") return rowsWords(value, schema);
  if (value.text === "") return OPEN_VALUE;
  if (percent) return writeTyped(whole, value.text, locale, true);
  if (isIsoDate(value.text)) return writeDate(value.text, locale);
  const [day = "", time = ""] = value.text.split(" ");
  return isIsoDate(day) && readTimestamp(value.text) !== null ? `${writeDate(day, locale)} ${time.slice(0, 5)}` : value.text;
}

/** The type of an operand as far as the description tells; text where it cannot be known. */
export function operandType(operand: Operand, scope: ScopeTable[]): ValueType {
  if (operand.kind !== "field") return decimal(2);
  return scope.find((s) => s.id === operand.join)?.table.columns.find((c) => c.name === operand.column)?.type ?? text;
}

/** The type of a query's column in a group or a line, as far as the description tells. @param own the query's columns */
function columnType(column: QueryColumn, scope: ScopeTable[], own: QueryColumn[]): ValueType {
  const { value, window } = column;
  const of = value?.kind === "column" ? own.find((c) => c.id === value.id) : undefined;
  const type = of ? columnType(of, scope, own) : value ? operandType(value, scope) : whole;
  if (window) return WINDOWS[window.kind].gives(type);
  return column.figure ? givenBy(column.figure, type) : type;
}

/** How a sentence says how many conditions of a group must hold. */
export const HOLDS_WORDS: Record<HoldsName, string> = { all: "all of", any: "any of", none: "none of" };

/** What a sentence says its words by: the tables its fields are of, all there are, and a query's own columns for conditions on groups. */
export type Saying = { scope: ScopeTable[]; schema: Schema; locale: Locale; own?: QueryColumn[] };

/** One condition: its field, its comparison and its values, each a control; of a group, each of its conditions. */
export function conditionPhrases(condition: ConditionTree, saying: Saying): Phrase[] {
  return isGroup(condition) ? groupPhrases(condition, saying) : comparisonPhrases(condition, saying);
}

/** "any of (status is void, weight is at least 5)" */
function groupPhrases({ id, holds, of }: ConditionGroup, saying: Saying): Phrase[] {
  const parts = of.flatMap((c, i) => [...(i > 0 ? [say(", ")] : []), ...conditionPhrases(c, saying)]);
  return [{ text: HOLDS_WORDS[holds], target: { kind: "holds", id } }, say(" ("), ...parts, say(")")];
}

function comparisonPhrases(condition: Condition, saying: Saying): Phrase[] {
  const { scope, own = [] } = saying;
  const { id, operator, values, left } = condition;
  const column = left.kind === "column" ? own.find((c) => c.id === left.id) : undefined;
  const type = column ? columnType(column, scope, own) : operandType(left, scope);
  const percent = column !== undefined && showsPercent(column);
  const words = left.kind === "column" ? (column ? columnWords(column, scope, own) : "a missing column") : operandWords(left, scope);
  const value = (index: number): Phrase => {
    const at = values[index] ?? { kind: "value", text: "" };
    const period = takesPeriod(operator) && at.kind === "value" && at.text !== "";
    const words = period ? stretchWords(at.text, saying.locale) : valueWords(at, saying, percent);
    return valuePhrase(words, { kind: "value", id, index }, at.kind === "parameter");
  };
  const says = OPERATORS[operator].words(type);
  const phrases: Phrase[] = [{ text: words, target: { kind: "conditionField", id } }, say(" "), { text: says, target: { kind: "operator", id } }];
  const shape = OPERATORS[operator].values;
  if (shape === 1 || shape === "rows") phrases.push(say(" "), value(0));
  if (shape === 2) phrases.push(say(" "), value(0), say(says.endsWith("from") ? " to " : " and "), value(1));
  if (shape === "many") phrases.push(say(" "), valuePhrase(values.map((v) => valueWords(v, saying, percent)).join(", "), { kind: "value", id, index: 0 }));
  if (OPERATORS[operator].negates) phrases.push(say(" (or is empty)"));
  return phrases;
}

/** A value in a sentence; of one that is not given yet, the place where it goes. */
function valuePhrase(words: string, target: PhraseTarget, parameter = false): Phrase {
  if (parameter) return { text: words, target, tone: "parameter" };
  return words === "" || words === OPEN_VALUE ? { text: OPEN_VALUE, target, tone: "waiting" } : { text: words, target };
}

/** One comparison of a link in words, as seen from one of its tables: "lodged on is on or after rate.valid from". */
export function comparisonWords({ near, operator, far }: LinkComparison, from: Table | undefined, to: Table | undefined): string {
  const [left, right] = [from && findColumn(from, near), to && findColumn(to, far)];
  const words = operator === "is" ? "=" : OPERATORS[operator].words(left?.type ?? text);
  return `${left?.label ?? near} ${words} ${to ? `${to.label}.` : ""}${right?.label ?? far}`;
}

/** What stands behind a group in a sentence: "(including those without rows, with subtotals)". */
function levelWords({ everyValue, subtotal }: QueryColumn, isLast: boolean): Phrase[] {
  const words = [...(everyValue ? ["including those without rows"] : []), ...(subtotal && !isLast ? ["with subtotals"] : [])];
  return words.length === 0 ? [] : [say(` (${words.join(", ")})`)];
}

function columnPhrases(spec: QuerySpec, scope: ScopeTable[]): Phrase[] {
  const shown = spec.columns.filter((c) => !c.hidden);
  if (!spec.grouped) {
    const parts = shown.filter((c) => c.value?.kind === "field" && c.value.part).map((c) => operandWords(c.value, scope));
    const count: Phrase = { text: `${shown.length} ${shown.length === 1 ? "column" : "columns"}`, target: { kind: "columns" } };
    return [say("Show "), count, ...(parts.length ? [say(`, with ${parts.join(" and ")}`)] : [])];
  }
  const keys = spec.columns.filter((c) => !c.figure);
  const figures = spec.columns.filter((c) => c.figure);
  const keyPhrases = listed(
    keys.map((c) => [{ text: columnWords(c, scope), target: { kind: "group" as const, id: c.id } }, ...levelWords(c, c === keys.at(-1))]),
  );
  const figureWords = figures.map((c) => columnWords(c, scope, spec.columns)).join(", ") || "no figure yet";
  return [...(keys.length ? [say("One row per "), ...keyPhrases] : [say("One row in all")]), say(": "), { text: figureWords, target: { kind: "columns" } }];
}

function orderWords(spec: QuerySpec, order: QuerySpec["order"][number], scope: ScopeTable[], schema: Schema): string {
  const column = spec.columns.find((c) => c.id === order.column);
  if (!column) return "a missing column";
  const type = isShownByName(column, scope, schema) ? text : column.value ? operandType(column.value, scope) : text;
  const direction =
    order.direction === "up"
      ? { text: "A to Z", dated: "earliest first", number: "smallest first" }
      : { text: "Z to A", dated: "latest first", number: "largest first" };
  const kind =
    column.figure === "count" || column.figure === "countDifferent" || column.figure === "window" || ["whole", "decimal", "floating"].includes(type.kind)
      ? "number"
      : type.kind === "text" || type.kind === "yesno"
        ? "text"
        : "dated";
  return `${columnWords(column, scope, spec.columns)} (${direction[kind]})`;
}

/** Whether a column shows the names of rows, as far as the description tells: its order is theirs. */
function isShownByName({ value, figure, format }: QueryColumn, scope: ScopeTable[], schema: Schema): boolean {
  if (value?.kind !== "field" || figure || format?.byKey || isParted(value) || value.letters) return false;
  const at = scope.find((s) => s.id === value.join);
  return at !== undefined && namedTable(schema, at.table.name, value.column) !== undefined;
}

/** The key of the phrase of a query's brief that a problem belongs to: its kind and what it is of. */
export function phraseOfProblem({ path }: Problem, spec: QuerySpec): string {
  const [part, index] = path;
  const at = Number(index ?? 0);
  if (part === "joins") {
    const join = spec.joins[at];
    return join && path[2] === "on" && path.length > 3 ? phraseInConditions(path.slice(3), joinConditions(join)) : `join ${join?.id}`;
  }
  if (part === "compare") return `compare ${index}`;
  if (part === "conditions") return phraseInConditions(path.slice(1), spec.conditions);
  if (part === "groupConditions") return phraseInConditions(path.slice(1), spec.groupConditions ?? []);
  if (part === "lineConditions") return phraseInConditions(path.slice(1), spec.lineConditions ?? []);
  return String(part);
}

/** The same within a list of conditions. @param path from the condition's place on */
function phraseInConditions([index, ...rest]: Problem["path"], conditions: ConditionTree[]): string {
  const condition = conditions[Number(index)];
  if (condition && isGroup(condition)) return rest[0] === "of" ? phraseInConditions(rest.slice(1), condition.of) : `holds ${condition.id}`;
  const [part, at = 0] = rest;
  return part === "values" ? `value ${condition?.id} ${at}` : part === "operator" ? `operator ${condition?.id}` : `conditionField ${condition?.id}`;
}
