import { emptyQuery } from "../src/core/query/empty";
import type { QuerySpec } from "../src/core/query/spec";
import { newLevel } from "../src/core/report/plan";
import type { ReportSpec } from "../src/core/report/spec";
import { balance } from "./letter";

/* The reports the company opens with: its freight by island and trade, and a statement for each shipper. */

const field = (join: string, column: string) => ({ kind: "field" as const, join, column });
const parts = (left = "", center = "", right = "") => ({ left, center, right });
const totalled = { kind: "figure" as const, figure: "total" as const };
const printed = (id: string, more: Partial<ReportSpec["columns"][number]> = {}): ReportSpec["columns"][number] => ({
  id,
  value: { kind: "field", column: id },
  widthMm: null,
  ...more,
});

export const freightStatement = (query: string): ReportSpec => ({
  version: 2,
  query,
  title: "Freight statement by island and trade",
  showBrief: true,
  levels: [{ ...newLevel("island"), newPage: true }, newLevel("trade")],
  columns: ["waybill", "lodged", "shipper", "weight", "freight"].map((id) => printed(id)),
  lines: [{ id: "footing", text: "", cells: { weight: totalled, freight: totalled } }],
  shape: { kind: "table" },
  page: { paper: "A4", landscape: false, margins: { top: 16, right: 16, bottom: 16, left: 16 } },
  header: parts("Brindle Sound Ferries · Freight statement"),
  footer: parts("Brindle Sound Ferries · {printed}", "", "page {page} of {pages}"),
  first: { header: parts(), footer: parts("Brindle Sound Ferries · {printed}", "", "page {page} of {pages}") },
  parameters: {},
});

/** What was lodged in a month, by the shippers it was lodged by. */
const lodgedByShipper: QuerySpec = {
  ...emptyQuery("consignment"),
  joins: [
    { id: "shipper", from: "", link: "consignment.shipper_id", toward: "b", way: "only" },
    { id: "commodity", from: "", link: "consignment.commodity_id", toward: "b", way: "keep" },
  ],
  conditions: [
    { id: "period", left: field("", "lodged_on"), operator: "during", values: [{ kind: "parameter", name: "month" }] },
    { id: "status", left: field("", "status"), operator: "isNot", values: [{ kind: "value", text: "void" }] },
  ],
  columns: [
    { id: "shipper", value: field("shipper", "name"), label: "Shipper" },
    { id: "waybill", value: field("", "waybill_no"), label: "Waybill" },
    { id: "lodged", value: field("", "lodged_on"), label: "Lodged" },
    { id: "commodity", value: field("commodity", "name"), label: "Commodity" },
    { id: "weight", value: field("", "weight"), label: "Weight" },
    { id: "freight", value: field("", "freight_charge"), label: "Freight" },
    { id: "balance", value: field("shipper", balance.id), label: "Balance" },
  ],
  order: [{ column: "lodged", direction: "up" }],
  parameters: [{ name: "month", type: "period", default: { kind: "fixed", text: "2026-10-01/2026-10-31" } }],
};

/** A statement for each shipper: what it lodged, carried over pages, then the entries in its account, and what they come to. */
export const monthlyStatement: ReportSpec = {
  version: 2,
  query: "",
  own: lodgedByShipper,
  title: "Statements of account",
  subtitle: "{month}",
  showBrief: true,
  levels: [{ ...newLevel("shipper"), newPage: true, restart: true, keepRows: 3 }],
  columns: [
    printed("waybill"),
    printed("lodged"),
    printed("commodity"),
    printed("weight"),
    printed("freight"),
    { id: "running", value: { kind: "field", column: "freight" }, label: "Running", widthMm: null, window: { kind: "running", level: "shipper" } },
  ],
  lines: [{ id: "footing", text: "", cells: { weight: totalled, freight: totalled } }],
  carried: ["freight"],
  related: [
    {
      id: "entries",
      title: "Account entries",
      under: "shipper",
      of: "shipper",
      match: { kind: "link", step: { link: "account_entry.shipper_id", toward: "a" } },
      hideEmpty: true,
      keepWhole: true,
      query: {
        ...emptyQuery("account_entry"),
        conditions: [{ id: "period", left: field("", "entered_on"), operator: "during", values: [{ kind: "parameter", name: "month" }] }],
        columns: [
          { id: "day", value: field("", "entered_on"), label: "Date" },
          { id: "kind", value: field("", "kind"), label: "Entry" },
          { id: "reference", value: field("", "reference"), label: "Reference" },
          { id: "amount", value: field("", "amount"), label: "Amount" },
        ],
        order: [{ column: "day", direction: "up" }],
      },
    },
  ],
  summaries: [
    {
      under: "shipper",
      lines: [
        { id: "balance", text: "Balance of the account", of: { kind: "formula", text: "balance" } },
        { id: "freight", text: "Freight of this statement, not charged yet", of: { kind: "formula", text: "SUM(freight)" } },
        { id: "sum", text: "Account with this freight", of: { kind: "sum" } },
      ],
    },
  ],
  shape: { kind: "table" },
  page: { paper: "A4", landscape: false, margins: { top: 20, right: 16, bottom: 16, left: 16 } },
  header: parts("Brindle Sound Ferries, Freight office", "", "{shipper} · page {page in group} of {pages in group}"),
  footer: parts("{printed}", "", "page {page} of {pages}"),
  parameters: {},
};
