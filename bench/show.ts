import { execFileSync } from "node:child_process";
import { mkdtempSync, rmSync } from "node:fs";
import { tmpdir } from "node:os";
import { join, resolve } from "node:path";
import Database from "better-sqlite3";
import { usualDay } from "@/core/types/calendar";
import { dashboardSpecSchema, type Tile } from "../src/core/dashboard/spec";
import { plainTiles } from "../src/core/dashboard/tiles";
import { assemblePivot } from "../src/core/pivot/assemble";
import { emptyPivot, newAxis } from "../src/core/pivot/empty";
import { cellAt, extremesOf, linesOf } from "../src/core/pivot/lines";
import { planPivot } from "../src/core/pivot/plan";
import { compileRows } from "../src/core/query/compile";
import { sqlite } from "../src/core/query/dialect/sqlite";
import type { Plan } from "../src/core/query/plan";
import { cellWriter } from "../src/core/types/format";
import { tileOf } from "../src/server/services/dashboards/service";
import { Workspace } from "../src/server/services/workspace/workspace";
import { readRows } from "../src/server/source/sqlite/readers";
import { median, ms, quantile, report, timed } from "./measure";

const field = (column: string) => ({ kind: "field" as const, join: "", column });
const figure = (name: "total" | "count", of: string | null) => ({ id: name, value: of ? field(of) : null, figure: name, showAs: "asIs" as const });

/** A pivot of two fields by one with two figures, beside the grouped SQL an analyst would write for it; then a large one made ready to be drawn. */
export async function measurePivot(ws: Workspace, database: string, list: Plan): Promise<void> {
  const spec = {
    ...emptyPivot("q"),
    down: [newAxis("region", field("region")), newAxis("item", field("item"))],
    across: [newAxis("quarter", { ...field("day"), part: "quarter" as const })],
    figures: [figure("total", "amount"), figure("count", "pieces")],
  };
  const planned = planPivot(spec, list, { today: usualDay("2026-11-23"), values: {} });
  if (!planned.ok) throw new Error(JSON.stringify(planned.problems));
  const hand = new Database(database, { readonly: true });
  hand.pragma("cache_size = -65536");
  const quarter =
    "substr(t.day, 1, 5) || CASE WHEN substr(t.day, 6, 2) < '04' THEN '01' WHEN substr(t.day, 6, 2) < '07' THEN '04' WHEN substr(t.day, 6, 2) < '10' THEN '07' ELSE '10' END || '-01'";
  const byHand = hand
    .prepare(
      `SELECT s.region, t.item, ${quarter} AS q, SUM(t.amount), COUNT(t.pieces), COUNT(*) FROM sale t LEFT JOIN shop s ON s.id = t.shop_id GROUP BY 1, 2, 3`,
    )
    .raw();
  const [ours, theirs]: [number[], number[]] = [[], []];
  const job = { kind: "pivot" as const, database, pivot: { plan: planned.value, locale: ws.locale } };
  for (let i = 0; i < 5; i++) {
    theirs.push(await timed(() => byHand.all()));
    ours.push(await timed(() => ws.engine.run<"pivot">(job, { client: "bench" })));
  }
  report(
    "Pivot of 1,000,000 rows, 2 × 1 fields, 2 figures: with subtotals and proof ÷ the grouped SQL by hand",
    `${(median(ours.slice(1)) / median(theirs.slice(1))).toFixed(2)}× (${ms(median(ours))})`,
    "1.15×",
  );

  const large = { ...spec, down: [newAxis("id", { ...field("id"), band: { width: "200" } })], across: [newAxis("shop", field("shop"))] };
  const wide = planPivot({ ...large, across: [{ ...newAxis("shop", field("shop")), first: 199 }] }, list, { today: usualDay("2026-11-23"), values: {} });
  if (!wide.ok) throw new Error();
  const pivot = assemblePivot(wide.value, (plan) => readRows(hand, compileRows(plan, sqlite)), "en-GB");
  const writers = pivot.figures.map((f) => cellWriter(f.type, f.format, ws.locale));
  const drawing: number[] = [];
  for (let i = 0; i < 7; i++)
    drawing.push(
      await timed(() => {
        const { lines, columns } = linesOf(pivot, large);
        extremesOf(pivot, lines, columns);
        for (const line of lines.slice(0, 40)) for (const column of columns.slice(0, 16)) writers[column.figure]?.(cellAt(pivot, line, column));
      }),
    );
  report(`A pivot of ${pivot.down.length - 1} × ${pivot.across.length - 1}: lines, columns and the first screen of cells`, ms(median(drawing)), "50 ms");
  hand.close();
}

/** A dashboard of twelve tiles on the demo company: the first and the last tile, and fifty viewers at once. */
export async function measureDashboard(): Promise<void> {
  const folder = mkdtempSync(join(tmpdir(), "next-ledger-bench-"));
  execFileSync("node", ["dist/make-demo.mjs", folder, "--bare"]);
  const ws = new Workspace(folder, join(folder, "business.sqlite"), resolve("."));
  const saved = dashboardSpecSchema.parse(ws.catalogue.get("morning-view")?.spec);
  const asked = plainTiles(saved);
  const tiles: Tile[] = Array.from({ length: 12 }, (_, i) => ({ ...(asked[i % asked.length] as (typeof asked)[number]), id: `n${i}` }));
  const filters = saved.filters.map((f) => ({
    ...f,
    meets: Object.fromEntries(tiles.map((t, i) => [t.id, f.meets[asked[i % asked.length]?.id ?? ""] ?? null])),
  }));
  const spec = { ...saved, tiles, filters, wide: [], narrow: [] };
  await ws.schema();
  const tile = (id: string, client: string) => tileOf(ws, { spec, tile: id, values: {} }, usualDay("2026-11-23"), { client });
  const alone: number[] = [];
  for (const t of tiles) alone.push(await timed(() => tile(t.id, "alone")));
  const since = performance.now();
  const ends: number[] = [];
  await Promise.all(tiles.map((t) => tile(t.id, "together").then(() => ends.push(performance.now() - since))));
  report("A dashboard of 12 tiles: the first", ms(Math.min(...ends)), "300 ms");
  report(
    "… all of them ÷ the slowest tile alone",
    `${(Math.max(...ends) / Math.max(...alone)).toFixed(2)}× (${ms(Math.max(...ends))}; one after the other ${ms(alone.reduce((a, b) => a + b))})`,
    "1.2×",
  );
  const one: number[] = [];
  for (let i = 0; i < 20; i++) one.push(await timed(() => tile("n0", "one")));
  const many: number[] = [];
  await Promise.all(Array.from({ length: 50 }, (_, viewer) => timed(() => tile("n0", `viewer ${viewer}`)).then((time) => many.push(time))));
  report(
    "50 viewers refreshing a figure at once, 95th percentile ÷ one alone",
    `${(quantile(many, 0.95) / quantile(one, 0.95)).toFixed(1)}× (${ms(quantile(many, 0.95))}), ${50 - many.length} failed`,
    "10×, none",
  );
  ws.close();
  rmSync(folder, { recursive: true, force: true });
}
