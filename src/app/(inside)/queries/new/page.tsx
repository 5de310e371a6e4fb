import { firstColumns } from "@/core/query/edit";
import { emptyQuery } from "@/core/query/empty";
import { capitalised } from "@/core/query/naming";
import { findTable } from "@/core/schema/schema";
import { Failure } from "@/features/frame/Failure";
import { QueryPage } from "@/features/queries/QueryPage";
import { WORDS } from "@/features/queries/words";
import { signedInWorkspace } from "@/server/people/signedIn";

export default async function Page({ searchParams }: { searchParams: Promise<{ from?: string }> }) {
  const { from = "" } = await searchParams;
  const ws = await signedInWorkspace("analyst");
  const schema = await ws.shownSchema().catch((error: unknown) => error as Error);
  if (schema instanceof Error) return <Failure words={schema.message} />;
  const table = findTable(schema, from);
  if (!table) return <Failure words={WORDS.noSuchTable(from)} />;
  const spec = { ...emptyQuery(from), columns: firstColumns(schema, from) };
  return <QueryPage key={from} saved={{ id: null, name: WORDS.newQueryName(capitalised(table.label)), spec, revision: 0 }} schema={schema} today={ws.today} />;
}
