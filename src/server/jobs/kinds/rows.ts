import type { Statement } from "@/core/query/statement";
import type { Run } from "@/server/engine/protocol";
import { readingOf } from "@/server/source/read";
import { shownRows } from "@/server/source/rows";

declare module "@/server/engine/protocol" {
  interface Jobs {
    rows: { asks: { database: string; statement: Statement }; gives: Buffer };
  }
}

export const run: Run<"rows"> = ({ database, statement }) =>
  readingOf(database, [statement.plan], async (reader) => Buffer.from(JSON.stringify([...shownRows(await reader.answer(statement))])));
