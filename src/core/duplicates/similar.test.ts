import { distance } from "fastest-levenshtein";
import { describe, expect, it } from "vitest";
import { seeded } from "../../../demo/random";
import { type AlikeGroup, firstChoices, likeliestKept, mergedGroups, namesFew, withChoice } from "./merging";
import { similarGroups, similarKey } from "./similar";

const found = (names: string[], near = false) =>
  similarGroups(
    names.map((n) => [n]),
    near,
  ).map((g) => [g.rows.map((r) => names[r]), g.near]);

describe("names that are alike", () => {
  it("differ in case, accents, punctuation, blanks and the order of words", () => {
    expect(similarKey("  Kilns, FENNIMORE & Co. ")).toBe(similarKey("Fénnimore kilns co"));
    expect(found(["Pell Ltd.", "Oat", "pell  LTD", "Oats", "", " ", "."])).toEqual([[["Pell Ltd.", "pell  LTD"], false]]);
    expect(
      similarGroups(
        [
          ["a b", "c"],
          ["a", "b c"],
          ["b a", "C"],
          ["a b", ""],
        ],
        false,
      ),
    ).toEqual([{ rows: [0, 2], near: false }]);
  });
  it("by one letter, where that is wished; never by a digit, nor in short names", () => {
    expect(found(["Fennimore Kilns", "Fennimore Kiln", "Fenimore Kilns", "Rowan", "Rowen", "Cat", "Car"], true)).toEqual([
      [["Fennimore Kilns", "Fennimore Kiln", "Fenimore Kilns"], true],
      [["Rowan", "Rowen"], true],
    ]);
    expect(found(["Berth 11", "Berth 12", "Berth 111", "berth-11"], true)).toEqual([[["Berth 11", "berth-11"], false]]);
    expect(found(["Rowan", "Rowen"])).toEqual([]);
  });
  it("are those that comparing each with every other finds", () => {
    const random = seeded(7).next;
    const names = Array.from({ length: 300 }, () => Array.from({ length: 5 + Math.floor(random() * 3) }, () => "abc"[Math.floor(random() * 3)]).join(""));
    const heads = names.map((_, i) => i);
    const head = (i: number): number => (heads[i] === i ? i : head(heads[i] as number));
    for (const [i, a] of names.entries()) for (const [j, b] of names.slice(0, i).entries()) if (distance(a, b) <= 1) heads[head(i)] = head(j);
    const slow = new Map<number, number[]>();
    for (const i of names.keys()) slow.set(head(i), [...(slow.get(head(i)) ?? []), i]);
    expect(
      similarGroups(
        names.map((n) => [n]),
        true,
      ).map((g) => g.rows),
    ).toEqual([...slow.values()].filter((g) => g.length > 1).sort((a, b) => (a[0] ?? 0) - (b[0] ?? 0)));
  });
});

describe("what is merged", () => {
  const row = (key: string, links: number, ...cells: (string | null)[]) => ({ key: [key], cells, links });
  const groups: AlikeGroup[] = [
    { near: false, rows: [row("1", 0, "a", "b"), row("2", 3, "a", null), row("3", 3, "A", "x")] },
    { near: true, rows: [row("4", 0, "rowan"), row("5", 0, "rowen")] },
  ];
  const all = { groups: 2, rows: 3, of: 40 };
  const found = { groups, all };
  it("is nothing at first where so many are alike that they are hardly names", () => {
    expect(namesFew({ all: { groups: 2, rows: 8, of: 40 } })).toBe(false);
    expect(firstChoices({ groups, all: { groups: 2, rows: 9, of: 40 } }).map((c) => c.merged)).toEqual([false, false]);
  });
  it("goes into the row that most lead to, of those the fullest; what is only near is left", () => {
    expect(groups.map(likeliestKept)).toEqual([2, 0]);
    expect(mergedGroups(groups, firstChoices(found))).toEqual([{ keep: ["3"], others: [["1"], ["2"]] }]);
    const chosen = withChoice(withChoice(firstChoices(found), 0, { merged: false }), 1, { merged: true, keep: 1 });
    expect(mergedGroups(groups, chosen)).toEqual([{ keep: ["5"], others: [["4"]] }]);
    expect(mergedGroups(groups, [])).toEqual([]);
  });
});
