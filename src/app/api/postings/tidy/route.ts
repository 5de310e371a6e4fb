import { z } from "zod";
import { tidyPosting, tidySchema } from "@/core/posting/tidy";
import { findTable, mayChange, storedColumns } from "@/core/schema/schema";
import { WORDS } from "@/features/postings/words";
import { Refusal } from "@/server/common/refusal";
import { posting } from "@/server/http/handle";

const shape = z.object({ table: z.string(), column: z.string(), tidy: tidySchema });

/** A draft posting that tidies a column; nothing is changed until it is posted. */
export const POST = posting("analyst", shape, async ({ table: name, column: wanted, tidy }, { ws }) => {
  const table = findTable(await ws.schema(), name);
  const column = table && storedColumns(table).find((c) => c.name === wanted && !c.generated);
  if (!table || !mayChange(table) || !column) throw new Refusal(404, WORDS.thisTableDoesNotExist);
  if (table.key.length === 0) throw new Refusal(422, WORDS.tidyNeedsKey);
  return Response.json({
    id: ws.objects.createNumbered("posting", WORDS.tidyName(WORDS.tidies[tidy.kind], column.label, table.label), tidyPosting(tidy, table, column)).id,
  });
});
