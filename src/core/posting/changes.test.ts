import { describe, expect, it } from "vitest";
import { changesIn, changesText } from "./changes";

describe("what a posting did, in signs", () => {
  it.each([
    [{ add: 2300, change: 200, remove: 0 }, "+2300 ~200", "several"],
    [{ add: 0, change: 200, remove: 2300 }, "~200 −2300", "several"],
    [{ add: 5, change: 0, remove: 0 }, "+5", "add"],
    [{ add: 0, change: 0, remove: 7 }, "−7", "remove"],
    [{ add: 0, change: 3, remove: 0 }, "~3", "change"],
    [{ add: 0, change: 0, remove: 0 }, "~0", null],
  ])("%o", (changes, text, only) => expect([changesText(changes, String), changesIn(changes)]).toEqual([text, only]));
});
