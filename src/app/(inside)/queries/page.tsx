import { querySpecSchema } from "@/core/query/spec";
import { Failure } from "@/features/frame/Failure";
import { QueryList } from "@/features/queries/QueryList";
import { SavedList } from "@/features/SavedList";
import { COMMON } from "@/features/words";
import { datesOf } from "@/server/catalogue/lists";
import { signedInWorkspace } from "@/server/people/signedIn";

export default async function Page() {
  const ws = await signedInWorkspace();
  if (ws.signedIn?.role === "viewer") {
    const items = ws.objects.list("query").map(({ id, name }) => ({ id, name, about: "" }));
    return (
      <SavedList
        heading={COMMON.queries}
        items={items}
        dates={datesOf(ws, "query")}
        place="/queries"
        empty=""
        make={{ heading: "", empty: "", path: "", from: [] }}
      />
    );
  }
  const schema = await ws.shownSchema().catch((error: unknown) => error as Error);
  if (schema instanceof Error) return <Failure words={schema.message} />;
  const saved = ws.objects.list("query").map(({ id, name, spec }) => ({ id, name, spec: querySpecSchema.safeParse(spec).data ?? null }));
  return <QueryList saved={saved} schema={schema} dates={datesOf(ws, "query")} />;
}
