import { describe, expect, it } from "vitest";
import { sampleSchema } from "../../../test/support/sample";
import * as edit from "../query/edit";
import { setWay } from "../query/editJoins";
import { emptyQuery } from "../query/empty";
import { resolveQuery } from "../query/resolve";
import type { Condition, Operand, QueryColumn, QuerySpec } from "../query/spec";
import { usualDay } from "../types/calendar";
import { type ReadTable, recountRows } from "./recount";
import type { Value } from "./value";

/* The recount on rows few enough to be worked out by hand: what stands below each query is reckoned, not printed and copied. */

type Rows = Record<string, Record<string, Value>[]>;
const rows: Rows = {
  // Two yards; crates of the first, of the second, of one that is not there, and of none.
  yard: [
    { id: 1n, name: "North", opened: "2026-01-05", rent: 10_000n, open: true },
    { id: 2n, name: "South", opened: null, rent: 2_550n, open: false },
  ],
  crate: [
    { id: 1n, yard_id: 1n, mark: "pear", day: "2026-03-01", price: 500n, pieces: 4n, sealed: true },
    { id: 2n, yard_id: 1n, mark: "Apple", day: "2026-03-31", price: 250n, pieces: null, sealed: false },
    { id: 3n, yard_id: 2n, mark: "apple", day: "2026-04-01", price: null, pieces: 7n, sealed: null },
    { id: 4n, yard_id: 9n, mark: null, day: null, price: -125n, pieces: 0n, sealed: true },
    { id: 5n, yard_id: null, mark: "", day: "2026-03-15", price: 75n, pieces: 2n, sealed: true },
  ],
  stamp: [
    { id: 1n, crate_id: 1n, fee: 100n },
    { id: 2n, crate_id: 1n, fee: 30n },
    { id: 3n, crate_id: 2n, fee: null },
    { id: 4n, crate_id: 8n, fee: 5n },
  ],
};
const read: ReadTable = (table, columns) => (rows[table] ?? []).map((row) => columns.map((c) => row[c.column] ?? null));

const toYard = { link: "crate.yard_id", toward: "b" as const };
const toStamps = { link: "stamp.crate_id", toward: "a" as const };
const yards = edit.bring(emptyQuery("crate"), [toYard]);
const stamps = edit.bring(emptyQuery("crate"), [toStamps]);
const field = (column: string, join = ""): Operand => ({ kind: "field", join, column });
const formula = (text: string): Operand => ({ kind: "formula", text });
const column = (value: Operand | null, more: Partial<QueryColumn> = {}): Omit<QueryColumn, "id"> => ({ value, ...more });
const when = (left: Operand, operator: Condition["operator"], ...values: string[]): Condition => ({
  id: `w ${operator}`,
  left,
  operator,
  values: values.map((text) => ({ kind: "value", text })),
});
/** The rows of a query, numbers as numbers. */
function recount(spec: QuerySpec, columns: Omit<QueryColumn, "id">[], more: Partial<QuerySpec> = {}): (string | number | boolean | null)[][] {
  const full = { ...spec, columns: columns.map((c, i) => ({ id: `c${i}`, ...c })), ...more };
  const resolved = resolveQuery(full, sampleSchema, { today: usualDay("2026-11-24"), values: {} });
  if (!resolved.ok) throw new Error(JSON.stringify(resolved.problems));
  return recountRows(resolved.value, read).map((row) => row.map((v) => (typeof v === "bigint" ? Number(v) : v)));
}
const crates = emptyQuery("crate");
const ids = (conditions: Condition[], spec = crates) => recount(spec, [column(field("id"))], { conditions }).map(([id]) => id);

describe("joins, by loops", () => {
  it("keep rows without a match, with nothing in the columns brought, or leave them out", () => {
    const columns = [column(field("id")), column(field("name", yards.join))];
    expect(recount(yards.spec, columns)).toEqual([
      [1, "North"],
      [2, "North"],
      [3, "South"],
      [4, null],
      [5, null],
    ]);
    const only = setWay(yards.spec, yards.join, "only");
    expect(recount(only, columns)).toEqual([
      [1, "North"],
      [2, "North"],
      [3, "South"],
    ]);
  });
  it("repeat a row for each that a link to many finds", () => {
    const columns = [column(field("id")), column(field("fee", stamps.join))];
    const found = recount(stamps.spec, columns).map(([id, fee]) => `${id} ${fee}`);
    expect(found.sort()).toEqual(["1 100", "1 30", "2 null", "3 null", "4 null", "5 null"]);
  });
});

