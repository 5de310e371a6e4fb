import type { Statement } from "@/core/query/statement";
import type { Run } from "@/server/engine/protocol";
import { answerOf, readingOf } from "@/server/source/reading";
import { shownRows } from "@/server/source/sqlite/readers";

declare module "@/server/engine/protocol" {
  interface Jobs {
    rows: { asks: { database: string; statement: Statement }; gives: Buffer };
  }
}

export const run: Run<"rows"> = ({ database, statement }) =>
  readingOf(database, [statement.plan], async (reader) => Buffer.from(JSON.stringify([...shownRows(await answerOf(reader, statement))])));
