import { newChart } from "../src/core/chart/newChart";
import type { ChartSpec } from "../src/core/chart/spec";
import type { DashboardFilter, DashboardSpec, Meeting, Tile } from "../src/core/dashboard/spec";
import { emptyDashboard } from "../src/core/dashboard/tiles";
import type { DerivedFieldSpec } from "../src/core/derive/spec";
import { emptyPivot, newAxis } from "../src/core/pivot/empty";
import type { PivotFigure, PivotSpec } from "../src/core/pivot/spec";
import type { Pair, PostingSpec } from "../src/core/posting/spec";
import { emptyQuery } from "../src/core/query/empty";
import type { QuerySpec } from "../src/core/query/spec";
import type { ScheduleSpec } from "../src/core/schedule/spec";
import type { Catalogue } from "../src/server/catalogue/catalogue";
import { balance, shippersAndDesks, statementOfAccount } from "./letter";
import { findConsignment } from "./page";
import { freightStatement, monthlyStatement } from "./reports";

const field = (join: string, column: string) => ({ kind: "field" as const, join, column });
const parameter = (name: string) => ({ kind: "parameter" as const, name });
/** The last month the company's books hold, so that the first look is never at an empty sheet. */
const period: QuerySpec["parameters"] = [
  { name: "start", type: "date", default: { kind: "fixed", text: "2026-10-01" } },
  { name: "end", type: "date", default: { kind: "fixed", text: "2026-10-31" } },
];

export const freightByShipper: QuerySpec = {
  version: 2,
  source: "consignment",
  joins: [
    { id: "shipper", from: "", link: "consignment.shipper_id", toward: "b", way: "keep" },
    { id: "sailing", from: "", link: "consignment.sailing_id", toward: "b", way: "keep" },
    { id: "vessel", from: "sailing", link: "sailing.vessel_id", toward: "b", way: "keep" },
  ],
  conditions: [
    { id: "period", left: field("", "lodged_on"), operator: "between", values: [parameter("start"), parameter("end")] },
    { id: "status", left: field("", "status"), operator: "isNot", values: [{ kind: "value", text: "void" }] },
  ],
  grouped: false,
  columns: [
    { id: "waybill", value: field("", "waybill_no"), label: "Waybill" },
    { id: "lodged", value: field("", "lodged_on"), label: "Lodged" },
    { id: "shipper", value: field("shipper", "name") },
    { id: "island", value: field("shipper", "island") },
    { id: "vessel", value: field("vessel", "name") },
    { id: "trade", value: field("shipper", "trade"), hidden: true },
    { id: "weight", value: field("", "weight"), hidden: true },
    { id: "freight", value: field("", "freight_charge"), label: "Freight" },
  ],
  order: [{ column: "freight", direction: "down" }],
  limit: null,
  parameters: period,
};

export const freightByIsland: QuerySpec = {
  version: 2,
  source: "consignment",
  joins: [{ id: "shipper", from: "", link: "consignment.shipper_id", toward: "b", way: "keep" }],
  conditions: freightByShipper.conditions,
  grouped: true,
  columns: [
    { id: "island", value: field("shipper", "island") },
    { id: "count", value: null, figure: "count" },
    { id: "freight", value: field("", "freight_charge"), figure: "total", label: "Freight" },
    { id: "average", value: field("", "freight_charge"), figure: "average", label: "Average" },
  ],
  order: [{ column: "freight", direction: "down" }],
  limit: null,
  parameters: period,
};

