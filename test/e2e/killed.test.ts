import { execFileSync } from "node:child_process";
import { existsSync, readdirSync, readFileSync } from "node:fs";
import { join } from "node:path";
import Database from "better-sqlite3";
import { expect, it } from "vitest";
import { enter } from "../../scripts/enter.mjs";
import { freePort } from "../../scripts/ports.mjs";
import { serve } from "../../scripts/serve.mjs";
import { temporaryFolder } from "../support/ledger";
import { smtpServer } from "../support/smtp";

/* Two server processes on one data folder, and the one that prints is killed in the middle of it. */

const NOW = "2026-10-05T08:00:00Z";
const files = (folder: string) => (existsSync(folder) ? readdirSync(folder).sort() : []);
/** Waits for what happens by itself; so long only that a test that never ends says what it waits for, however slow the machine. */
async function until(what: string, seconds: number, test: () => boolean): Promise<void> {
  for (let i = 0; i < seconds * 20 && !test(); i++) await new Promise((done) => setTimeout(done, 50));
  expect(test(), what).toBe(true);
}

it("a run whose process is killed leaves nothing half made, and the other process makes it once", async () => {
  const { folder, remove } = temporaryFolder();
  execFileSync(process.execPath, ["dist/make-demo.mjs", folder, "--bare"]);
  const catalogue = new Database(join(folder, "catalogue.sqlite"));
  // Four months of waybills, so that printing takes long enough to be killed in.
  const spec = JSON.parse(catalogue.prepare("SELECT spec FROM object WHERE id = 'freight-statement-daily'").pluck().get() as string);
  const bindings = { start: { kind: "fixed", text: "2026-07-01" }, end: { kind: "fixed", text: "2026-10-31" } };
  catalogue.prepare("UPDATE object SET spec = ? WHERE id = 'freight-statement-daily'").run(JSON.stringify({ ...spec, bindings }));
  const runs = () => catalogue.prepare("SELECT state, attempt, rows FROM run").all() as { state: string; attempt: number; rows: number | null }[];
  const open = async () => serve({ data: folder, database: undefined, port: await freePort(0), env: { NEXT_LEDGER_NOW: NOW } });
  const first = await open();
  await until("the first process holds the lease", 120, () => catalogue.prepare("SELECT COUNT(*) FROM lease").pluck().get() === 1);
  const second = await open();
  try {
    const cookie = `session=${await enter(first.address)}`;
    await fetch(`${first.address}/api/schedules/freight-statement-daily/run`, { method: "POST", headers: { cookie } });
    await until("the run has begun to write", 240, () => files(join(folder, "tmp")).some((f) => f.endsWith(".part")));
    first.child.kill("SIGKILL");
    expect([files(join(folder, "outbox")), runs()]).toEqual([[], [{ state: "running", attempt: 1, rows: null }]]);
    await until("the second process has made it", 480, () => runs()[0]?.state === "done");
    expect(runs()).toMatchObject([{ state: "done", attempt: 2 }]);
    const made = files(join(folder, "outbox", "freight desk"));
    expect(made.map((f) => f.slice(-4))).toEqual([".csv", ".pdf"]);
    const business = new Database(join(folder, "business.sqlite"), { readonly: true });
    const count = business
      .prepare("SELECT COUNT(*) FROM consignment WHERE status <> 'void' AND lodged_on BETWEEN '2026-07-01' AND '2026-10-31'")
      .pluck()
      .get() as number;
    business.close();
    const [csv = "", pdf = ""] = made.map((f) => join(folder, "outbox", "freight desk", f));
    expect(readFileSync(csv, "utf8").trimEnd().split("\r\n")).toHaveLength(count + 1);
    const text = execFileSync("pdftotext", ["-layout", pdf, "-"], { encoding: "utf8", maxBuffer: 1e9 });
    expect(text).toContain(`All, ${new Intl.NumberFormat("en-GB").format(count)} rows`);
    // Nor does the engine that outlived its server leave anything.
    await until("no draft is left", 120, () => files(join(folder, "tmp")).length === 0);
  } finally {
    first.child.kill("SIGKILL");
    await second.stop();
    catalogue.close();
    remove();
  }
});

