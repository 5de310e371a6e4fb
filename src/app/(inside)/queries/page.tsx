import { Failure } from "@/features/frame/Failure";
import { QueryList } from "@/features/queries/QueryList";
import { SavedList } from "@/features/SavedList";
import { COMMON } from "@/features/words";
import { signedInWorkspace } from "@/server/http/signedIn";
import { listOf } from "@/server/services/objects/lists";

export default async function Page() {
  const ws = await signedInWorkspace();
  if (ws.signedIn?.role === "viewer") {
    return (
      <SavedList heading={COMMON.queries} kind="query" list={await listOf(ws, "query")} place="/queries" empty="" make={{ heading: "", empty: "", path: "" }} />
    );
  }
  const schema = await ws.shownSchema().catch((error: unknown) => error as Error);
  if (schema instanceof Error) return <Failure words={schema.message} />;
  const tables = schema.tables.map(({ name, label, rows, reckoned }) => ({ name, label, rows, reckoned }));
  return <QueryList list={await listOf(ws, "query")} tables={tables} />;
}
