import { z } from "zod";
import { writtenName } from "@/core/expression/parse";
import { firstLetter } from "@/core/letter/spec";
import { probeValues } from "@/core/query/parameters";
import { WORDS } from "@/features/letters/words";
import { posting } from "@/server/http/handle";
import { addressOf } from "@/server/services/letters/service";
import { madeOfSchema, queryToUse } from "@/server/services/queries/ownQuery";
import { planOf } from "@/server/services/queries/service";
import { settingsOf } from "@/server/services/workspace/settings";

export const POST = posting("analyst", z.object(madeOfSchema), async (of, { ws }) => {
  const { id: query, name, spec, keep } = await queryToUse(ws, of);
  const plan = await planOf(ws, spec, probeValues(spec.parameters));
  const letter = firstLetter(query, ws.company, addressOf(plan, writtenName), settingsOf(ws).paper);
  keep();
  return Response.json(ws.objects.createNumbered("letter", WORDS.letterOf(name), letter));
});
