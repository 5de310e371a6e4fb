import { existsSync, writeFileSync } from "node:fs";
import { join } from "node:path";
import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";
import { temporaryFolder } from "../../../test/support/ledger";
import { Catalogue } from "../catalogue/catalogue";
import { exportResponse } from "../http/download";
import { People } from "../people/people";
import { Workspace } from "./workspace";

let place: ReturnType<typeof temporaryFolder>;
let catalogue: Catalogue;
let people: People;
let ws: Workspace;
beforeEach(() => {
  place = temporaryFolder();
  catalogue = new Catalogue(place.folder, "src/server/catalogue/migrations");
  people = new People(catalogue.db, () => new Date());
  // Without processes and a business database: the log needs neither.
  ws = Object.create(Workspace.prototype, { catalogue: { value: catalogue }, people: { value: people }, signedIn: { value: null } }) as Workspace;
});
afterEach(() => {
  catalogue.close();
  place.remove();
});
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
    const path = join(place.folder, "out.csv");
    writeFileSync(path, "x");
    fillLog();
    expect(() => exportResponse(ws, path, "out", "csv")).toThrow("no room");
    expect(existsSync(path)).toBe(false);
    vi.restoreAllMocks();
  });
});