/** What a tonne brings, by island and quarter, held against the quarter before: a ratio of totals, of groups that are large enough. */
export const freightPerTonne: QuerySpec = {
  version: 2,
  source: "consignment",
  joins: [
    { id: "shipper", from: "", link: "consignment.shipper_id", toward: "b", way: "only" },
    { id: "surcharges", from: "", link: "surcharge.consignment_id", toward: "a", way: "hasNone" },
  ],
  conditions: [
    { id: "since", left: field("", "lodged_on"), operator: "atLeast", values: [parameter("since")] },
    {
      id: "counted",
      holds: "none",
      of: [
        { id: "void", left: field("", "status"), operator: "is", values: [{ kind: "value", text: "void" }] },
        { id: "weightless", left: field("", "weight"), operator: "empty", values: [] },
      ],
    },
  ],
  grouped: true,
  columns: [
    { id: "island", value: field("shipper", "island") },
    { id: "quarter", value: { ...field("", "lodged_on"), part: "quarter" }, label: "Quarter" },
    { id: "count", value: null, figure: "count" },
    { id: "freight", value: field("", "freight_charge"), figure: "total", label: "Freight" },
    { id: "weight", value: field("", "weight"), figure: "total", label: "Weight" },
    { id: "rate", value: { kind: "formula", text: "Freight / Weight * 1000" }, figure: "formula", label: "Freight per tonne", format: { decimals: 2 } },
    { id: "change", value: { kind: "column", id: "rate" }, figure: "window", window: { kind: "change", back: "period" }, label: "On the quarter before" },
  ],
  groupConditions: [{ id: "large", left: { kind: "column", id: "count" }, operator: "atLeast", values: [{ kind: "value", text: "100" }] }],
  order: [{ column: "rate", direction: "down" }],
  limit: null,
  parameters: [{ name: "since", type: "date", default: { kind: "fixed", text: "2026-01-01" } }],
};

export const calledOff: QuerySpec = {
  version: 2,
  source: "sailing",
  joins: [
    { id: "route", from: "", link: "sailing.route_id", toward: "b", way: "only" },
    { id: "from", from: "route", link: "route.from_harbour_id", toward: "b", way: "only" },
    { id: "to", from: "route", link: "route.to_harbour_id", toward: "b", way: "only" },
    { id: "vessel", from: "", link: "sailing.vessel_id", toward: "b", way: "keep" },
  ],
  conditions: [
    { id: "off", left: field("", "status"), operator: "is", values: [{ kind: "value", text: "called off" }] },
    { id: "period", left: field("", "departs_at"), operator: "between", values: [parameter("start"), parameter("end")] },
  ],
  grouped: false,
  columns: [
    { id: "departs", value: field("", "departs_at"), label: "Departs" },
    { id: "from", value: field("from", "name"), label: "From" },
    { id: "to", value: field("to", "name"), label: "To" },
    { id: "vessel", value: field("vessel", "name") },
  ],
  order: [{ column: "departs", direction: "up" }],
  limit: null,
  parameters: period,
};

/** Every sailing called off, whenever: a dashboard's own filter says of which days. */
const allCalledOff: QuerySpec = { ...calledOff, conditions: calledOff.conditions.filter((c) => c.id !== "period"), parameters: [] };

/** Every consignment of a year with what it can be counted by: what pivots and charts are made from. */
export const freightLodged: QuerySpec = {
  version: 2,
  source: "consignment",
  joins: [
    { id: "shipper", from: "", link: "consignment.shipper_id", toward: "b", way: "keep" },
    { id: "commodity", from: "", link: "consignment.commodity_id", toward: "b", way: "keep" },
    { id: "sailing", from: "", link: "consignment.sailing_id", toward: "b", way: "keep" },
    { id: "vessel", from: "sailing", link: "sailing.vessel_id", toward: "b", way: "keep" },
  ],
  conditions: freightByShipper.conditions,
  grouped: false,
  columns: [
    { id: "waybill", value: field("", "waybill_no"), label: "Waybill" },
    { id: "lodged", value: field("", "lodged_on"), label: "Lodged on" },
    { id: "island", value: field("shipper", "island") },
    { id: "trade", value: field("shipper", "trade") },
    { id: "shipper", value: field("shipper", "name") },
    { id: "vessel", value: field("vessel", "name") },
    { id: "commodity", value: field("commodity", "name") },
    { id: "status", value: field("", "status") },
    { id: "weight", value: field("", "weight") },
    { id: "freight", value: field("", "freight_charge"), label: "Freight" },
  ],
  order: [{ column: "lodged", direction: "up" }],
  limit: null,
  parameters: [
    { name: "start", type: "date", default: { kind: "fixed", text: "2025-10-01" } },
    { name: "end", type: "date", default: { kind: "fixed", text: "2026-09-30" } },
  ],
};

