import { existsSync, writeFileSync } from "node:fs";
import { join } from "node:path";
import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";
import type { Role } from "@/core/people/roles";
import type { People, Person } from "@/server/catalogue/people";
import { exportResponse } from "@/server/http/download";
import { bareLedger } from "../../../../test/support/ledger";
import type { Workspace } from "./workspace";

let ledger: ReturnType<typeof bareLedger>;
let people: People;
let ws: Workspace;
beforeEach(() => {
  ledger = bareLedger();
  people = ledger.people;
  ws = ledger.as();
});
afterEach(() => ledger.close());

const fillLog = () =>
  vi.spyOn(people, "record").mockImplementation(() => {
    throw new Error("no room");
  });

describe("a log that can take nothing", () => {
  it("keeps a deed of the catalogue from being done, whose line it cannot have", () => {
    const share = () => {
      people.share("q", "ada", "see");
      ws.record("shared", "q");
    };
    fillLog();
    expect(() => ws.recorded(share)).toThrow("no room");
    expect(people.sharesOf("q")).toEqual([]);
    vi.restoreAllMocks();
    ws.recorded(share);
    expect([people.sharesOf("q").length, people.logLines().map((l) => l.action)]).toEqual([1, ["shared"]]);
  });
  it("leaves what was done elsewhere as it is", () => {
    const said = vi.spyOn(console, "error").mockImplementation(() => {});
    fillLog();
    expect(() => ws.recordDone("posted", "m")).not.toThrow();
    expect(said).toHaveBeenCalledOnce();
    vi.restoreAllMocks();
  });
  it("hands out no file, and keeps none", () => {
    const path = join(ledger.folder, "out.csv");
    writeFileSync(path, "x");
    fillLog();
    expect(() => exportResponse(ws, path, "out", "csv")).toThrow("no room");
    expect(existsSync(path)).toBe(false);
    vi.restoreAllMocks();
  });
});

it("what all values showed otherwise than a sample is told in names of tables: not to those who only look", () => {
  const looking = { share: 0.5, retyped: [{ table: "parcel", column: "lane", from: { kind: "whole" as const }, to: { kind: "text" as const } }] };
  const lookedAt = (role: Role | null) => {
    const as = ledger.as(role && ({ id: "x", name: "X", role } as Person));
    Object.defineProperty(as, "shapes", { value: { looking } });
    return as.looking;
  };
  expect([lookedAt(null), lookedAt("analyst"), lookedAt("viewer")]).toEqual([looking, looking, { share: 0.5, retyped: [] }]);
});
