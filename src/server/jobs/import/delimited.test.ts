import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { DelimitedText } from "./delimited";

const comma = { delimiter: ",", quote: '"' as const, heading: true };

/** The records of a text that comes in blocks of so many characters. */
function read(text: string, size = text.length, format: ConstructorParameters<typeof DelimitedText>[0] = comma): string[][] {
  const reader = new DelimitedText(format);
  const records: string[][] = [];
  for (let at = 0; at < text.length; at += Math.max(1, size)) records.push(...reader.after(text.slice(at, at + Math.max(1, size))));
  return [...records, ...reader.end()];
}

describe("delimited text", () => {
  it("is the same wherever its blocks end (RFC 4180, section 2: quotes doubled, lines and commas within quotes)", () => {
    const value = fc.string({ unit: fc.constantFrom("a", '"', ",", "\n", "\r", " ", "ž"), maxLength: 6 });
    const rows = fc
      .integer({ min: 2, max: 4 })
      .chain((width) => fc.array(fc.array(value, { minLength: width, maxLength: width }), { minLength: 1, maxLength: 6 }));
    fc.assert(
      fc.property(rows, fc.constantFrom("\n", "\r\n"), fc.integer({ min: 1, max: 9 }), fc.boolean(), (made, newline, size, ends) => {
        const text = made.map((row) => row.map((v) => (/[",\r\n]/.test(v) || v === "" ? `"${v.replaceAll('"', '""')}"` : v)).join(",")).join(newline);
        // A CR that ends the last value in its quotes is taken for one of the line's end.
        const told = made.map((row) => row.map((v, i) => (i === row.length - 1 ? v.replace(/\r$/, "") : v)));
        expect(read(text + (ends ? newline : ""), size)).toEqual(told);
      }),
    );
  });
  it.each<[string, string, string[][]]>([
    [
      "lines that end in CR LF, then in LF",
      "a,b\r\n1,2\n3,4\r\n",
      [
        ["a", "b"],
        ["1", "2"],
        ["3", "4"],
      ],
    ],
    [
      "lines that end in CR alone",
      '"a\r\nb",c\r1,2\r',
      [
        ["a\r\nb", "c"],
        ["1", "2"],
      ],
    ],
    [
      "empty lines, passed over",
      "a,b\n\n1,2\n\n\n",
      [
        ["a", "b"],
        ["1", "2"],
      ],
    ],
    ["one column: a quoted empty value is a row, an empty line is none", 'a\n\n""\nx\n"y\n""z"\n', [["a"], [""], ["x"], ['y\n"z']]],
    ["several of them, and a row after them", 'a\n""\n""\n""\nxyz', [["a"], [""], [""], [""], ["xyz"]]],
    [
      "quotes within a value that does not begin with one",
      'a,b\n5" pipe,2\n',
      [
        ["a", "b"],
        ['5" pipe', "2"],
      ],
    ],
    [
      "a quote that is not doubled, in a row of the right width",
      'a,b\n"1/2" pipe",2\n',
      [
        ["a", "b"],
        ['1/2" pipe', "2"],
      ],
    ],
    ["no line at all", "", []],
  ])("%s", (_, text, records) => {
    for (const size of [1, 2, 3, 100]) expect(read(text, size), `in blocks of ${size}`).toEqual(records);
  });
  it("is read with its quotes where none are said to be there", () => {
    expect(read('a,b\n"1,2\n', 2, { ...comma, quote: "" })).toEqual([
      ["a", "b"],
      ['"1', "2"],
    ]);
  });
  it.each([
    ["a value that is never closed", 'a,b\n1,2\n3,"x\n5,6\n', /a quoted value starts in row 2 and is never closed/],
    ["one in the first line", '"a,b\n1,2\n', /starts in the header row and is never closed/],
    ["a quote that would swallow the next line", 'a,b\n"x"y,1\n"z",2\n3,4\n', /a quoted value in row 1 contains a quote that is not doubled/],
    ["one that would swallow a column", 'a,b\n"x"y,"z"\n3,4\n', /a quoted value in row 1 contains a quote that is not doubled/],
    ["too many columns", `${"x,".repeat(1200)}\n1\n`, /more than 1000 columns/],
    ["a row that does not end", `a,b\n"${"x".repeat(4_100_000)}`, /longer than 4,000,000 characters/],
  ])("is refused, not read on, at %s", (_, text, why) => {
    for (const size of [100_000, text.length]) expect(() => read(text, size)).toThrow(why);
    if (text.length < 1000) expect(() => read(text, 1)).toThrow(why);
  });
  it("counts rows on over blocks", () => {
    expect(() => read('a,b\n1,2\n\n3,4\n5,6\n7,"', 4)).toThrow(/starts in row 4/);
    expect(() => read('1,2\n3,"', 100, { ...comma, heading: false })).toThrow(/starts in row 2/);
  });
});
