import type { Proof } from "@/core/proof/proof";
import { answeredLater } from "@/core/query/asking";
import type { Plan } from "@/core/query/plan";
import type { Run } from "@/server/engine/protocol";
import { provingQuery } from "@/server/jobs/queries/prove";
import { readingBeside } from "@/server/source/read";

declare module "@/server/engine/protocol" {
  interface Jobs {
    proof: { asks: { database: string; plan: Plan; figure: string | null; asOf?: string[] }; gives: Proof };
  }
}

export const run: Run<"proof"> = ({ database, plan, figure, asOf }) =>
  readingBeside(
    database,
    [plan],
    async (tables, reader) => {
      const proof = await answeredLater(provingQuery(plan, figure, tables), (statement) => reader.answer(statement));
      return { ...proof, answeredBy: reader.engine, asOf: reader.asOf };
    },
    asOf,
  );
