import { z } from "zod";
import { posting } from "@/server/http/handle";
import { questionSchema, rowsOf } from "@/server/queries/service";

const shape = questionSchema.extend({ offset: z.number().int().min(0), rows: z.number().int().min(1).max(1000) });

export const POST = posting("viewer", shape, async ({ offset, rows, ...question }, { ws, caller }) => {
  const body = await rowsOf(ws, question, { offset, rows }, caller);
  return new Response(new Uint8Array(body), { headers: { "content-type": "application/json" } });
});
