import { z } from "zod";
import { posting } from "@/server/http/handle";
import { derivedUsesOf, dropUsesOf } from "@/server/services/shape/service";

/** What stops working without a table, or without a derived field. */
export const POST = posting("analyst", z.union([z.object({ table: z.string() }), z.object({ derived: z.string() })]), async (body, { ws }) =>
  Response.json(await ("table" in body ? dropUsesOf(ws, body.table) : derivedUsesOf(ws, body.derived))),
);
