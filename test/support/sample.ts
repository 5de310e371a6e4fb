import type Database from "better-sqlite3";
import type { DerivedField } from "@/core/derive/spec";
import { emptyQuery } from "@/core/query/empty";
import type { QueryColumn, QuerySpec } from "@/core/query/spec";
import type { Column, Schema } from "@/core/schema/schema";
import { ownStorage } from "@/core/types/storage";
import { date, decimal, floating, text, timestamp, type ValueType, whole, yesno } from "@/core/types/valueType";
import { seeded } from "../../demo/random";
import type { Rows } from "./engines";

/** A column as most are: it fits its type, and may be empty. */
export const column = (name: string, type: ValueType): Column => ({
  name,
  label: name,
  type,
  storage: ownStorage(type),
  nullable: true,
  misfits: 0,
});

/** Two linked tables with every type, empties, a dangling key, and a table that a row leads to many of. */
export const sampleSchema: Schema = {
  tables: [
    {
      name: "yard",
      label: "yard",
      key: ["id"],
      rows: 0,
      columns: [column("id", whole), column("name", text), column("opened", date), column("rent", decimal(2)), column("open", yesno)],
    },
    {
      name: "crate",
      label: "crate",
      key: ["id"],
      rows: 0,
      columns: [
        { ...column("id", whole), nullable: false, filled: "number" },
        column("yard_id", whole),
        column("mark", text),
        column("day", date),
        column("at", timestamp),
        column("price", decimal(2)),
        column("mass", decimal(1)),
        column("pieces", whole),
        column("ratio", floating),
        column("sealed", yesno),
      ],
    },
    { name: "stamp", label: "stamp", key: ["id"], rows: 0, columns: [column("id", whole), column("crate_id", whole), column("fee", decimal(2))] },
  ],
  links: [
    {
      id: "crate.yard_id",
      a: { table: "crate", columns: ["yard_id"], name: "crates", leadsTo: "many" },
      b: { table: "yard", columns: ["id"], name: "yard", leadsTo: "one" },
    },
    {
      id: "stamp.crate_id",
      a: { table: "stamp", columns: ["crate_id"], name: "stamps", leadsTo: "many" },
      b: { table: "crate", columns: ["id"], name: "crate", leadsTo: "one" },
    },
  ],
};

const field = (column: string, join = "") => ({ kind: "field" as const, join, column });
const derivedField = (id: string, table: string, definition: DerivedField["definition"]): DerivedField => ({ version: 1, id, label: id, table, definition });
const rollup = (id: string, table: "yard" | "crate", column: Omit<QueryColumn, "id">, query: Partial<QuerySpec> = {}): DerivedField => {
  const [link, source] = table === "yard" ? ["crate.yard_id", "crate"] : ["stamp.crate_id", "stamp"];
  const spec = { ...emptyQuery(source), grouped: true, columns: [{ id: "f", ...column }], ...query };
  return derivedField(id, table, { kind: "rollup", step: { link, toward: "a" }, query: spec });
};

