import { describe, expect, it } from "vitest";
import { figureWords } from "../query/aggregates";
import { decimal, floating, text, type ValueType, whole } from "../types/valueType";
import { figureOver, type Item, inOrder } from "./figures";
import { OPERATIONS, periodOf } from "./operations";
import { compareValues, keyOfValues, plainValue, type Value } from "./value";

/* The second writing of every operation and figure, against values reckoned by hand or taken from the standard named beside them. */

const date: ValueType = { kind: "date" };
const timestamp: ValueType = { kind: "timestamp" };
const yesno: ValueType = { kind: "yesno" };
const types = (of: ValueType, ...args: ValueType[]) => ({ of, args });
const run = (name: keyof typeof OPERATIONS, of: ValueType, ...args: [Value, ValueType][]) =>
  OPERATIONS[name](
    args.map(([v]) => v),
    types(of, ...args.map(([, t]) => t)),
  );

describe("arithmetic", () => {
  it("is exact beyond 2^53, and empty where an operand is", () => {
    expect(run("add", whole, [9_007_199_254_740_993n, whole], [2n, whole])).toBe(9_007_199_254_740_995n);
    expect(run("multiply", decimal(2), [-150n, decimal(2)], [3n, whole])).toBe(-450n);
    expect(run("subtract", whole, [1n, whole], [null, whole])).toBe(null);
    expect(run("add", floating, [0.1, floating], [0.2, floating])).toBeCloseTo(0.3, 12);
  });
  it("rounds half away from zero where it must, and divides by nothing to nothing", () => {
    expect(run("rescale", decimal(1), [125n, decimal(2)])).toBe(13n);
    expect(run("rescale", decimal(1), [-125n, decimal(2)])).toBe(-13n);
    expect(run("rescale", decimal(3), [-125n, decimal(2)])).toBe(-1250n);
    expect(run("divide", decimal(2), [1000n, decimal(2)], [300n, decimal(2)])).toBe(333n);
    expect(run("divide", decimal(2), [1n, whole], [0n, whole])).toBe(null);
    expect(run("divide", floating, [1, floating], [0, floating])).toBe(null);
  });
  it("brings to whole numbers down and up, on both sides of zero", () => {
    const both = (exact: bigint) => [run("floor", whole, [exact, decimal(2)]), run("ceiling", whole, [exact, decimal(2)])];
    expect(both(250n)).toEqual([2n, 3n]);
    expect(both(-250n)).toEqual([-3n, -2n]);
    expect(both(300n)).toEqual([3n, 3n]);
    expect([run("abs", whole, [-7n, whole]), run("negate", whole, [7n, whole])]).toEqual([7n, -7n]);
  });
  it("leaves the remainder with the sign of what is divided (ISO/IEC 9075-2), and bands from below", () => {
    expect([run("mod", whole, [7n, whole], [3n, whole]), run("mod", whole, [-7n, whole], [3n, whole])]).toEqual([1n, -1n]);
    expect(run("mod", whole, [7n, whole], [0n, whole])).toBe(null);
    expect([7n, 0n, -1n, -10n].map((n) => run("band", whole, [n, whole], [10n, whole]))).toEqual([0n, 0n, -10n, -10n]);
    expect(run("band", floating, [-0.5, floating], [2, floating])).toBe(-2);
  });
});

describe("what is neither true nor false", () => {
  const known = [true, false, null];
  it("goes through and, or and not as the standard's truth tables say (ISO/IEC 9075-2, boolean value expression)", () => {
    const table = (name: "and" | "or") => known.map((a) => known.map((b) => OPERATIONS[name]([a, b], types(yesno))));
    expect(table("and")).toEqual([
      [true, false, null],
      [false, false, false],
      [null, false, null],
    ]);
    expect(table("or")).toEqual([
      [true, true, true],
      [true, false, null],
      [true, null, null],
    ]);
    expect(known.map((a) => OPERATIONS.not([a], types(yesno)))).toEqual([false, true, null]);
    expect(known.map((a) => OPERATIONS.isTrue([a], types(yesno)))).toEqual([true, false, false]);
  });
  it("is what a comparison with nothing, or a list with nothing in it, comes to", () => {
    expect(OPERATIONS.is([1n, null], types(yesno))).toBe(null);
    expect(OPERATIONS.oneOf([1n, 2n, null], types(yesno))).toBe(null);
    expect(OPERATIONS.oneOf([1n, 1n, null], types(yesno))).toBe(true);
    expect(OPERATIONS.oneOf([1n, 2n], types(yesno))).toBe(false);
    expect(OPERATIONS.oneOf([null], types(yesno))).toBe(false);
    // Beyond one end it is not between, whatever the other end.
    expect(OPERATIONS.between([5n, 6n, null], types(yesno))).toBe(false);
    expect(OPERATIONS.between([7n, 6n, null], types(yesno))).toBe(null);
    expect(OPERATIONS.between([6n, 6n, 6n], types(yesno))).toBe(true);
  });
  it("falls through a case to the next, and to nothing at its end", () => {
    expect(OPERATIONS.case([null, 1n, true, 2n, 3n], types(whole))).toBe(2n);
    expect(OPERATIONS.case([false, 1n, 9n], types(whole))).toBe(9n);
    expect(OPERATIONS.case([false, 1n], types(whole))).toBe(null);
    expect(OPERATIONS.coalesce([null, null, 0n], types(whole))).toBe(0n);
    expect([OPERATIONS.nullIf([1n, 1n], types(whole)), OPERATIONS.nullIf([1n, null], types(whole))]).toEqual([null, 1n]);
  });
});

