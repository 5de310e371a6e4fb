import { z } from "zod";
import { letterSpecSchema } from "@/core/letter/spec";
import type { Role } from "@/core/people/roles";
import { chartOf, chartQuestionSchema } from "@/server/services/charts/service";
import { tileOf, tileQuestionSchema } from "@/server/services/dashboards/service";
import { dashboardOf } from "@/server/services/dashboards/tileRows";
import { controlsNow } from "@/server/services/desk/controls";
import { letterAt, letterProof, letterQuestionSchema } from "@/server/services/letters/service";
import { described, specOf } from "@/server/services/people/described";
import { pivotOf, pivotQuestionSchema, pivotRecountOf, recountQuestionSchema } from "@/server/services/pivots/service";
import { namesAsked, namesSchema } from "@/server/services/queries/rowNames";
import { footingOf, proofOf, questionSchema, rowsOf } from "@/server/services/queries/service";
import { glanceOf, pagesOf, reportQuestionSchema } from "@/server/services/reports/service";
import type { Workspace } from "@/server/services/workspace/workspace";
import { type Caller, posting } from "./handle";

/*
 * The questions whose answers are a page's first figures. A browser asks them by their routes; the server asks them with
 * the page itself (ahead.ts). Who asks the same at once waits for one answer, so a browser that asks what its page has
 * already begun joins that.
 */

type Work<B> = (ws: Workspace, body: B, caller: Caller) => Promise<unknown>;
type Answering = { access: Role; shape: z.ZodType<unknown>; work: Work<unknown> };

/** A body is checked by its shape before the work has it. */
const answering = <B>(access: Role, shape: z.ZodType<B>, work: Work<B>): Answering => ({ access, shape, work: work as Work<unknown> });

const windowShape = questionSchema.extend({ offset: z.number().int().min(0), rows: z.number().int().min(1).max(1000) });
const pagesShape = reportQuestionSchema.extend({ from: z.number().int().min(1), to: z.number().int().min(1) });
const letterShape = letterQuestionSchema.extend({ ...described(letterSpecSchema), at: z.number().int().min(0) });

const ANSWERS = {
  "/api/query/rows": answering("viewer", windowShape, (ws, { offset, rows, ...question }, caller) => rowsOf(ws, question, { offset, rows }, caller)),
  "/api/query/footing": answering("viewer", questionSchema, footingOf),
  "/api/query/proof": answering("viewer", questionSchema, proofOf),
  "/api/query/names": answering("viewer", namesSchema, namesAsked),
  "/api/pivots": answering("analyst", pivotQuestionSchema, pivotOf),
  "/api/pivots/recount": answering("analyst", recountQuestionSchema, pivotRecountOf),
  "/api/charts": answering("analyst", chartQuestionSchema, chartOf),
  "/api/dashboards/tile": answering("viewer", tileQuestionSchema, (ws, { spec, object, ...question }, caller) =>
    tileOf(ws, { ...question, spec: dashboardOf(ws, { spec, object }) }, ws.today, caller),
  ),
  "/api/report/pages": answering("viewer", pagesShape, pagesOf),
  "/api/report/glance": answering("viewer", reportQuestionSchema, glanceOf),
  "/api/desk/controls": answering("analyst", z.object({}), (ws, _, caller) => controlsNow(ws, caller)),
  "/api/letters/page": answering("viewer", letterShape, (ws, { at, spec, object, ...question }, caller) =>
    letterAt(ws, { ...question, spec: specOf(ws, { spec, object }, "letter", letterSpecSchema) }, at, caller),
  ),
  "/api/letters/proof": answering("analyst", letterQuestionSchema, letterProof),
} satisfies Record<string, Answering>;

export type AnswerPath = keyof typeof ANSWERS;

/**
 * The answer to a question, as a value or as JSON text.
 * @param keepMs how long it is kept for who is about to ask the same
 * @throws ZodError for a body of another shape; else what its work throws
 */
export async function answerTo(ws: Workspace, path: AnswerPath, body: unknown, caller: Caller, keepMs = 0): Promise<unknown> {
  const { shape, work } = ANSWERS[path];
  const asked = shape.parse(body);
  return ws.shared.run(JSON.stringify([await ws.state(), path, asked]), caller.signal, (signal) => work(ws, asked, { ...caller, signal }), keepMs);
}

/** The route of one of these questions. */
export const answerRoute = (path: AnswerPath) =>
  posting(ANSWERS[path].access, z.unknown(), async (body, { ws, caller }) => {
    const answer = await answerTo(ws.early(), path, body, caller);
    if (!Buffer.isBuffer(answer)) return Response.json(answer);
    return new Response(new Uint8Array(answer), { headers: { "content-type": "application/json" } });
  });
