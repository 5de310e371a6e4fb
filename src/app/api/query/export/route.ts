import { z } from "zod";
import { proofColumn } from "@/core/proof/followed";
import { withNameColumns } from "@/core/query/nameColumns";
import { ROW_FORMATS } from "@/core/schedule/choices";
import { exportResponse, temporaryPath } from "@/server/http/download";
import { posting } from "@/server/http/handle";
import { printedBrief } from "@/server/services/queries/printedBrief";
import { planOf, questionSchema } from "@/server/services/queries/service";

const shape = questionSchema.extend({
  name: z.string().max(200),
  format: z.enum(ROW_FORMATS),
  /** No text is taken for a formula by a sheet program. */
  guarded: z.boolean().optional(),
  /** The names of rows in columns of their own, beside the keys. */
  names: z.boolean().optional(),
  /** The brief, the parameters' values and the proof, beside the rows. */
  about: z.boolean().optional(),
});

export const POST = posting("analyst", shape, async ({ spec, values, name, format, guarded, names, about }, { ws, caller }) => {
  const kind = about && format !== "xlsx" ? "zip" : format;
  const path = temporaryPath(ws.folder, kind);
  const own = await planOf(ws, spec, values);
  const plan = names ? await planOf(ws, withNameColumns(spec, await ws.schema(), own), values) : own;
  const told = about && {
    title: name,
    brief: await printedBrief(ws, spec, own),
    printedAt: ws.printedAt(),
    locale: ws.locale,
    figure: proofColumn(plan, spec.proofColumn)?.id ?? null,
  };
  const job = { kind: "export" as const, format, database: ws.database, plan, path, ...(guarded ? { guarded } : {}), ...(told ? { about: told } : {}) };
  await ws.engine.run<"export">(job, { ...caller, timeLimitMs: 1_800_000 });
  return exportResponse(ws, path, name, kind);
});