describe("text", () => {
  const one = (name: keyof typeof OPERATIONS, ...args: Value[]) => OPERATIONS[name](args, types(text, text, text, text));
  it("is counted and cut by characters, not by halves of them", () => {
    expect(one("charLength", "a😀é")).toBe(3n);
    expect(one("substring", "a😀bc", 2n, 2n)).toBe("😀b");
    expect([one("substring", "abc", 0n, 2n), one("substring", "abc", -1n, 2n), one("substring", "abc", 9n, 2n)]).toEqual(["a", "", ""]);
    expect([one("position", "b", "a😀b"), one("position", "x", "abc")]).toEqual([3n, 0n]);
  });
  it("is found without case and accents, and put together without what is empty", () => {
    expect([one("contains", "Łucja", "lucja"), one("beginsWith", "Éclair", "ecl"), one("endsWith", "Éclair", "AIR")]).toEqual([true, true, true]);
    expect(one("contains", "राम", "रमा")).toBe(false);
    expect(one("concat", "a", null)).toBe(null);
    expect(OPERATIONS.concatWs([", ", "a", null, "b"], types(text))).toBe("a, b");
    expect(OPERATIONS.concatWs([null, "a"], types(text))).toBe(null);
    expect([one("replace", "banana", "an", "$&"), one("replace", "banana", "", "x")]).toEqual(["b$&$&a", "banana"]);
    expect(one("trim", "  a b ")).toBe("a b");
    expect(one("trimStart", "  a b ")).toBe("a b ");
    expect(one("trimEnd", "  a b ")).toBe("  a b");
  });
  it("is made of numbers to the last digit, and of floating ones to the fifteenth", () => {
    expect(run("toText", text, [12_345n, decimal(2)])).toBe("123.45");
    expect(run("toText", text, [9_007_199_254_740_993n, whole])).toBe("9007199254740993");
    expect(run("toText", text, [0.1 + 0.2, floating])).toBe("0.3");
    expect(run("toText", text, [2, floating])).toBe("2.0");
    expect([true, false].map((v) => run("toText", text, [v, yesno]))).toEqual(["yes", "no"]);
  });
  it("stands in the order of its code points, those beyond the first plane last", () => {
    expect(["😀", "z", "é", "a", "\uffee"].sort(compareValues)).toEqual(["a", "z", "é", "\uffee", "😀"]);
    expect(compareValues("ab", "abc")).toBeLessThan(0);
  });
});

describe("dates", () => {
  it("move by days and months, a month too short ending on its last day (common practice)", () => {
    expect(run("addMonths", date, ["2026-01-31", date], [1n, whole])).toBe("2026-02-28");
    expect(run("addMonths", date, ["2024-01-31", date], [1n, whole])).toBe("2024-02-29");
    expect(run("addMonths", date, ["2026-03-15", date], [-15n, whole])).toBe("2024-12-15");
    expect(run("addDays", timestamp, ["2026-12-31 23:30:00", timestamp], [1n, whole])).toBe("2027-01-01 23:30:00");
    expect(run("addDays", date, ["9999-12-31", date], [1n, whole])).toBe(null);
  });
  it("are told apart by days, and parted into year, quarter, week (ISO 8601) and the rest", () => {
    expect(OPERATIONS.daysBetween(["2026-03-01", "2026-02-01"], types(whole))).toBe(28n);
    const parts = (["YEAR", "QUARTER", "MONTH", "WEEK", "DAY", "DOW", "HOUR", "MINUTE"] as const).map((p) =>
      run(`extract${p}`, whole, ["2027-01-03 14:05:00", timestamp]),
    );
    // 3 January 2027 is the Sunday of the 53rd week of 2026.
    expect(parts).toEqual([2027n, 1n, 1n, 53n, 3n, 7n, 14n, 5n]);
    expect(run("extractHOUR", whole, ["2027-01-03", date])).toBe(0n);
    expect(run("extractDAY", whole, ["2027-02-30", date])).toBe(null);
    expect([periodOf("2026-11-28 10:00:00", "quarter"), periodOf("2026-11-28", "isoWeek"), periodOf("soon", "month"), periodOf(null, "month")]).toEqual([
      "2026-10-01",
      "2026-11-23",
      null,
      null,
    ]);
  });
});

