import { expect, it } from "vitest";
import { readRegexp, regexpTest } from "./regexp";

/* Regular expressions as engines agree on them, by hand. */

it.each([
  ["^BW-\\d+$", "^BW-[0-9]+$"],
  ["a.c", "a[^\\n]c"],
  ["[^\\w.-]", "[^A-Za-z0-9_.\\-]"],
  ["(ab|c){2,4}", "(ab|c){2,4}"],
  ["a{3}", "a{3}"],
  ["a{2,}", "a{2,}"],
  ["x/y", "x/y"],
  ["\\/\\-", "/-"],
  ["é+", "é+"],
])("%s is read", (source, read) => {
  expect(readRegexp(source)).toBe(read);
  expect(() => regexpTest(read)).not.toThrow();
});

it.each(["", "*a", "a**", "a+?", "(a", "a)", "a||b", "()", "[]", "[a", "[z-a]", "a{4,2}", "a{300}", "a{,2}", "\\", "\\b", "(?=a)", "\\1", "a]", "[\\", "{2}"])(
  "%s is refused",
  (source) => expect(readRegexp(source)).toBeNull(),
);

it("is found anywhere in a text, unless it is bound to its ends", () => {
  expect(regexpTest(readRegexp("b\\d") ?? "")("ab1")).toBe(true);
  expect(regexpTest(readRegexp("^b") ?? "")("ab")).toBe(false);
  expect(regexpTest(readRegexp("a.b") ?? "")("a\nb")).toBe(false);
});
