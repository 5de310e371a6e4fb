import { querySpecSchema } from "@/core/query/spec";
import { InsidePage } from "@/features/pages/InsidePage";
import { QueryPage } from "@/features/queries/QueryPage";
import { WORDS } from "@/features/queries/words";
import { Failure } from "@/features/shell/Failure";
import { desk } from "@/server/people/desk";

export default async function Page({ params }: { params: Promise<{ id: string }> }) {
  const ws = await desk();
  const saved = ws.objects.open((await params).id);
  if (saved?.kind !== "query") return <Failure words={WORDS.thisQueryDoesNotExist} />;
  if (ws.signedIn?.role === "viewer") return <InsidePage id={saved.id} title={saved.name} intro="" changes={null} />;
  const spec = querySpecSchema.safeParse(saved.spec);
  if (!spec.success) return <Failure words={WORDS.thisVersionCannotReadThis} />;
  const schema = await ws.shownSchema().catch((error: unknown) => error as Error);
  if (schema instanceof Error) return <Failure words={schema.message} />;
  return <QueryPage key={saved.id} saved={{ id: saved.id, name: saved.name, spec: spec.data, revision: saved.revision }} schema={schema} today={ws.today} />;
}
