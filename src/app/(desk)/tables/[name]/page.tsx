import { Failure } from "@/features/shell/Failure";
import { TablePage } from "@/features/tables/TablePage";
import { WORDS } from "@/features/tables/words";
import { desk } from "@/server/people/desk";

export default async function Page({ params }: { params: Promise<{ name: string }> }) {
  const name = decodeURIComponent((await params).name);
  const ws = await desk("analyst");
  const schema = await ws.shownSchema().catch((error: unknown) => error as Error);
  if (schema instanceof Error) return <Failure words={schema.message} />;
  const table = schema.tables.find((t) => t.name === name);
  return table ? <TablePage key={name} table={table} schema={schema} today={ws.today} /> : <Failure words={WORDS.noSuchTable(name)} />;
}
