import { z } from "zod";
import { journalFindSchema } from "@/core/posting/journalSpec";
import { posting } from "@/server/http/handle";
import { journalOf } from "@/server/services/posting/journalService";

/** Entries of the journal, the latest first; those before one that was listed already. */
export const POST = posting("analyst", z.object({ find: journalFindSchema, before: z.number().int().nullable() }), async ({ find, before }, { ws, caller }) =>
  Response.json(await journalOf(ws, caller, find, before)),
);
