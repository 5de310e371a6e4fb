import { describe, expect, it } from "vitest";
import { nextStep, stepDone, stepOfOpening, stepsSeen, WALK_QUERY, WALK_REPORT, WALK_STEPS } from "./walk";

describe("the demo's walk", () => {
  it("ticks each step off once, in its own order, and nothing after it is closed", () => {
    const some = stepDone(stepDone({ done: [], closed: false }, "control"), "open");
    expect(some.done).toEqual(["open", "control"]);
    expect(stepDone(some, "open")).toBe(some);
    const closed = { ...some, closed: true };
    expect(stepDone(closed, "print")).toBe(closed);
  });
  it("goes on with the first step that is not done", () => {
    expect(nextStep({ done: ["open", "control"], closed: false })).toBe("missing");
    expect(nextStep({ done: [...WALK_STEPS], closed: false })).toBe(null);
  });
  it("sees steps in what is opened and shown", () => {
    expect([WALK_QUERY, WALK_REPORT, "other"].map(stepOfOpening)).toEqual(["open", "print", null]);
    expect(stepsSeen({ missing: true, controls: [] })).toEqual(["missing"]);
    expect(stepsSeen({ missing: false, controls: [true, false] })).toEqual(["control"]);
    expect(stepsSeen({ missing: false, controls: [true, true] })).toEqual(["control", "agree"]);
  });
});
