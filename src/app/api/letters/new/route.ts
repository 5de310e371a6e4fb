import { z } from "zod";
import { writtenName } from "@/core/expression/parse";
import { firstLetter } from "@/core/letter/spec";
import { probeValues } from "@/core/query/parameters";
import { WORDS } from "@/features/letters/words";
import { posting } from "@/server/http/handle";
import { addressOf } from "@/server/letters/service";
import { savedQuery } from "@/server/queries/saved";
import { planOf } from "@/server/queries/service";
import { settingsOf } from "@/server/workspace/settings";

export const POST = posting("analyst", z.object({ query: z.string() }), async ({ query }, { ws }) => {
  const { name, spec } = savedQuery(ws, query);
  const plan = await planOf(ws, spec, probeValues(spec.parameters));
  return Response.json(ws.objects.create("letter", WORDS.letterOf(name), firstLetter(query, ws.company, addressOf(plan, writtenName), settingsOf(ws).paper)));
});
