import { posting } from "@/server/http/handle";
import { reportJob, reportOf, reportQuestionSchema } from "@/server/reports/service";

/** The first page of a report, before all its pages are counted. */
export const POST = posting("viewer", reportQuestionSchema, async (asked, { ws, caller }) => {
  const report = await reportJob(ws, reportOf(ws, asked));
  return Response.json({ pages: await ws.engine.run<"reportGlance">({ kind: "reportGlance", database: ws.database, report }, caller) });
});
