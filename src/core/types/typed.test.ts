import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { LOCALES } from "../settings/locales";
import { dateOfDay, dayNumber } from "./date";
import { cellWriter, writeDate } from "./format";
import { readTyped, readTypedDate, readTypedNumber, writeTyped, writeTypedNumber } from "./typed";
import { date, decimal, text, timestamp, type ValueType } from "./valueType";

const TODAY = "2026-11-23";
const dateIn = (locale: string) => (typed: string) => readTypedDate(typed, { locale }, TODAY);
const numberIn = (locale: string) => (typed: string) => readTypedNumber(typed, { locale });

describe("dates as they are typed", () => {
  it("are read as every offered locale writes them", () => {
    const days = fc.integer({ min: dayNumber("1900-01-01"), max: dayNumber("2100-12-31") }).map(dateOfDay);
    for (const locale of LOCALES)
      fc.assert(
        fc.property(days, (day) => {
          const long = new Intl.DateTimeFormat(locale, { dateStyle: "long", timeZone: "UTC" }).format(new Date(day));
          const figures = new Intl.DateTimeFormat(locale, { timeZone: "UTC" }).format(new Date(day));
          for (const written of [writeDate(day, { locale, zone: "UTC" }), long, figures, day])
            expect(dateIn(locale)(written), `${written} in ${locale}`).toBe(day);
        }),
        { numRuns: 40 },
      );
  });
  it("are read in the order of the locale, with what people leave out or add", () => {
    const british = ["1/10/2026", "01.10.26", "1 oct", "1 October 2026", "Oct 1, 2026", "1-10", "2026-10-01", " 1  Oct 26 "];
    expect(british.map(dateIn("en-GB"))).toEqual(british.map(() => "2026-10-01"));
    expect(["10/1/2026", "Oct 1", "10/1"].map(dateIn("en-US"))).toEqual(["2026-10-01", "2026-10-01", "2026-10-01"]);
    expect(["1. Okt. 2026", "1.10.", "1 März", "1 mar 69", "1 mar 70"].map(dateIn("de-DE"))).toEqual([
      "2026-10-01",
      "2026-10-01",
      "2026-03-01",
      "2069-03-01",
      "1970-03-01",
    ]);
    expect(["2026年10月1日", "10/1", "26/10/01"].map(dateIn("ja-JP"))).toEqual(["2026-10-01", "2026-10-01", "2026-10-01"]);
    expect(["1 de octubre de 2026", "1 decembre 2026"].map((typed, i) => dateIn(i === 0 ? "es-ES" : "fr-FR")(typed))).toEqual(["2026-10-01", "2026-12-01"]);
  });
  it("are refused where there is no such day, or more than one reading", () => {
    for (const wrong of ["", "31/11/2026", "29 Feb 2025", "13/13/2026", "1 Oct 202", "Oct", "1", "1 2 3 4", "tomorrow", "1 Oct Nov 2026", "1 Smarch 2026"])
      expect(dateIn("en-GB")(wrong), wrong).toBeNull();
    expect(dateIn("en-US")("13/1/2026")).toBeNull();
  });
});