describe("figures", () => {
  const items = (...values: Value[]): Item[] => values.map((value, i) => ({ value, by: BigInt(i), keys: null }));
  const over = (figure: Parameters<typeof figureOver>[0], list: Item[], type: ValueType = whole, direction: "up" | "down" = "up") =>
    figureOver(figure, list, type, { direction, separator: "; ", percent: 0 });
  it("leave out what is empty, and of nothing are empty, but for counts", () => {
    const list = items(5n, null, -3n, 5n);
    const all = (["count", "countDifferent", "total", "least", "greatest"] as const).map((f) => over(f, list));
    expect(all).toEqual([3n, 2n, 7n, -3n, 5n]);
    expect((["count", "countDifferent", "total", "average", "median", "least", "first", "list"] as const).map((f) => over(f, items(null)))).toEqual([
      0n,
      0n,
      null,
      null,
      null,
      null,
      null,
      null,
    ]);
  });
  it("tell the n-th in an order, and so many values of a list with how many more there are", () => {
    const counted = (figure: "nth" | "list", count: number | undefined, direction: "up" | "down" = "up") =>
      figureOver(figure, items(5n, null, 7n, 9n), whole, { direction, separator: "; ", percent: 0, count });
    expect([counted("nth", undefined), counted("nth", 1), counted("nth", 3), counted("nth", 4), counted("nth", 1, "down")]).toEqual([7n, 5n, 9n, null, 9n]);
    expect([counted("list", undefined), counted("list", 2), counted("list", 3), counted("list", 1)]).toEqual([
      "5; 7; 9",
      "5; 7 and 1 more",
      "5; 7; 9",
      "5 and 2 more",
    ]);
    expect([1, 2, 3, 4, 11, 12, 21, 102].map((n) => figureWords("nth", n))).toEqual(["1st", "2nd", "3rd", "4th", "11th", "12th", "21st", "102nd"]);
  });
  it("total the values of a row once, however often it stands there, and not those of no row", () => {
    const of = (key: Value, value: Value): Item => ({ value, by: null, keys: [key] });
    expect(over("total", [of(1n, 10n), of(1n, 10n), of(2n, 10n), of(null, 99n)])).toBe(20n);
    expect(over("count", [of(1n, 10n), of(1n, 10n)])).toBe(2n);
  });
  it("carry an average further than it is shown, cut off, and a median as tenths", () => {
    // 10 / 3 and −10 / 3 to the digits of an average of whole numbers and one more
    const [third, minus] = [over("average", items(3n, 3n, 4n)), over("average", items(-3n, -3n, -4n))];
    expect(String(third)).toMatch(/^3+$/);
    expect(minus).toBe(-(third as bigint));
    expect([over("median", items(1n, 9n, 4n)), over("median", items(1n, 4n))]).toEqual([40n, 25n]);
    expect(over("median", items(1.5, 2.5), floating)).toBe(2);
  });
  it("take the first and last by their order, what has none left out, and list in it", () => {
    const list: Item[] = [
      { value: "b", by: 2n, keys: null },
      { value: "a", by: 1n, keys: null },
      { value: "c", by: null, keys: null },
      { value: null, by: 0n, keys: null },
    ];
    expect([over("first", list, text), over("last", list, text), over("first", list, text, "down")]).toEqual(["a", "b", "b"]);
    expect([over("list", list, text), over("list", list, text, "down")]).toEqual(["c; a; b", "b; a; c"]);
  });
  it("stand in order with what is empty first going up and last going down", () => {
    const sorted = (direction: "up" | "down") => [2n, null, 1n].sort((a, b) => inOrder(a, b, direction));
    expect([sorted("up"), sorted("down")]).toEqual([
      [null, 1n, 2n],
      [2n, 1n, null],
    ]);
  });
  it("never take two keys for one", () => {
    const keys = [
      ["1", 1n],
      ["1", "1n"],
      [1n, "1"],
      ["a,b", "c"],
      ["a", "b,c"],
      [null, "null"],
      ["null", null],
      [true, 1n],
    ] as Value[][];
    expect(new Set(keys.map(keyOfValues)).size).toBe(keys.length);
    expect([plainValue(2), plainValue(2.5), plainValue(2n), plainValue(undefined)]).toEqual([2n, 2.5, 2n, null]);
  });
});
