import { querySpecSchema } from "@/core/query/spec";
import { QueryPage } from "@/features/queries/QueryPage";
import { Failure } from "@/features/shell/Failure";
import { workspace } from "@/server/workspace/workspace";

export default async function Page({ params }: { params: Promise<{ id: string }> }) {
  const ws = workspace();
  const saved = ws.catalogue.get((await params).id);
  if (saved?.kind !== "query") return <Failure words="This query is gone. It may have been deleted; the list of queries shows what there is." />;
  const spec = querySpecSchema.safeParse(saved.spec);
  if (!spec.success) return <Failure words="This query is in a form that this version cannot read. It is kept as it is." />;
  const schema = await ws.schema().catch((error: unknown) => error as Error);
  if (schema instanceof Error) return <Failure words={schema.message} />;
  return <QueryPage key={saved.id} saved={{ id: saved.id, name: saved.name, spec: spec.data, revision: saved.revision }} schema={schema} today={ws.today} />;
}
