import { z } from "zod";
import { posting } from "@/server/http/handle";
import { duplicatesOf } from "@/server/services/duplicates/service";

const shape = z.object({ table: z.string(), columns: z.array(z.string()).min(1, "Choose a column to compare by.").max(20), near: z.boolean() });

/** Rows of a table that are alike. */
export const POST = posting("analyst", shape, async ({ table, columns, near }, { ws, caller }) =>
  Response.json(await duplicatesOf(ws, table, columns, near, caller)),
);
