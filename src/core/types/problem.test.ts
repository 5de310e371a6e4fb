import { describe, expect, it } from "vitest";
import { PROBLEM_CODES, ProblemError, problem, sentence } from "./problem";

describe("the sentence of a problem", () => {
  const given = new Proxy({}, { get: (_, name) => (name === "count" || name === "most" ? 7 : `A ${String(name)}`) });
  it.each(PROBLEM_CODES)("%s is whole: a capital, a full stop, nothing left open", (code) => {
    const words = sentence({ code, path: [], detail: given });
    expect(words).toMatch(/^[\p{Lu}“\d].{10,}[.:\p{L}]$/u);
    expect(words).not.toMatch(/!|\s{2}/);
  });
  it("stands with all others where several stand in the way", () => {
    const error = new ProblemError([problem("queryGone", ["query"]), problem("pivotEmpty", ["figures"])]);
    expect(error.message).toBe("The source query was deleted. Choose another query. No figures yet. Add one, or the row count.");
  });
});
