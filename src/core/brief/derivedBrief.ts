import { PARENT } from "../derive/parent";
import type { Definition } from "../derive/spec";
import { aggregateOf, figureWords } from "../query/aggregates";
import { operandWords, type ScopeTable } from "../query/operands";
import { resolveTables } from "../query/scope";
import { findTable, type Schema, singular } from "../schema/schema";
import type { Locale } from "../types/format";
import { conditionPhrases, listed, type Phrase } from "./brief";

type Rollup = Extract<Definition, { kind: "rollup" }>;

/** The tables a rollup's conditions reach: the far ones, and the row itself. */
export function rollupScope({ step, query }: Rollup, table: string, schema: Schema): ScopeTable[] {
  const far = findTable(schema, query.source);
  const parent = findTable(schema, table);
  const near = schema.links.find((l) => l.id === step.link)?.[step.toward === "a" ? "b" : "a"];
  return [
    ...(far ? resolveTables(query, schema, far, []) : []),
    ...(parent ? [{ id: PARENT, alias: PARENT, table: parent, path: [`this ${near?.name ?? parent.label}`], join: null }] : []),
  ];
}

/** The brief of a rollup: which figure, over which rows, under which conditions; its phrases are the controls. */
export function rollupBrief(rollup: Rollup, table: string, schema: Schema, locale: Locale): Phrase[] {
  const scope = rollupScope(rollup, table, schema);
  const [column] = rollup.query.columns;
  const control = (name: string, text: string): Phrase => ({ text, target: { kind: "field", name } });
  const far = schema.links.find((l) => l.id === rollup.step.link)?.[rollup.step.toward];
  const figure = column?.figure ?? "count";
  const { order, weighs } = aggregateOf(figure) ?? {};
  const { conditions } = rollup.query;
  const by = column?.by ? operandWords(column.by, scope) : "…";
  const way = column?.direction === "down" ? "latest or largest first" : "earliest or smallest first";
  return [
    { text: `For each ${singular(findTable(schema, table)?.label ?? table)}, ${figure === "formula" ? "" : "the "}` },
    control("figure", figure === "formula" ? operandWords(column?.value ?? null, scope) : figureWords(figure, column?.count)),
    ...(figure === "formula"
      ? []
      : column?.value
        ? [{ text: " of " }, control("value", operandWords(column.value, scope))]
        : figure === "count"
          ? []
          : [{ text: " of " }, control("value", "…")]),
    { text: " over " },
    control("step", far?.name ?? "missing rows"),
    ...(order || weighs
      ? [
          { text: weighs ? ", weighed by " : ", by " },
          control("by", by),
          ...(figure === "list" || figure === "nth" ? [{ text: ", " }, control("direction", way)] : []),
        ]
      : []),
    ...(figure === "list" ? [{ text: ", separated by " }, control("separator", `“${column?.separator ?? ", "}”`)] : []),
    ...(figure === "list" ? [{ text: ", " }, control("count", column?.count ? `${column.count} values at most` : "all values")] : []),
    ...(conditions.length > 0 ? [{ text: ", where " }, ...listed(conditions.map((c) => conditionPhrases(c, { scope, schema, locale })))] : []),
    { text: "." },
  ];
}
