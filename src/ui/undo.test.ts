import { describe, expect, it } from "vitest";
import { type History, history } from "./undo";

const start: History<string> = { past: [], present: "a", future: [] };

describe("undo and redo", () => {
  it("goes back and forth, and forgets what was undone once something else is changed", () => {
    const changed = history(history(start, { do: "change", next: "b" }), { do: "change", next: "c" });
    const undone = history(changed, { do: "undo" });
    expect(undone).toEqual({ past: ["a"], present: "b", future: ["c"] });
    expect(history(undone, { do: "redo" })).toEqual(changed);
    expect(history(undone, { do: "change", next: "d" })).toEqual({ past: ["a", "b"], present: "d", future: [] });
  });
  it("stays where it is at either end, and where nothing changes", () => {
    expect(history(start, { do: "undo" })).toBe(start);
    expect(history(start, { do: "redo" })).toBe(start);
    expect(history(start, { do: "change", next: "a" })).toBe(start);
    expect(history(start, { do: "reset", to: "z" })).toEqual({ past: [], present: "z", future: [] });
  });
});
