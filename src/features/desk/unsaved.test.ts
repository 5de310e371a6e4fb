import { expect, it } from "vitest";
import { unsavedOf } from "./unsaved";

it("reads what the tab's store says was left unsaved: an object by its id, a new one by its address", () => {
  expect(unsavedOf("unsaved query a1")).toEqual({ key: "unsaved query a1", kind: "query", id: "a1", href: "/queries/a1" });
  expect(unsavedOf("unsaved query /queries/new?from=crate")).toMatchObject({ id: null, href: "/queries/new?from=crate" });
  expect(unsavedOf("unsaved folio crate t1")).toBe(null);
  expect(unsavedOf("unsaved folio f1"), "what has no page of its own").toBe(null);
  expect(unsavedOf("unsaved query ")).toBe(null);
  expect(unsavedOf("other")).toBe(null);
});