describe("numbers as they are typed", () => {
  it("are read as every offered locale writes them, and keep every digit", () => {
    const cents = fc.bigInt({ min: -(10n ** 15n), max: 10n ** 15n });
    for (const locale of LOCALES) {
      const write = cellWriter(decimal(2), {}, { locale, zone: "UTC" });
      fc.assert(
        fc.property(cents, (scaled) => {
          const plain = `${scaled < 0n ? "-" : ""}${(scaled < 0n ? -scaled : scaled)
            .toString()
            .padStart(3, "0")
            .replace(/(\d\d)$/, ".$1")}`;
          expect(numberIn(locale)(write(scaled.toString()).text), locale).toBe(plain);
          expect(numberIn(locale)(writeTypedNumber(plain, { locale })), locale).toBe(plain);
        }),
        { numRuns: 40 },
      );
    }
  });
  it("may have their thousands set apart or not, and a sign in front or parentheses around", () => {
    expect(["1,234.50", "1234.50", "(1,234.50)", "-1234.50", "\u22121234.50", "+7", ".5", "5."].map(numberIn("en-GB"))).toEqual([
      "1234.50",
      "1234.50",
      "-1234.50",
      "-1234.50",
      "-1234.50",
      "7",
      "0.5",
      "5",
    ]);
    expect(["1 234,5", "1\u202f234,5", "1234,5"].map(numberIn("fr-FR"))).toEqual(["1234.5", "1234.5", "1234.5"]);
    expect(["12,34,567", "1234567"].map(numberIn("en-IN"))).toEqual(["1234567", "1234567"]);
    expect(["1’234.5", "1'234.5"].map(numberIn("de-CH"))).toEqual(["1234.5", "1234.5"]);
  });
  it("are parts of one where they are percentages, by their sign or because all are there", () => {
    expect(["20%", "-12.5 %", "(3%)", "1,250%", "%", "20%%", "0%"].map(numberIn("en-GB"))).toEqual(["0.2", "-0.125", "-0.03", "12.5", null, null, "0"]);
    const locale = { locale: "de-DE", zone: "UTC" };
    const read = (typed: string) => readTyped(decimal(2), typed, locale, TODAY, true);
    expect(["-20", "-20%", "12,5", "abc"].map(read)).toEqual(["-0.2", "-0.2", "0.125", null]);
    const write = (kept: string) => writeTyped(decimal(2), kept, locale, true);
    expect(["-0.2", "0.125", "1", "0", "12.50", "", "abc"].map(write)).toEqual(["-20%", "12,5%", "100%", "0%", "1250%", "", "abc"]);
  });
  it("are refused where the notation is another's: nothing is guessed", () => {
    for (const wrong of ["1.5", "1,2,3", "12.34,5", "1.23.456"]) expect(numberIn("de-DE")(wrong), wrong).toBeNull();
    for (const wrong of ["", ".", "-", "1,5", "12,34", "1,2345", "(5", "5)", "(-5)", "5 5", "1e3", "0x1", "abc"])
      expect(numberIn("en-GB")(wrong), wrong).toBeNull();
    expect(numberIn("de-DE")("1.500")).toBe("1500");
  });
  it("stand in the field without loss; what is no number stays as it was typed", () => {
    expect(["1234.5", "-0.05", "12", "abc", ""].map((plain) => writeTypedNumber(plain, { locale: "de-DE" }))).toEqual(["1234,5", "-0,05", "12", "abc", ""]);
  });
});

describe("values as they are typed", () => {
  const locale = { locale: "de-DE", zone: "UTC" };
  const read = (type: ValueType) => (typed: string) => readTyped(type, typed, locale, TODAY);
  it("are read by their type, timestamps with their time of day or without", () => {
    expect(["1.10.2026", "1.10.2026 9:05", "2026-10-01T09:05:07", "1.10.2026 25:00", "9:05"].map(read(timestamp))).toEqual([
      "2026-10-01",
      "2026-10-01 09:05:00",
      "2026-10-01 09:05:07",
      null,
      null,
    ]);
    expect([read(date)("1.10.2026"), read(date)("1.10.2026 9:05"), read(decimal(2))("1.234,5"), read(text)(" 1.234,5 ")]).toEqual([
      "2026-10-01",
      null,
      "1234.5",
      " 1.234,5 ",
    ]);
  });
  it("stand in a field as they are read from it; what fits no type stays as it is", () => {
    const kept: [ValueType, string, string][] = [
      [date, "2026-10-01", "1. Okt. 2026"],
      [date, "30/02/2026", "30/02/2026"],
      [timestamp, "2026-10-01 09:05:00", "1. Okt. 2026 09:05"],
      [timestamp, "2026-10-01 09:05:07", "1. Okt. 2026 09:05:07"],
      [decimal(2), "-1234.50", "-1234,50"],
      [text, "1.5", "1.5"],
    ];
    for (const [type, plain, shown] of kept) {
      expect(writeTyped(type, plain, locale)).toBe(shown);
      if (plain !== "30/02/2026") expect(read(type)(shown)).toBe(plain);
    }
  });
});
