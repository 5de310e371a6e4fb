import { z } from "zod";
import { JOURNAL_EXPORTS } from "@/core/posting/journalFind";
import { journalFindSchema } from "@/core/posting/journalSpec";
import { ROW_FORMATS } from "@/core/schedule/choices";
import { exportResponse, temporaryPath } from "@/server/http/download";
import { posting } from "@/server/http/handle";
import { writeJournal } from "@/server/services/posting/journalService";

const shape = z.object({ find: journalFindSchema, what: z.enum(JOURNAL_EXPORTS), name: z.string().max(200), format: z.enum(ROW_FORMATS) });

/** Entries of the journal, or the values that they changed, as a file. */
export const POST = posting("analyst", shape, async ({ find, what, name, format }, { ws, caller }) => {
  const path = temporaryPath(ws.folder, format);
  await writeJournal(ws, { find, what }, { format, path }, caller);
  return exportResponse(ws, path, name, format);
});