describe("conditions", () => {
  it("part the rows with their opposites, also where a field is empty", () => {
    for (const [one, other, ...values] of [
      ["is", "isNot", "apple"],
      ["oneOf", "notOneOf", "apple", "pear"],
      ["contains", "notContains", "pp"],
      ["beginsWith", "notBeginsWith", "a"],
      ["endsWith", "notEndsWith", "le"],
    ] as const) {
      const [kept, left] = [ids([when(field("mark"), one, ...values)]), ids([when(field("mark"), other, ...values)])];
      expect([...kept, ...left].map(Number).sort(), one).toEqual([1, 2, 3, 4, 5]);
    }
    expect(ids([when(field("mark"), "is", "apple")])).toEqual([3]);
    expect(ids([when(field("mark"), "contains", "APP")])).toEqual([2, 3]);
    expect(ids([when(field("mark"), "isNot", "apple")])).toEqual([1, 2, 4, 5]);
  });
  it("take both ends of a range, and no empty value but where that is asked for", () => {
    expect(ids([when(field("day"), "between", "2026-03-01", "2026-03-31")])).toEqual([1, 2, 5]);
    expect(ids([when(field("day"), "notBetween", "2026-03-01", "2026-03-31")])).toEqual([3, 4]);
    expect(ids([when(field("price"), "less", "0.75")])).toEqual([4]);
    expect(ids([when(field("price"), "atMost", "0.75")])).toEqual([4, 5]);
    expect(ids([when(field("price"), "greater", "2.5")])).toEqual([1]);
    expect(ids([when(field("price"), "atLeast", "2.50")])).toEqual([1, 2]);
    expect(ids([when(field("price"), "empty")])).toEqual([3]);
    // An empty text is there: only what is missing is empty.
    expect(ids([when(field("mark"), "notEmpty")]).length + ids([when(field("mark"), "empty")]).length).toBe(5);
  });
  it("all hold at once", () => expect(ids([when(field("sealed"), "is", "yes"), when(field("pieces"), "atLeast", "2")])).toEqual([1, 5]));
});

describe("figures", () => {
  const one = (figure: QueryColumn["figure"], value: Operand | null, spec = crates) => recount(spec, [column(value, { figure })], { grouped: true })[0]?.[0];
  it("count rows, values and different values, and leave out what is empty", () => {
    expect(one("count", null)).toBe(5);
    expect(one("count", field("price"))).toBe(4);
    // Different as written: "Apple" and "apple" are two.
    expect(one("countDifferent", field("mark"))).toBe(4);
  });
  it("add exactly, and find the least and the greatest", () => {
    // 5.00 + 2.50 − 1.25 + 0.75
    expect(one("total", field("price"))).toBe(700);
    expect([one("least", field("price")), one("greatest", field("price"))]).toEqual([-125, 500]);
  });
  it("add a value that a link repeats once for each row it belongs to", () => {
    // 100.00 + 25.50, though the first yard stands on two crates
    expect(one("total", field("rent", yards.join), yards.spec)).toBe(12_550);
    // Crate 1 has two stamps: its price counts once.
    expect(one("total", field("price"), setWay(stamps.spec, stamps.join, "only"))).toBe(750);
    expect(recount(yards.spec, [column(field("rent", yards.join), { figure: "total", everyRow: true })], { grouped: true })[0]?.[0]).toBe(22_550);
  });
  it("of no row at all are a count of 0 and nothing else", () => {
    const none = { grouped: true, conditions: [when(field("mark"), "is", "no such mark")] };
    expect(recount(crates, [column(null, { figure: "count" }), column(field("price"), { figure: "total" })], none)).toEqual([[0, null]]);
    expect(recount(crates, [column(field("mark")), column(null, { figure: "count" })], none)).toEqual([]);
  });
  it("stand in a row for each group, what is empty a group of its own", () => {
    const grouped = recount(yards.spec, [column(field("name", yards.join)), column(null, { figure: "count" }), column(field("price"), { figure: "total" })], {
      grouped: true,
    });
    expect(grouped.map((r) => r.join(" ")).sort()).toEqual([" 2 -50", "North 2 750", "South 1 "]);
    const months = recount(crates, [column({ ...field("day"), part: "month" } as Operand), column(null, { figure: "count" })], { grouped: true });
    expect(months.map((r) => r.join(" ")).sort()).toEqual([" 1", "2026-03-01 3", "2026-04-01 1"]);
  });
});

describe("order and limit", () => {
  const ordered = (by: string, direction: "up" | "down", limit: number | null = null) =>
    recount(crates, [column(field("id")), column(field(by))], { order: [{ column: "c1", direction }], limit }).map(([id]) => id);
  it("go by the value folded, then as written, with what is empty at one end", () => {
    const up = ordered("mark", "up").filter((id) => id !== 4);
    expect(up).toEqual([5, 2, 3, 1]);
    expect(ordered("mark", "down").filter((id) => id !== 4)).toEqual([1, 3, 2, 5]);
  });
  it("keep the first so many rows after the order", () => {
    const prices = ordered("price", "down").filter((id) => id !== 3);
    expect(prices).toEqual([1, 2, 5, 4]);
    expect(ordered("price", "down", 2)).toEqual(ordered("price", "down").slice(0, 2));
    expect(ordered("price", "down", 99)).toHaveLength(5);
  });
});

describe("formulas", () => {
  const values = (text: string) => recount(crates, [column(formula(text))]).map(([v]) => v);
  it("reckon exactly and pass what is empty on", () => {
    expect(values("price * 2")).toEqual([1000, 500, null, -250, 150]);
    expect(values("price + pieces")).toEqual([900, null, null, -125, 275]);
    expect(values("COALESCE(pieces, 0) * 10")).toEqual([40, 0, 70, 0, 20]);
  });
  it("choose by conditions that are neither true nor false where something is empty", () => {
    expect(values("CASE WHEN sealed THEN 'yes' WHEN NOT sealed THEN 'no' ELSE '?' END")).toEqual(["yes", "no", "?", "yes", "yes"]);
    expect(values("CASE WHEN pieces > 3 THEN 1 ELSE 0 END")).toEqual([1, 0, 1, 0, 0]);
  });
  it("divide by nothing to nothing", () => expect(values("CASE WHEN pieces = 0 THEN price / NULLIF(pieces, 0) END")).toEqual([null, null, null, null, null]));
});
