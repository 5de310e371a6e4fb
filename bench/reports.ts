import { readFileSync } from "node:fs";
import { join } from "node:path";
import PDFDocument from "pdfkit";
import type { Plan } from "../src/core/query/plan";
import type { QuerySpec } from "../src/core/query/spec";
import { firstReport, newLevel } from "../src/core/report/plan";
import { scheduleSpecSchema } from "../src/core/schedule/spec";
import { WholeFile } from "../src/server/jobs/export/files";
import { fontPath } from "../src/server/jobs/export/fonts";
import { reportJob } from "../src/server/services/reports/service";
import { Scheduler } from "../src/server/services/scheduler/scheduler";
import type { Workspace } from "../src/server/services/workspace/workspace";
import { alone, ms, report, timed } from "./measure";

type Measured = { ws: Workspace; database: string; folder: string; list: QuerySpec; planOf: (spec: QuerySpec) => Plan };

/** A report of a thousand pages, and a thousand statements of one page each. */
export async function measureReports({ ws, database, folder, list, planOf }: Measured): Promise<void> {
  const firstRows = (rows: number): QuerySpec => ({
    ...list,
    conditions: [{ id: "w", left: { kind: "field", join: "", column: "id" }, operator: "atMost", values: [{ kind: "value", text: String(rows) }] }],
  });
  const long = firstRows(50_000);
  const job = await reportJob(ws, { ...firstReport("q", "A thousand pages", planOf(long)), own: long, levels: [newLevel("region")] });
  const path = join(folder, "out.pdf");
  const pdf = await alone({ kind: "reportFile", database, report: job, file: { format: "pdf", path } });
  const pages = (readFileSync(path, "latin1").match(/\/Type \/Page\b/g) ?? []).length;
  const bare = await timed(() => barePages(join(folder, "bare.pdf"), pages));
  report(`A report of ${pages.toLocaleString("en")} pages to PDF, most memory`, `${pdf.peakMb.toFixed(0)} MB`, "400 MB");
  report("  its time ÷ as many texts by the PDF library alone", `${(pdf.time / bare).toFixed(2)}× (${(pdf.time / 1000).toFixed(1)} s)`, "1.5×");
  report("  its first page on screen, cold", ms((await alone({ kind: "reportGlance", database, report: job })).time), "500 ms");
  report("  … with its outline and “1 of m”", ms((await alone({ kind: "reportPages", database, report: job, from: 1, to: 1 })).time), "none");

  const short = firstRows(20_000);
  const query = ws.catalogue.create("query", "Sales", short);
  const statement = ws.catalogue.create("report", "Statement", { ...firstReport(query.id, "Statement", planOf(short)), levels: [newLevel("shop")] });
  const schedule = scheduleSpecSchema.parse({
    version: 1,
    subject: { kind: "report", id: statement.id },
    rule: { kind: "daily" },
    time: "00:00",
    zone: "UTC",
    since: new Date(Date.now() - 86_400_000).toISOString(),
    bindings: {},
    formats: ["pdf"],
    folder: "statements",
    paused: false,
    each: { query: null, match: [{ from: "shop", to: { kind: "column", column: "shop" } }], fileName: "", to: null, skipEmpty: true },
  });
  ws.catalogue.create("schedule", "Statements", schedule);
  const time = await timed(() => new Scheduler(ws).tick());
  const [run] = ws.catalogue.runs.all();
  if (run?.state !== "done") throw new Error(`The statements were not made: ${run?.error}`);
  report(`${(run.files?.length ?? 0).toLocaleString("en")} statements of a page or so, proved, one file each`, `${(time / 1000).toFixed(1)} s`, "60 s");
}

/** Fifty lines of seven texts on each page, by the PDF library alone: no layout, no tags, no proof. */
function barePages(path: string, pages: number): Promise<void> {
  return new Promise((done, fail) => {
    const file = new WholeFile(path);
    const doc = new PDFDocument({ autoFirstPage: false });
    doc.on("data", (chunk: Buffer) => file.write(chunk));
    doc.on("error", fail);
    doc.on("end", () => {
      file.finish();
      done();
    });
    for (let page = 0; page < pages; page++) {
      doc.addPage({ size: "A4", margin: 0 }).font(fontPath("sans"), 9);
      for (let line = 0; line < 50; line++)
        for (let text = 0; text < 7; text++) doc.text(`${page * 50 + line},${text}`, 40 + text * 75, 40 + line * 15, { lineBreak: false });
    }
    doc.end();
  });
}
