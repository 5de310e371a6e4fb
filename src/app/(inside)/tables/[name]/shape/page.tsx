import { mayReshape } from "@/core/schema/schema";
import { Failure } from "@/features/frame/Failure";
import { ShapePage } from "@/features/shape/ShapePage";
import { WORDS } from "@/features/tables/words";
import { signedInWorkspace } from "@/server/http/signedIn";
import { shapeNowOf } from "@/server/services/shape/service";

/** A table's columns, to be changed. */
export default async function Page({ params }: { params: Promise<{ name: string }> }) {
  const name = decodeURIComponent((await params).name);
  const ws = await signedInWorkspace("analyst");
  try {
    const schema = await ws.shownSchema();
    const table = schema.tables.find((t) => t.name === name && mayReshape(t));
    if (!table) return <Failure words={WORDS.noSuchTable(name)} />;
    return <ShapePage key={name} table={table} schema={schema} today={ws.today} now={await shapeNowOf(ws, name, { client: "page" })} />;
  } catch (error) {
    return <Failure words={(error as Error).message} />;
  }
}