const islandsAndQuarters = (query: string): PivotSpec => ({
  ...emptyPivot(query),
  down: [
    { ...newAxis("island", field("", "island")), order: { by: "figure", direction: "down", figure: "freight" } },
    { ...newAxis("trade", field("", "trade")), order: { by: "figure", direction: "down", figure: "freight" }, first: 3 },
  ],
  across: [{ ...newAxis("quarter", { ...field("", "lodged"), part: "quarter" }), subtotal: "after" }],
  figures: [
    { id: "freight", value: field("", "freight"), figure: "total", showAs: "asIs" },
    { id: "share", value: field("", "freight"), figure: "total", showAs: "shareOfRow", label: "share" },
  ],
});

const monthsByTrade = (query: string): ChartSpec => ({
  ...newChart(
    {
      ...emptyPivot(query),
      across: [{ ...newAxis("month", { ...field("", "lodged"), part: "month" }), empty: true }],
      down: [{ ...newAxis("trade", field("", "trade")), order: { by: "figure", direction: "down", figure: "freight" }, first: 4 }],
      figures: [{ id: "freight", value: field("", "freight"), figure: "total", showAs: "asIs" }],
    },
    "stacked",
  ),
});

const total = (column: string): PivotFigure => ({ id: "freight", value: field("", column), figure: "total", showAs: "asIs" });
const byDay = (query: string): ChartSpec =>
  newChart(
    {
      ...emptyPivot(query),
      across: [{ ...newAxis("day", { ...field("", "lodged"), part: "day" }), empty: true }],
      down: [{ ...newAxis("trade", field("", "trade")), order: { by: "figure", direction: "down", figure: "freight" }, first: 3 }],
      figures: [total("freight")],
    },
    "stacked",
  );
const byTrade = (query: string): ChartSpec => ({
  ...newChart(
    {
      ...emptyPivot(query),
      across: [{ ...newAxis("trade", field("", "trade")), order: { by: "figure", direction: "down", figure: "freight" }, first: 6 }],
      figures: [{ ...total("freight"), format: { decimals: 0 } }],
    },
    "bars",
  ),
  lying: true,
  labels: true,
});

/**
 * The freight desk's view of a month: four figures, two charts, and what lies on the desk; lodged in September at first.
 * Sailings are met by the days and the island in fields of their own.
 */
