import type { DashboardSpec, Tile } from "../src/core/dashboard/spec";
import { emptyDashboard } from "../src/core/dashboard/tiles";
import { emptyQuery } from "../src/core/query/empty";
import type { QuerySpec } from "../src/core/query/spec";

const field = (join: string, column: string) => ({ kind: "field" as const, join, column });

/** The account entries of the business year so far, in its own words: the workspace says when the year begins. */
export const entriesThisYear: QuerySpec = {
  ...emptyQuery("account_entry"),
  joins: [{ id: "shipper", from: "", link: "account_entry.shipper_id", toward: "b", way: "keep" }],
  conditions: [
    {
      id: "year",
      left: field("", "entered_on"),
      operator: "between",
      values: [
        { kind: "parameter", name: "start" },
        { kind: "parameter", name: "end" },
      ],
    },
  ],
  columns: [
    { id: "entered", value: field("", "entered_on"), label: "Entered" },
    { id: "shipper", value: field("shipper", "name") },
    { id: "kind", value: field("", "kind") },
    { id: "reference", value: field("", "reference") },
    { id: "amount", value: field("", "amount"), label: "Amount" },
  ],
  order: [{ column: "entered", direction: "down" }],
  parameters: [
    { name: "start", type: "date", default: { kind: "relative", date: "firstOfBusinessYear" } },
    { name: "end", type: "date", default: { kind: "relative", date: "today" } },
  ],
};

/** What the accounts clerk looks at: the balance of the year so far, how many entries, and the latest of them. */
export const accountsBoard = (query: string): DashboardSpec => {
  const figure = (id: string, title: string, of: "total" | "count"): Tile => ({
    id,
    title,
    note: "",
    kind: "figure",
    query,
    figure: { id: "n", value: of === "count" ? null : field("", "amount"), figure: of, showAs: "asIs" },
    compare: null,
    lessIsBetter: false,
  });
  return {
    ...emptyDashboard(),
    filters: [
      {
        id: "shipper",
        label: "shipper",
        table: "shipper",
        column: "name",
        meets: Object.fromEntries(["balance", "entries", "latest"].map((id) => [id, { steps: [{ link: "account_entry.shipper_id", toward: "b" as const }] }])),
        default: null,
      },
    ],
    tiles: [
      figure("balance", "Charged less paid, this business year", "total"),
      figure("entries", "Entries, this business year", "count"),
      {
        id: "latest",
        title: "Latest entries",
        note: "ask the shipper before a second reminder",
        kind: "table",
        query,
        columns: [],
        order: { column: "entered", direction: "down" },
        first: 50,
        search: true,
      },
    ],
    wide: [
      { tile: "balance", x: 0, y: 0, w: 6, h: 4 },
      { tile: "entries", x: 6, y: 0, w: 6, h: 4 },
      { tile: "latest", x: 0, y: 4, w: 12, h: 14 },
    ],
    narrow: ["balance", "entries", "latest"],
  };
};
