import { expect, it } from "vitest";
import { groupsFor, isHere } from "./sections";

it("gives each role its sections, in groups without an empty one", () => {
  const names = (role: string) => groupsFor(role).map((g) => g.sections.map((s) => s.href));
  expect(names("analyst").flat()).toHaveLength(11);
  expect(names("viewer")).toEqual([
    ["/queries", "/pivots", "/charts"],
    ["/reports", "/letters", "/dashboards", "/pages"],
  ]);
});
it("knows the section a page belongs to", () => {
  const here = (path: string, href: string) => isHere(path, { href, name: "" });
  expect(here("/tables/crate/folio", "/tables")).toBe(true);
  expect(here("/tablespoon", "/tables")).toBe(false);
  expect(here("/", "/")).toBe(true);
  expect(here("/queries", "/")).toBe(false);
});
