import { describe, expect, it } from "vitest";
import { isPattern, likeTest, withBackslash } from "./like";

describe("patterns of LIKE", () => {
  it.each([
    ["50%", "50 off", true],
    ["50\\%", "50%", true],
    ["50\\%", "50 off", false],
    ["a_c", "abc", true],
    ["a\\_c", "abc", false],
    ["a\\_c", "a_c", true],
    ["%.(x)", "y.(x)", true],
    ["_", "𝄞", true],
    ["a%", "a\nb", true],
    ["", "", true],
    ["abc", "abcd", false],
  ])("%s of %j: %s", (pattern, text, holds) => expect(likeTest(pattern)(text)).toBe(holds));
  it("are whole unless they end in their escape", () => {
    expect(["a\\", "a\\\\", "\\", "a!"].map((p) => isPattern(p))).toEqual([false, true, false, true]);
    expect([isPattern("a!", "!"), isPattern("a!!", "!"), isPattern("a\\", null)]).toEqual([false, true, true]);
  });
  it("are written with a backslash as their escape, whatever it was", () => {
    expect([withBackslash("50!%%", "!"), withBackslash("a\\b", null), withBackslash("!_!!", "!")]).toEqual(["50\\%%", "a\\\\b", "\\_!"]);
  });
});
