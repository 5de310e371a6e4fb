import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { brief, euros, proved, written } from "../support/question";
import { type Application, type Desk, openApplication, post } from "../support/server";

/* A query held against a list from elsewhere, by mouse and by keyboard; the result is a query like any other. */

let app: Application;
beforeAll(async () => {
  app = await openApplication();
});
afterAll(() => app?.close());

const OCTOBER = "lodged_on BETWEEN '2026-10-01' AND '2026-10-31' AND (status <> 'void' OR status IS NULL)";
/** The agent's list by waybill, as the test sees it past the application. */
const THERE = 'SELECT "Waybill" AS no, COUNT(*) AS n FROM agent_manifest GROUP BY 1';
const HERE = `SELECT waybill_no AS no, COUNT(*) AS n FROM consignment WHERE ${OCTOBER} GROUP BY 1`;
const counted = (where: string): string => written(app.one(`SELECT COUNT(*) FROM (${HERE}) h FULL JOIN (${THERE}) t ON t.no = h.no WHERE ${where}`)[0]);

const chip = (desk: Desk, words: string) => desk.reads("fieldset button", words);

describe("a query and a list", () => {
  it("are compared by the key the names suggest; chips show what is only here, only there, doubled; the account holds both sides", async () => {
    const desk = await app.sheet("/queries/freight-by-shipper");
    await desk.click("Compare with…", "aside button");
    await desk.page.waitForSelector("[aria-label='Find a table']");
    await desk.page.keyboard.type("agent");
    await desk.key("Enter");
    await brief(desk, /Compare Freight lodged by shipper with agent manifest by waybill/);
    await chip(desk, `only here ${counted("t.no IS NULL")}`);
    await chip(desk, `only there ${counted("h.no IS NULL AND t.n = 1")}`);
    await chip(desk, `doubled ${counted("t.n > 1")}`);
    await chip(desk, `the same ${counted("h.n = 1 AND t.n = 1")}`);
    await desk.reads("[data-testid=reconciliation]", `agent manifest ${written(app.one("SELECT COUNT(*) FROM agent_manifest")[0])}`);
    await desk.reads("aside", "The account has all rows of both sides");
    await proved(desk);
    // Only what the list has alone, by keyboard.
    for (const state of ["only here", "different", "doubled"]) {
      await desk.page.evaluate(
        (words) => [...document.querySelectorAll("fieldset button")].find((b) => b.textContent?.startsWith(words))?.setAttribute("data-at", words),
        state,
      );
      await desk.page.focus(`fieldset button[data-at='${state}']`);
      await desk.key("Enter");
    }
    await brief(desk, "where state is only there");
    await desk.reads("[data-testid=status]", `${counted("h.no IS NULL AND t.n = 1")} rows`);
    expect(desk.complaints).toEqual([]);
  });

  it("are compared field by field within a tolerance, saved, and read like any query", async () => {
    const desk = await app.sheet("/queries/freight-by-shipper");
    await desk.click("Compare with…", "aside button");
    await desk.page.waitForSelector("[aria-label='Find a table']");
    await desk.page.keyboard.type("consignment");
    await desk.key("Enter");
    await desk.reads("[data-testid=status]", /\d rows/);
    await desk.click("weight", "p button");
    await desk.click("Remove pair", ".popover button");
    await desk.choose("Field here", "freight");
    await desk.choose("Field there", "insurance");
    await brief(desk, /by waybill \(there waybill no\): freight \(there insurance\) ?, with differences up to 0 taken as the same/);
    await desk.key("Escape");
    const differ = (least: number) =>
      written(app.one(`SELECT COUNT(*) FROM consignment WHERE ${OCTOBER} AND ABS(freight_charge - COALESCE(insurance, -1e9)) > ${least}`)[0]);
    await chip(desk, `different ${differ(0)}`);
    await desk.click("0", "p button");
    await desk.type("Differences that count as the same, up to", "50");
    await desk.key("Enter");
    await brief(desk, /differences up to 50 ?taken as the same|differences up to 50 taken/);
    await chip(desk, `different ${differ(5000)}`);
    const [here, there] = [app.one(`SELECT SUM(freight_charge) FROM consignment WHERE ${OCTOBER}`)[0], app.one("SELECT SUM(insurance) FROM consignment")[0]];
    await desk.reads("[data-testid=reconciliation]", `there less here ${euros(Number(there) - Number(here)).replace(/^-(.*)/, "($1)")}`);
    await proved(desk);
    await desk.click("Save");
    await desk.page.waitForFunction(() => /\/queries\/[\w-]{20,}$/.test(location.pathname));
    const id = new URL(desk.page.url()).pathname.split("/").pop() ?? "";
    const again = await app.sheet(`/queries/${id}`);
    await chip(again, `different ${differ(5000)}`);
    await proved(again);
    // A pivot over it is made like over any other.
    expect((await app.fetch("/api/pivots/new", post({ query: id }))).status).toBeLessThan(300);
    expect([...desk.complaints, ...again.complaints]).toEqual([]);
  });

  it("a query is held against itself at an earlier time, by parameters of the other side", async () => {
    const desk = await app.sheet("/queries/freight-by-shipper");
    await desk.click("Compare with…", "aside button");
    await desk.page.waitForSelector("[aria-label='Find a table']");
    await desk.page.keyboard.type("Freight lodged by shipper");
    await desk.key("Enter");
    await chip(desk, "only here 0");
    await desk.type("start there", "1 Sep 2026");
    await desk.key("Tab");
    await desk.type("end there", "30 Sep 2026");
    await desk.key("Tab");
    await chip(desk, `only here ${written(app.one(`SELECT COUNT(*) FROM consignment WHERE ${OCTOBER}`)[0])}`);
    await chip(
      desk,
      `only there ${written(app.one(`SELECT COUNT(*) FROM consignment WHERE ${OCTOBER.replaceAll("2026-10", "2026-09").replace("09-31", "09-30")}`)[0])}`,
    );
    await proved(desk);
    expect(desk.complaints).toEqual([]);
  });
});
