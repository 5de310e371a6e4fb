import type { Statement } from "@/core/query/statement";
import type { Cell } from "@/core/types/valueType";
import type { Run } from "@/server/engine/protocol";
import { readingOf } from "@/server/source/read";

declare module "@/server/engine/protocol" {
  interface Jobs {
    singles: { asks: { database: string; statements: Statement[]; asOf?: string[] }; gives: { rows: Cell[][]; asOf: string | null } };
  }
}

export const run: Run<"singles"> = ({ database, statements, asOf }) =>
  readingOf(
    database,
    statements.map((s) => s.plan),
    async (reader) => {
      const rows: Cell[][] = [];
      for (const statement of statements) rows.push((await reader.answer(statement))[0] ?? []);
      return { rows, asOf: reader.asOf };
    },
    asOf,
  );
