import fc from "fast-check";
import { expect } from "vitest";
import { proofColumn } from "@/core/proof/followed";
import { compileRows } from "@/core/query/compile";
import { changesCase, plainSqlite } from "@/core/query/dialect/plainSqlite";
import { sqlite } from "@/core/query/dialect/sqlite";
import type { Plan } from "@/core/query/plan";
import { readableSql } from "@/core/query/readableSql";
import { resolveQuery } from "@/core/query/resolve";
import type { QuerySpec } from "@/core/query/spec";
import { recountRows } from "@/core/recount/recount";
import { cellOfValue } from "@/core/recount/value";
import type { Schema } from "@/core/schema/schema";
import { usualDay } from "@/core/types/calendar";
import { type Cell, digitsOf, floating, isMisfit, scaleOf } from "@/core/types/valueType";
import { proveQuery } from "@/server/jobs/queries/prove";
import { readRows } from "@/server/source/sqlite/readers";
import { tableReader } from "@/server/source/sqlite/tables";
import { asWritten, type threeEngines } from "./engines";

type Engines = Awaited<ReturnType<typeof threeEngines>>;

/** How many queries are made at random, and from which seed; `npm run check:engines` sets both. */
export const SEED = Number(process.env.RANDOM_SEED ?? 20261128);
export const RUNS = Number(process.env.RANDOM_RUNS ?? 1000);

const written = (rows: Cell[][]): string[] => rows.map((row) => row.map((cell) => (isMisfit(cell) ? cell.misfit : String(cell ?? "∅"))).join(" | "));

export function isTooLarge(work: () => unknown): boolean {
  try {
    work();
    return false;
  } catch (error) {
    if (/integer overflow|larger than 18 digits|too many groups/.test(String(error))) return true;
    throw error;
  }
}

/** What a person copies to run elsewhere, its values written into it, finds the same, decimals with their point. Where it changes the case of letters it leaves accented ones. */
function expectCopied(engines: Engines, plan: Plan, rows: Cell[][]): void {
  const text = readableSql(plan, plainSqlite).written;
  if (changesCase(text)) return;
  const columns = plan.columns.map(({ id, type }) => ({ id, type: scaleOf(type) > 0 ? floating : type, raw: null }));
  const copied = [...readRows(engines.lite, { text, values: [], columns })];
  expect(copied.length).toBe(rows.length);
  copied.forEach((row, i) =>
    row.forEach((cell, j) => {
      const { type } = plan.columns[j] as Plan["columns"][number];
      const own = rows[i]?.[j] ?? null;
      if (scaleOf(type) === 0 || own === null || cell === null) return expect(cell).toEqual(own);
      const [size, unit] = [Number(own) / 10 ** scaleOf(type), 10 ** -digitsOf(type)];
      expect(Math.abs(Number(cell) - size)).toBeLessThanOrEqual(unit + Math.abs(size) * 1e-12);
    }),
  );
}

/** A plan's rows by every way there is are the same, and so are its footings; its proof agrees. */
export async function holdsEverywhere(engines: Engines, plan: Plan): Promise<void> {
  // What outgrows 64 bits is refused in words, by every way of working it out that has no more.
  fc.pre(!isTooLarge(() => engines.sqlite(plan)));
  const rows = [...readRows(engines.lite, compileRows(plan, sqlite))];
  expectCopied(engines, plan, rows);
  const recounted = recountRows(plan, tableReader(engines.lite)).map((row) => row.map(cellOfValue));
  expect(asWritten(written(recounted), written(rows))).toEqual(written(rows));
  const answer = engines.sqlite(plan);
  expect(asWritten(await engines.duckdb(plan), answer)).toEqual(answer);
  expect(asWritten(await engines.postgres(plan), answer)).toEqual(answer);
  const [own = [], ...others] = await engines.footings(plan);
  for (const other of others) expect(asWritten(other, own)).toEqual(own);
  const proof = proveQuery(engines.reading, plan, proofColumn(plan)?.id ?? null);
  expect(proof.agrees, JSON.stringify(proof)).toBe(true);
}

/** A description resolved on the tests' day. */
export function planned(spec: QuerySpec, schema: Schema): Plan {
  const resolved = resolveQuery(spec, schema, { today: usualDay("2026-11-23"), values: {} });
  if (!resolved.ok) throw new Error(JSON.stringify(resolved.problems));
  return resolved.value;
}
