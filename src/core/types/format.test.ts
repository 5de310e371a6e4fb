import { describe, expect, it } from "vitest";
import { asOfWords, cellWriter, counted, writeNumber } from "./format";
import { date, decimal, floating, timestamp, whole, yesno } from "./valueType";

const locale = { locale: "en-GB", zone: "Europe/Paris" };

it("a moment is told by its time, and by its day where that is another", () => {
  const words = (moment: string) => asOfWords(moment, new Date("2026-11-23T22:30:00Z"), locale);
  expect(words("2026-11-23T06:00:00Z")).toBe("07:00");
  expect(words("2026-11-22T23:00:00Z")).toBe("00:00");
  expect(words("2026-11-22T22:59:00Z")).toBe("22 Nov 2026, 23:59");
});

describe("cells", () => {
  it("write exact numbers beyond 2^53 to the last digit", () => {
    expect(cellWriter(decimal(2), {}, locale)("123456789012345678").text).toBe("1,234,567,890,123,456.78");
  });
  it("write the name of the row whose key they are; a key without a name as it is", () => {
    const write = cellWriter(whole, { grouping: false, named: new Map([["1010", "Pell Glass"]]) }, locale);
    expect([write(1010), write("1010"), write(1011), write(null)].map((w) => w.text)).toEqual(["Pell Glass", "Pell Glass", "1011", ""]);
  });
  it("put negatives in parentheses", () => {
    expect(cellWriter(decimal(2), {}, locale)(-112000)).toEqual({ text: "(1,120.00)", negative: true, misfit: false });
    expect(cellWriter(decimal(4), { decimals: 2 }, locale)(-15).text).toBe("0.00");
    const floats = [-0, -0.001, -0.006].map((v) => cellWriter(floating, { decimals: 2 }, locale)(v));
    expect(floats.map((w) => [w.text, w.negative])).toEqual([
      ["0.00", false],
      ["0.00", false],
      ["(0.01)", true],
    ]);
  });
  it("and so what is no cell: amounts along an axis, shares of a target", () => {
    const compact = new Intl.NumberFormat("en-GB", { notation: "compact", maximumFractionDigits: 1 });
    expect([-20_400, 20_400, 0, -0.01].map((v) => writeNumber(compact, v))).toEqual(["(20.4k)", "20.4k", "0", "0"]);
    expect(writeNumber(new Intl.NumberFormat("en-GB", { style: "percent" }), -0.35)).toBe("(35%)");
  });
  it("write dates by their part, and keep what is invalid as it is stored", () => {
    expect(cellWriter(date, { date: "quarter" }, locale)("2026-07-01").text).toBe("Q3 2026");
    expect(cellWriter(date, { date: "isoWeek" }, locale)("2026-11-23").text).toBe("2026-W48");
    expect(cellWriter(timestamp, {}, locale)("2026-09-30 06:40:00").text).toBe("30 Sept 2026 06:40");
    expect(cellWriter(whole, {}, locale)({ misfit: "n/a" })).toEqual({ text: "n/a", negative: false, misfit: true });
    expect(cellWriter(yesno, {}, locale)(null).text).toBe("");
  });
  it("count in words", () => expect([counted(1, "row", locale), counted(2000, "row", locale)]).toEqual(["1 row", "2,000 rows"]));
});

describe("shares, bands and weekdays", () => {
  const written = (type: Parameters<typeof cellWriter>[0], format: Parameters<typeof cellWriter>[1], cell: Parameters<ReturnType<typeof cellWriter>>[0]) =>
    cellWriter(type, format, { locale: "en-GB", zone: "UTC" })(cell).text;
  it("writes a share as a percentage, rounded half away from zero", () => {
    expect(written(decimal(6), { percent: true }, 54_500)).toBe("5.5%");
    expect(written(decimal(6), { percent: true, decimals: 0 }, 995_000)).toBe("100%");
    expect(written(decimal(6), { percent: true, decimals: 2 }, -12_345)).toBe("(1.23%)");
  });
  it("writes bands by limits, and what lies below or above them", () => {
    const limits = ["10", "20.5"];
    expect([999, 1000, 2049, 2050].map((cell) => written(decimal(2), { limits }, cell))).toEqual([
      "under 10.00",
      "10.00 to under 20.50",
      "10.00 to under 20.50",
      "20.50 and more",
    ]);
    expect([-1, 0.5].map((cell) => written(floating, { limits: ["0.5"] }, cell))).toEqual(["under 0.5", "0.5 and more"]);
  });
  it("names a business year by both its years, where it has two", () => {
    expect(["2025-04-06", "1999-07-01", "2026-01-01"].map((day) => cellWriter(date, { date: "businessYear" }, locale)(day).text)).toEqual([
      "2025/26",
      "1999/00",
      "2026",
    ]);
  });
  it("writes both ends of a band", () => {
    expect(written(decimal(2), { band: "12.5" }, -1250)).toBe("(12.50) to under 0.00");
    expect(written(whole, { band: "1000" }, 2000)).toBe("2,000 to under 3,000");
  });
  it("names the days of the week, Monday first (ISO 8601)", () => {
    expect([1, 7].map((day) => written(whole, { date: "weekday" }, day))).toEqual(["Monday", "Sunday"]);
  });
});
