import { Failure } from "@/features/frame/Failure";
import { TableList } from "@/features/tables/TableList";
import { signedInWorkspace } from "@/server/http/signedIn";
import { mapOf } from "@/server/services/links/map";

export default async function Page({ searchParams }: { searchParams: Promise<{ view?: string }> }) {
  const ws = await signedInWorkspace("analyst");
  const schema = await ws.shownSchema().catch((error: unknown) => error as Error);
  if (schema instanceof Error) return <Failure words={schema.message} />;
  return <TableList schema={schema} places={mapOf(ws)} map={(await searchParams).view === "map"} />;
}