const morning = (query: string, sailings: string): DashboardSpec => {
  const titled = (id: string, title: string, note = "") => ({ id, title, note });
  const month = { kind: "earlier" as const, by: "month" as const };
  const toShipper: Meeting = { steps: [{ link: "consignment.shipper_id", toward: "b" }] };
  const toHarbour: Meeting["steps"] = [
    { link: "sailing.route_id", toward: "b" },
    { link: "route.from_harbour_id", toward: "b" },
  ];
  const meeting = (freight: Meeting, sailing: Meeting | null): DashboardFilter["meets"] =>
    Object.fromEntries([
      ...["freight", "waybills", "weight", "by-day", "by-trade", "consignments", "dearest"].map((id) => [id, freight] as const),
      ...["off", "sailings"].map((id) => [id, sailing] as const),
    ]);
  const count: PivotFigure = { id: "n", value: null, figure: "count", showAs: "asIs" };
  const figure = (id: string, title: string, of: PivotFigure, from = query): Tile => ({
    ...titled(id, title),
    kind: "figure",
    query: from,
    figure: of,
    compare: month,
    lessIsBetter: from === sailings,
  });
  const table = {
    kind: "table" as const,
    query,
    columns: ["waybill", "lodged", "shipper", "commodity", "vessel", "weight", "freight"],
    first: 50,
    search: true,
  };
  const place = (tile: string, x: number, y: number, w: number, h: number) => ({ tile, x, y, w, h });
  return {
    ...emptyDashboard(),
    filters: [
      { id: "shipper", label: "shipper", table: "shipper", column: "name", meets: meeting(toShipper, null), default: null },
      {
        id: "island",
        label: "island",
        table: "shipper",
        column: "island",
        meets: meeting(toShipper, { steps: toHarbour, column: "island" }),
        default: null,
      },
      {
        id: "lodged",
        label: "lodged",
        table: "consignment",
        column: "lodged_on",
        meets: meeting({ steps: [] }, { steps: [], column: "departs_at" }),
        default: { kind: "span", from: "2026-09-01", to: "2026-09-30" },
      },
      { id: "trade", label: "trade", table: "shipper", column: "trade", meets: meeting(toShipper, null), default: null },
    ],
    tiles: [
      figure("freight", "Freight lodged", total("freight")),
      figure("waybills", "Waybills", count),
      figure("off", "Sailings called off", count, sailings),
      figure("weight", "Weight, kg", { ...total("weight"), format: { decimals: 0 } }),
      { ...titled("by-day", "Freight by day", "stacked by trade, euro"), kind: "chart", chart: "freight-by-day" },
      { ...titled("by-trade", "By trade", "largest six, the rest together"), kind: "chart", chart: "freight-by-trade" },
      {
        ...titled("desk", "On the desk"),
        kind: "switch",
        tiles: [
          { ...titled("consignments", "Latest"), ...table, order: { column: "lodged", direction: "down" } },
          { ...titled("dearest", "Dearest"), ...table, order: { column: "freight", direction: "down" } },
          { ...titled("sailings", "Called off"), ...table, query: sailings, columns: [], order: { column: "departs", direction: "down" } },
        ],
      },
    ],
    wide: [
      place("freight", 0, 0, 3, 4),
      place("waybills", 3, 0, 3, 4),
      place("off", 6, 0, 3, 4),
      place("weight", 9, 0, 3, 4),
      place("by-day", 0, 4, 8, 11),
      place("by-trade", 8, 4, 4, 11),
      place("desk", 0, 15, 12, 10),
    ],
    narrow: ["freight", "waybills", "off", "weight", "by-trade", "by-day", "desk"],
  };
};

const daily = (report: string): ScheduleSpec => ({
  version: 1,
  subject: { kind: "report", id: report },
  rule: { kind: "workingDays" },
  time: "07:00",
  zone: "Europe/Paris",
  // The server's own clock may have been set (workspace.ts): what was due before that day is none of the demo's concern.
  since: new Date(process.env.NEXT_LEDGER_NOW ?? Date.now()).toISOString(),
  bindings: { start: { kind: "relative", date: "firstOfLastMonth" }, end: { kind: "relative", date: "lastOfLastMonth" } },
  formats: ["pdf", "csv"],
  folder: "freight desk",
  paused: false,
});

const lodged = (column: DerivedFieldSpec["definition"] & { kind: "rollup" }): DerivedFieldSpec => ({ version: 1, table: "shipper", definition: column });
const overConsignments = (column: Omit<QuerySpec["columns"][number], "id">, conditions: QuerySpec["conditions"] = []): DerivedFieldSpec =>
  lodged({
    kind: "rollup",
    step: { link: "consignment.shipper_id", toward: "a" },
    query: { ...emptyQuery("consignment"), grouped: true, columns: [{ id: "figure", ...column }], conditions },
  });
const notVoid: QuerySpec["conditions"][number] = { id: "status", left: field("", "status"), operator: "isNot", values: [{ kind: "value", text: "void" }] };

