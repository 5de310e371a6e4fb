import { z } from "zod";
import { columnFormatSchema, valueTypeSchema } from "@/core/types/schemas";
import { posting } from "@/server/http/handle";

const words = (most: number) => z.string().max(most).nullable().optional();
const shape = z.object({
  table: z.string(),
  column: z.string(),
  set: z.object({
    label: words(100),
    unit: words(20),
    note: words(1000),
    type: valueTypeSchema.nullable().optional(),
    format: columnFormatSchema.nullable().optional(),
  }),
});

/** What a person says of a column; null takes it back. */
export const POST = posting("analyst", shape, ({ table, column, set }, { ws }) => {
  ws.needUnbound();
  ws.catalogue.setColumn(table, column, set);
  return Response.json({});
});
