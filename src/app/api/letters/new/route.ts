import { z } from "zod";
import { writtenName } from "@/core/expression/parse";
import { firstLetter } from "@/core/letter/spec";
import { probeValues } from "@/core/query/operands";
import { posting } from "@/server/http/handle";
import { addressOf } from "@/server/letters/service";
import { planOf, savedQuery } from "@/server/queries/service";
import { workspace } from "@/server/workspace/workspace";

export const POST = posting(z.object({ query: z.string() }), async ({ query }) => {
  const ws = workspace();
  const { name, spec } = savedQuery(ws, query);
  const plan = await planOf(ws, spec, probeValues(spec.parameters));
  return Response.json(ws.catalogue.create("letter", `${name}, letter`, firstLetter(query, ws.company, addressOf(plan, writtenName))));
});