/** A derived field of each kind: lookups, rollups with conditions, through others, compared with the row itself; formulas over them. */
export const sampleDerived: DerivedField[] = [
  derivedField("opened", "crate", { kind: "lookup", steps: [{ link: "crate.yard_id", toward: "b" }], column: "opened" }),
  derivedField("yard share", "crate", { kind: "formula", text: 'ROUND("fees" / NULLIF("all fees", 0), 4)' }),
  derivedField("all fees", "crate", { kind: "lookup", steps: [{ link: "crate.yard_id", toward: "b" }], column: "fees of all" }),
  derivedField("deep", "stamp", {
    kind: "lookup",
    steps: [
      { link: "stamp.crate_id", toward: "b" },
      { link: "crate.yard_id", toward: "b" },
    ],
    column: "name",
  }),
  rollup("fees", "crate", { value: field("fee"), figure: "total" }),
  rollup("stamp count", "crate", { value: null, figure: "count" }),
  rollup("middle fee", "crate", { value: field("fee"), figure: "median" }),
  rollup("crate list", "yard", { value: field("mark"), figure: "list", by: field("day"), direction: "down", separator: " · " }),
  rollup("first mark", "yard", { value: field("mark"), figure: "first", by: field("day") }),
  rollup("last price", "yard", { value: field("price"), figure: "last", by: field("at") }),
  rollup(
    "dear",
    "yard",
    { value: field("price"), figure: "average" },
    { conditions: [{ id: "w", left: field("price"), operator: "greater", values: [{ kind: "value", text: "500" }] }] },
  ),
  rollup(
    "since opened",
    "yard",
    { value: null, figure: "count" },
    { conditions: [{ id: "w", left: field("day"), operator: "atLeast", values: [{ kind: "field", join: "^", column: "opened" }] }] },
  ),
  rollup("fees of all", "yard", { value: field("fees"), figure: "total" }),
];

const MARKS = ["Ærø", "apple", "Apple", "Éclair", "eclair", "50% off", "under_score", "it's", "", "Žito", "zebra", "naïve", "O'Neill"];

const RARE_DAYS = ["1899-12-31", "1969-12-31", "1970-01-01", "2024-02-29", "2023-12-31", "2026-01-31", "2025-08-31", "2038-01-20", "2099-12-31", "2027-01-03"];

/** Invented rows from a seed; about a tenth of the values are empty. */
export function sampleRows(seed: number): Rows {
  const random = seeded(seed);
  const maybe = <T>(value: T): T | null => (random.chance(0.1) ? null : value);
  const common = () => `20${random.whole(23, 26)}-${String(random.whole(1, 12)).padStart(2, "0")}-${String(random.whole(1, 28)).padStart(2, "0")}`;
  // Before 1970, after 2038, leap days, and months' and years' last days among the common ones.
  const day = () => (random.chance(0.2) ? random.pick(RARE_DAYS) : common());
  const yards = Array.from({ length: 12 }, (_, i) => [
    i + 1,
    maybe(random.pick(MARKS)),
    maybe(day()),
    maybe(random.whole(-50_000, 500_000)),
    maybe(random.whole(0, 1)),
  ]);
  const crates = Array.from({ length: 90 }, (_, i) => [
    i + 1,
    maybe(random.whole(1, 14)),
    maybe(random.pick(MARKS)),
    maybe(day()),
    maybe(`${day()} ${String(random.whole(0, 23)).padStart(2, "0")}:${String(random.whole(0, 59)).padStart(2, "0")}:00`),
    maybe(random.chance(0.1) ? random.whole(-9_007_199_254, 9_007_199_254) * 9 : random.whole(-99_999, 999_999)),
    maybe(random.whole(0, 5000)),
    maybe(random.whole(-5, 40)),
    maybe(Math.round(random.next() * 1e6) / 1e6),
    maybe(random.whole(0, 1)),
  ]);
  const stamps = Array.from({ length: 130 }, (_, i) => [i + 1, maybe(random.whole(1, 95)), maybe(random.whole(0, 2000))]);
  return { yard: yards, crate: crates, stamp: stamps };
}

/** Makes the sample's tables in a SQLite database, with its rows. */
export function fillSample(db: Database.Database, seed: number): void {
  const rows = sampleRows(seed);
  for (const t of sampleSchema.tables) {
    db.exec(`CREATE TABLE "${t.name}" (${t.columns.map((c) => `"${c.name}"`).join(", ")})`);
    const insert = db.prepare(`INSERT INTO "${t.name}" VALUES (${t.columns.map(() => "?").join(", ")})`);
    for (const row of rows[t.name] ?? []) insert.run(row.map((v, i) => (typeof v === "number" && t.columns[i]?.type.kind !== "floating" ? BigInt(v) : v)));
  }
}
