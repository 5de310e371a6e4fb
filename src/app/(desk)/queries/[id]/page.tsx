import { querySpecSchema } from "@/core/query/spec";
import { InsidePage } from "@/features/pages/InsidePage";
import { QueryPage } from "@/features/queries/QueryPage";
import { Failure } from "@/features/shell/Failure";
import { desk } from "@/server/people/desk";

export default async function Page({ params }: { params: Promise<{ id: string }> }) {
  const ws = await desk();
  const saved = ws.objects.open((await params).id);
  if (saved?.kind !== "query") return <Failure words="This query is gone. It may have been deleted; the list of queries shows what there is." />;
  if (ws.signedIn?.role === "viewer") return <InsidePage id={saved.id} title={saved.name} intro="" changes={null} />;
  const spec = querySpecSchema.safeParse(saved.spec);
  if (!spec.success) return <Failure words="This query is in a form that this version cannot read. It is kept as it is." />;
  const schema = await ws.shownSchema().catch((error: unknown) => error as Error);
  if (schema instanceof Error) return <Failure words={schema.message} />;
  return <QueryPage key={saved.id} saved={{ id: saved.id, name: saved.name, spec: spec.data, revision: saved.revision }} schema={schema} today={ws.today} />;
}
