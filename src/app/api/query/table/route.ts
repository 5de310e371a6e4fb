import { z } from "zod";
import { posting } from "@/server/http/handle";
import { questionSchema } from "@/server/services/queries/service";
import { tableOfQuery } from "@/server/services/shape/service";

const shape = questionSchema
  .pick({ spec: true, values: true })
  .extend({ name: z.string().trim().min(1, "Enter a table name.").max(100), from: z.string().max(200) });

/** Makes a table of a query's rows. */
export const POST = posting("analyst", shape, async ({ spec, values, name, from }, { ws, caller: { client } }) =>
  Response.json(await tableOfQuery(ws, { spec, values }, name, from, { client })),
);
