import type { Statement } from "@/core/query/statement";
import type { Run } from "@/server/engine/protocol";
import { readingOf } from "@/server/source/read";
import { shownRows } from "@/server/source/rows";

/** Rows as JSON text, and the moment (ISO 8601) that they are of where it is an earlier one. */
type Rows = { json: Buffer; asOf: string | null };

declare module "@/server/engine/protocol" {
  interface Jobs {
    rows: { asks: { database: string; statement: Statement; asOf?: string[] }; gives: Rows };
  }
}

export const run: Run<"rows"> = ({ database, statement, asOf }) =>
  readingOf(
    database,
    [statement.plan],
    async (reader) => ({ json: Buffer.from(JSON.stringify([...shownRows(await reader.answer(statement))])), asOf: reader.asOf }),
    asOf,
  );
