import { expect, it } from "vitest";
import { newWordOn, readKnown } from "./newWords";

it("a word of our own is explained where it is met, until it is known", () => {
  const on = (path: string, known: string[] = []) => newWordOn(path, known)?.word;
  expect(["/queries/q", "/queries/new", "/tables/shipper/folio", "/postings", "/postings/entry/3", "/pivots/p"].map((path) => on(path))).toEqual([
    "brief",
    "brief",
    "folio",
    "posting",
    "posting",
    "pivot",
  ]);
  expect(["/", "/queries", "/tables/shipper", "/tables", "/postingsheet"].map((path) => on(path))).toEqual(Array(5).fill(undefined));
  expect([on("/queries/q", ["brief"]), on("/queries/q", ["folio"])]).toEqual([undefined, "brief"]);
});

it("what a browser kept is read where it can be", () => {
  expect(readKnown('["brief",3,"folio"]')).toEqual(["brief", "folio"]);
  for (const kept of [null, "", "{}", "no JSON", "3"]) expect(readKnown(kept)).toEqual([]);
});
