import { Failure } from "@/features/frame/Failure";
import { TableList } from "@/features/tables/TableList";
import { mapOf } from "@/server/links/map";
import { signedInWorkspace } from "@/server/people/signedIn";

export default async function Page({ searchParams }: { searchParams: Promise<{ view?: string }> }) {
  const ws = await signedInWorkspace("analyst");
  const schema = await ws.shownSchema().catch((error: unknown) => error as Error);
  if (schema instanceof Error) return <Failure words={schema.message} />;
  return <TableList schema={schema} places={mapOf(ws)} map={(await searchParams).view === "map"} />;
}
