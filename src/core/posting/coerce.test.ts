import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { decimalText } from "../types/decimal";
import { date, decimal, floating, text, timestamp, type ValueType, whole, yesno } from "../types/valueType";
import { cellOfStored, coerce, type Place, type Stored } from "./coerce";

const place = (type: ValueType, storage: Place["storage"] = "plain", most?: number): Place => ({ label: "it", type, storage, most });
const stored = (value: Parameters<typeof coerce>[0], from: ValueType, to: Place, order: "ymd" | "dmy" | "mdy" = "dmy") => {
  const made = coerce(value, from, to, order);
  return "stored" in made ? made.stored : made.why;
};

describe("a value brought to a column", () => {
  it.each<[string, ValueType, Stored | string]>([
    ["12", whole, 12n],
    [" -7 ", whole, -7n],
    ["12.0", whole, 12n],
    ["12.5", whole, "12.5 has more decimal places than it (0)"],
    ["1e3", whole, "“1e3” is not a whole number"],
    ["9007199254740993", whole, 9007199254740993n],
    ["3/11/2026", date, "2026-11-03"],
    ["2026-11-03", date, "2026-11-03"],
    ["3 Nov 2026", date, "2026-11-03"],
    ["3.11.26", date, "2026-11-03"],
    ["30/02/2026", date, "“30/02/2026” is not a date"],
    ["13/13/2026", date, "“13/13/2026” is not a date"],
    ["2026-11-03 00:00", date, "2026-11-03"],
    ["2026-11-03 10:30", date, "“2026-11-03 10:30” is not a date"],
    ["3/11/2026 7:05", timestamp, "2026-11-03 07:05:00"],
    ["2026-11-03T23:59:58", timestamp, "2026-11-03 23:59:58"],
    ["2026-11-03 24:00", timestamp, "“2026-11-03 24:00” is not a timestamp"],
    ["Yes", yesno, 1n],
    ["false", yesno, 0n],
    ["perhaps", yesno, "“perhaps” is not a yes/no"],
    ["1.5e-3", floating, 0.0015],
    ["", whole, null],
    ["", text, ""],
  ])("“%s” as a %o", (source, type, expected) => expect(stored(source, text, place(type))).toBe(expected));
  it("takes the digits that are written of a number that comes of a division, and no more", () => {
    const carried: ValueType = { kind: "decimal", scale: 3, carried: true };
    expect(stored(1235, carried, place(decimal(2), "scaledInteger"))).toBe(124n);
    expect(stored(1235, carried, place(decimal(1)))).toBe("1.24 has more decimal places than it (1)");
    expect(stored("9007199254740993", whole, place(decimal(2), "scaledInteger"))).toBe(900719925474099300n);
  });
  it("reads day and month in the order it is told", () => {
    expect(stored("3/11/2026", text, place(date), "mdy")).toBe("2026-03-11");
    expect(stored("Nov 3, 2026", text, place(date), "mdy")).toBe("2026-11-03");
    expect(stored("3/11/2026", text, place(date), "ymd")).toBe("“3/11/2026” is not a date");
  });
  it("is refused where it is too long, and where its type has no place there", () => {
    expect(stored("Åseåseåse", text, place(text, "plain", 9))).toBe("Åseåseåse");
    expect(stored("Åseåseåseå", text, place(text, "plain", 9))).toContain("longer than the 9 characters");
    expect(stored("2026-11-03", date, place(whole))).toBe("“2026-11-03” is not a whole number");
    expect(stored(5, whole, place(date))).toBe("“5” is not a date");
    expect(stored({ misfit: "n/a" }, whole, place(whole))).toBe("“n/a” is not a whole number");
    expect(stored(2, whole, place(yesno))).toBe("“2” is not a yes/no");
  });
  it("changes between exact types without losing a digit", () => {
    expect(stored(1250, decimal(2), place(decimal(3), "scaledInteger"))).toBe(12500n);
    expect(stored(1250, decimal(2), place(decimal(1), "scaledInteger"))).toBe(125n);
    expect(stored(1255, decimal(2), place(decimal(1), "scaledInteger"))).toBe("12.55 has more decimal places than it (1)");
    expect(stored(1250, decimal(2), place(text))).toBe("12.50");
    expect(stored(1, yesno, place(text))).toBe("yes");
    expect(stored(12, whole, place(floating))).toBe(12);
  });
  it("comes back from storage as it went in, however a decimal is kept", () =>
    fc.assert(
      fc.property(
        fc.bigInt({ min: -(10n ** 13n), max: 10n ** 13n }),
        fc.integer({ min: 1, max: 2 }),
        fc.constantFrom("scaledInteger" as const, "digits" as const, "real" as const),
        (n, scale, storage) => {
          const to = place(decimal(scale), storage);
          const made = coerce(decimalText(n, scale), text, to, "ymd");
          expect("stored" in made && cellOfStored(made.stored, to)).toBe(Number(n));
        },
      ),
    ));
});
