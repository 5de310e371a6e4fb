import { expect, it } from "vitest";
import { arrive, cameFrom, isBack, readTrail, type Stop, type Trail } from "./trail";

const stop = (address: string): Stop => ({ address, name: address });
const walked = (...addresses: string[]): Trail =>
  addresses.slice(1).reduce<Trail>((trail, address) => arrive(trail, stop(address), "within"), { stops: [], here: stop(addresses[0] ?? "/") });

it("remembers the pages one came by, with what they asked for", () => {
  const trail = walked("/", "/dashboards/d?start=1", "/queries/q");
  expect(trail.stops.map((s) => s.address)).toEqual(["/", "/dashboards/d?start=1"]);
  expect(cameFrom(trail)).toEqual(stop("/dashboards/d?start=1"));
});

it("goes back where a page is opened again, and does not count another question on the same page", () => {
  const trail = walked("/", "/dashboards/d", "/queries/q");
  expect(isBack(trail, "/dashboards/d?x=1")).toBe(true);
  expect(arrive(trail, stop("/dashboards/d?x=1"), "within")).toEqual({ stops: [stop("/")], here: stop("/dashboards/d?x=1") });
  expect(arrive(trail, stop("/queries/q?y=2"), "within")).toEqual({ stops: trail.stops, here: stop("/queries/q?y=2") });
  expect(isBack(trail, "/queries/q")).toBe(false);
});

it("begins anew with a section, and forgets what is long past", () => {
  expect(arrive(walked("/", "/queries/q"), stop("/tables"), "section")).toEqual({ stops: [], here: stop("/tables") });
  const long = walked(...Array.from({ length: 12 }, (_, i) => `/queries/${i}`));
  expect(long.stops.map((s) => s.address)).toEqual(["3", "4", "5", "6", "7", "8", "9", "10"].map((i) => `/queries/${i}`));
});

it("says where one came from, but not the list of one's own section, nor where the page says it", () => {
  expect(cameFrom(walked("/", "/queries/q"))).toEqual(stop("/"));
  expect(cameFrom(walked("/queries", "/queries/q"))).toBeNull();
  expect(cameFrom(walked("/queries", "/reports/r"))).toEqual(stop("/queries"));
  expect(cameFrom(walked("/queries/q", "/tables/shipper/folio?k=3"))).toBeNull();
  expect(cameFrom(walked("/queries/q"))).toBeNull();
});

it("is read only where it was kept for this page, and leads nowhere else", () => {
  const trail = walked("/", "/queries/q");
  const kept = JSON.stringify(trail);
  expect(readTrail(kept, stop("/queries/q?a"))).toEqual({ stops: [stop("/")], here: stop("/queries/q?a") });
  const none = { stops: [], here: stop("/queries/other") };
  expect(readTrail(kept, stop("/queries/other"))).toEqual(none);
  for (const wrong of [null, "", "{}", "not JSON", JSON.stringify({ stops: [{ address: "//elsewhere.example", name: "x" }], here: none.here })])
    expect(readTrail(wrong, none.here)).toEqual(none);
});
