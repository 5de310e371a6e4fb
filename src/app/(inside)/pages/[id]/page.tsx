import { pageSpecSchema } from "@/core/page/spec";
import { querySpecSchema } from "@/core/query/spec";
import { Failure } from "@/features/frame/Failure";
import { InsidePage } from "@/features/pages/InsidePage";
import { insideAhead } from "@/features/pages/insideAhead";
import { PageBuilder } from "@/features/pages/PageBuilder";
import { WORDS } from "@/features/pages/words";
import { signedInWorkspace } from "@/server/http/signedIn";
import { openOnPage } from "@/server/services/desk/visits";
import { changesFor, pageInside } from "@/server/services/pages/inside";

type Props = { params: Promise<{ id: string }>; searchParams: Promise<{ inside?: string }> };

/** A page as it is built; as people who are signed in use it, for those who only look, and for others under `?inside=1`. */
export default async function Page({ params, searchParams }: Props) {
  const ws = await signedInWorkspace();
  const { id } = await params;
  const saved = openOnPage(ws, id, "page");
  if (!saved) return <Failure words={WORDS.thisPageDoesNotExist} />;
  const spec = pageSpecSchema.safeParse(saved.spec);
  if (!spec.success) return <Failure words={WORDS.thisVersionCannotReadThis} />;
  if (ws.signedIn?.role === "viewer" || (await searchParams).inside) {
    const page = await pageInside(ws, id);
    return <InsidePage id={id} title={page.title} intro={page.intro} changes={changesFor(ws, page)} answers={await insideAhead(ws, id)} />;
  }
  const schema = await ws.shownSchema().catch((error: unknown) => error as Error);
  if (schema instanceof Error) return <Failure words={schema.message} />;
  const query = spec.data.subject.kind === "search" ? querySpecSchema.safeParse(ws.objects.get(spec.data.subject.query)?.spec).data : undefined;
  if (spec.data.subject.kind === "search" && !query) return <Failure words={WORDS.theQueryOfThisPage} />;
  const saves = { id: saved.id, name: saved.name, spec: spec.data, revision: saved.revision };
  return <PageBuilder key={saved.id} saved={saves} query={query ?? null} schema={schema} today={ws.today} />;
}