it("a run of one each whose process is killed goes on where it was: each file once, each message once", async () => {
  const { folder, remove } = temporaryFolder();
  execFileSync(process.execPath, ["dist/make-demo.mjs", folder, "--bare"]);
  const mail = await smtpServer();
  const catalogue = new Database(join(folder, "catalogue.sqlite"));
  // Addresses of the shippers, out of their names, stand beside what they lodged.
  const report = JSON.parse(catalogue.prepare("SELECT spec FROM object WHERE id = 'monthly-statement'").pluck().get() as string);
  report.own.columns.push({ id: "mail", label: "Mail", value: { kind: "formula", text: "REPLACE(LOWER(shipper.name), ' ', '.') || '@isles.example'" } });
  catalogue.prepare("UPDATE object SET spec = ? WHERE id = 'monthly-statement'").run(JSON.stringify(report));
  const spec = JSON.parse(catalogue.prepare("SELECT spec FROM object WHERE id = 'freight-statement-daily'").pluck().get() as string);
  const each = { query: null, match: [{ from: "shipper", to: { kind: "column", column: "shipper" } }], fileName: "shipper", to: "mail", skipEmpty: true };
  const message = { to: [], subject: "Statement of {shipper}", text: "{rows} consignments.", attach: true };
  const next = { ...spec, subject: { kind: "report", id: "monthly-statement" }, bindings: {}, formats: ["pdf"], folder: "statements", each, message };
  catalogue.prepare("UPDATE object SET spec = ? WHERE id = 'freight-statement-daily'").run(JSON.stringify(next));
  const states = () => catalogue.prepare("SELECT state FROM run_item ORDER BY place").pluck().all() as string[];
  const done = () => states().filter((state) => state !== "waiting").length;
  const open = async () => serve({ data: folder, database: undefined, port: await freePort(0), env: { NEXT_LEDGER_NOW: NOW, NEXT_LEDGER_SMTP: mail.url } });
  const first = await open();
  await until("the first process holds the lease", 120, () => catalogue.prepare("SELECT COUNT(*) FROM lease").pluck().get() === 1);
  const second = await open();
  try {
    const cookie = `session=${await enter(first.address)}`;
    await fetch(`${first.address}/api/schedules/freight-statement-daily/run`, { method: "POST", headers: { cookie } });
    await until("some are made", 240, () => done() >= 5);
    first.child.kill("SIGKILL");
    const [count, before] = [states().length, done()];
    expect(before).toBeLessThan(count);
    expect(files(join(folder, "outbox", "statements")).length).toBeGreaterThanOrEqual(before);
    await until("the second process has sent all", 480, () => catalogue.prepare("SELECT state FROM run").pluck().get() === "done");
    expect(states()).toEqual(states().map(() => "sent"));
    const recipients = mail.delivered.map((m) => m.to.join());
    expect([recipients.length, new Set(recipients).size]).toEqual([count, count]);
    const made = files(join(folder, "outbox", "statements"));
    expect([made.filter((f) => f.endsWith(".pdf")).length, made.filter((f) => f.endsWith(".eml")).length]).toEqual([count, count]);
    const business = new Database(join(folder, "business.sqlite"), { readonly: true });
    const sum = (sql: string) =>
      business
        .prepare(
          `SELECT ${sql} FROM consignment WHERE status IS NOT 'void' AND shipper_id IN (SELECT id FROM shipper) AND lodged_on BETWEEN '2026-10-01' AND '2026-10-31'`,
        )
        .pluck()
        .get() as number;
    expect(catalogue.prepare("SELECT SUM(rows) FROM run_item").pluck().get()).toBe(sum("COUNT(*)"));
    business.close();
  } finally {
    first.child.kill("SIGKILL");
    await second.stop();
    await mail.close();
    catalogue.close();
    remove();
  }
});
