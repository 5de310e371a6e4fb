import type { FilterValues, PlainTile } from "@/core/dashboard/spec";
import { sourceOfTile } from "@/core/dashboard/tiles";
import type { Column, Line } from "@/core/pivot/lines";
import { planPivot } from "@/core/pivot/plan";
import { pickAt, planCellRows } from "@/core/pivot/rows";
import type { Plan } from "@/core/query/plan";
import { resolveQuery } from "@/core/query/resolve";
import type { QuerySpec } from "@/core/query/spec";
import type { Schema } from "@/core/schema/schema";
import type { Today } from "@/core/types/calendar";
import type { TileAnswer } from "@/server/jobs/dashboards/tileAnswer";
import type { Sources } from "@/server/services/dashboards/sources";
import type { Question } from "../queries/questions";

/** The query a tile is made from; null for what asks nothing, or whose source is gone. */
export function queryOfTile(sources: Sources, tile: PlainTile): QuerySpec | null {
  const source = sourceOfTile(tile);
  const id =
    tile.kind === "chart"
      ? sources.charts.find((c) => c.id === source)?.spec.query
      : tile.kind === "pivot"
        ? sources.pivots.find((p) => p.id === source)?.spec.query
        : source;
  return sources.queries.find((q) => q.id === id)?.spec ?? null;
}

/** The moment that a tile's figures are of, where that is an earlier one. */
export function asOfTile(answer: TileAnswer): string | null {
  if (answer.kind === "chart") return answer.answer.asOf ?? null;
  if (answer.kind === "pivot") return answer.pivot.asOf ?? null;
  return answer.kind === "figure" ? answer.asOf : null;
}

/** The rows behind a tile, what they are called, and the moment (ISO 8601) that its figures are of where it is an earlier one. */
export type TileRows = { question: Question; plan: Plan | null; words: string; asOf: string | null };

/** The parameters a tile's answer was worked out with. */
const boundIn = (answer: TileAnswer): Record<string, string> =>
  answer.kind === "pivot" ? answer.spec.parameters : answer.kind === "chart" ? answer.spec.pivot.parameters : {};

/** The rows of a tile's filtered query; those behind one cell, where it is a pivot's. null where the query cannot be run now. */
export function rowsOfTile(
  answer: TileAnswer,
  words: string,
  schema: Schema,
  today: Today,
  at?: { line: Line; column: Column },
  looking: { object: string; values: FilterValues } | null = null,
): TileRows | null {
  const values = boundIn(answer);
  const tile = looking ? { tile: { ...looking, id: answer.tile } } : {};
  const resolved = resolveQuery(answer.query, schema, { today, values });
  if (!resolved.ok) return null;
  const asOf = asOfTile(answer);
  if (answer.kind !== "pivot" || !at) return { question: { spec: answer.query, values, ...tile }, plan: resolved.value, words, asOf };
  const pick = pickAt(answer.pivot, at.line, at.column);
  const planned = planPivot(answer.spec, resolved.value, { today, values });
  return planned.ok
    ? { question: { spec: answer.query, values, cell: { ...pick, pivot: answer.spec }, ...tile }, plan: planCellRows(planned.value, pick), words, asOf }
    : null;
}
