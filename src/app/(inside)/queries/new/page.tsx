import { firstColumns } from "@/core/query/edit";
import { startComparison } from "@/core/query/editComparison";
import { emptyQuery } from "@/core/query/empty";
import { capitalised } from "@/core/query/naming";
import { withoutWaiting } from "@/core/query/waiting";
import { findTable } from "@/core/schema/schema";
import { AnswersAhead } from "@/features/ahead/AnswersAhead";
import { Failure } from "@/features/frame/Failure";
import { QueryPage } from "@/features/queries/QueryPage";
import { queryAhead } from "@/features/queries/queryAhead";
import { WORDS } from "@/features/queries/words";
import { signedInWorkspace } from "@/server/people/signedIn";

export default async function Page({ searchParams }: { searchParams: Promise<{ from?: string; compare?: string }> }) {
  const { from = "", compare } = await searchParams;
  const ws = await signedInWorkspace("analyst");
  const schema = await ws.shownSchema().catch((error: unknown) => error as Error);
  if (schema instanceof Error) return <Failure words={schema.message} />;
  const source = compare ?? from;
  const table = findTable(schema, source);
  if (!table) return <Failure words={WORDS.noSuchTable(source)} />;
  const label = capitalised(table.label);
  const begun =
    compare === undefined
      ? { name: WORDS.newQueryName(label), spec: { ...emptyQuery(from), columns: firstColumns(schema, from) } }
      : { name: WORDS.comparedName(label), spec: startComparison(compare) };
  return (
    <AnswersAhead answers={await queryAhead(ws, schema, { spec: withoutWaiting(begun.spec), values: {} })}>
      <QueryPage key={source} saved={{ id: null, ...begun, revision: 0 }} schema={schema} today={ws.today} />
    </AnswersAhead>
  );
}