/** Derived fields the company opens with, by id: a name as it is printed, a lookup, and rollups over one link. */
export const derivedFields: { id: string; label: string; spec: DerivedFieldSpec }[] = [
  {
    id: "crew-printed-name",
    label: "printed name",
    spec: {
      version: 1,
      table: "crew",
      definition: {
        kind: "formula",
        text: "REPLACE(CONCAT_WS(' ', INITCAP(TRIM(rank)), INITCAP(TRIM(first_name)), LEFT(INITCAP(NULLIF(TRIM(middle_name), '')), 1) || '.', INITCAP(TRIM(last_name))), '  ', ' ')",
      },
    },
  },
  {
    id: "consignment-class",
    label: "class of goods",
    spec: { version: 1, table: "consignment", definition: { kind: "lookup", steps: [{ link: "consignment.commodity_id", toward: "b" }], column: "class" } },
  },
  { id: "shipper-consignments", label: "consignments lodged", spec: overConsignments({ value: null, figure: "count" }, [notVoid]) },
  {
    id: "shipper-freight",
    label: "freight lodged",
    spec: { ...overConsignments({ value: field("", "freight_charge"), figure: "total" }, [notVoid]), unit: "EUR" },
  },
  balance,
  { id: "shipper-last", label: "last lodged", spec: overConsignments({ value: field("", "lodged_on"), figure: "greatest" }) },
];

const manifestField = (column: string, name: string, more: Partial<Pair> = {}): Pair => ({ column, value: { kind: "field", name }, ...more });
const manifestFormula = (column: string, text: string): Pair => ({ column, value: { kind: "formula", text } });

/** The agent's manifest for November, waiting to be posted: other names, tonnes, codes in place of numbers. */
export const manifest: PostingSpec = {
  version: 1,
  source: { kind: "table", table: "agent_manifest" },
  action: "add",
  target: "consignment",
  same: ["waybill_no"],
  present: "leave",
  breaking: "refuse",
  pairs: [
    manifestField("waybill_no", "Waybill"),
    manifestField("lodged_on", "Lodged", { dates: "dmy" }),
    manifestField("shipper_id", "Sender", { found: { link: "consignment.shipper_id", by: "name" } }),
    manifestField("commodity_id", "Goods code", { found: { link: "consignment.commodity_id", by: "code" } }),
    manifestFormula("collect_from", `CONCAT_WS(', ', TRIM("Addr1"), TRIM("Addr2"))`),
    manifestFormula("weight", 'CAST("Mass (t)" AS DECIMAL(9, 3)) * 1000'),
    manifestFormula("freight_charge", "0"),
    manifestFormula("status", "'lodged'"),
  ],
};

/** The queries and what is made from them that the demo company opens with. */
export function saveDemoObjects(catalogue: Catalogue): void {
  for (const { id, label, spec } of derivedFields) catalogue.create("derived", label, spec, id);
  catalogue.create("query", "Freight lodged by shipper", freightByShipper, "freight-by-shipper");
  catalogue.create("query", "Freight by island", freightByIsland, "freight-by-island");
  catalogue.create("query", "Freight per tonne by island and quarter", freightPerTonne, "freight-per-tonne");
  catalogue.create("query", "Sailings called off", calledOff, "sailings-called-off");
  catalogue.create("query", "Sailings called off, any day", allCalledOff, "all-called-off");
  catalogue.create("query", "Freight lodged", freightLodged, "freight-lodged");
  catalogue.create("pivot", "Freight by island and quarter", islandsAndQuarters("freight-lodged"), "islands-and-quarters");
  catalogue.create("chart", "Freight by month and trade", monthsByTrade("freight-lodged"), "months-by-trade");
  catalogue.create("chart", "Freight by day", byDay("freight-lodged"), "freight-by-day");
  catalogue.create("chart", "Freight by trade", byTrade("freight-lodged"), "freight-by-trade");
  catalogue.create("dashboard", "Freight desk, morning view", morning("freight-lodged", "all-called-off"), "morning-view");
  catalogue.create("report", "Freight statement", freightStatement("freight-by-shipper"), "freight-statement");
  catalogue.create("report", "Monthly statement", monthlyStatement, "monthly-statement");
  catalogue.create("query", "Shippers and their desks", shippersAndDesks, "shippers-and-desks");
  catalogue.create("letter", "Statement of account", statementOfAccount("shippers-and-desks"), "statement-of-account");
  catalogue.create("page", "Find a consignment", findConsignment("freight-lodged"), "find-consignment");
  catalogue.create("posting", "Agent manifest, November", manifest, "agent-manifest");
  catalogue.create("schedule", "Freight statement each working day", daily("freight-statement"), "freight-statement-daily");
}
