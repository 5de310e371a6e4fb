import { mayChange } from "@/core/schema/schema";
import { Failure } from "@/features/frame/Failure";
import { ImportPage } from "@/features/import/ImportPage";
import { WORDS } from "@/features/import/words";
import { signedInWorkspace } from "@/server/http/signedIn";
import { broughtFile } from "@/server/services/import/files";

export default async function Page({ params }: { params: Promise<{ id: string }> }) {
  const { id } = await params;
  const ws = await signedInWorkspace("analyst");
  try {
    const { name, bytes } = broughtFile(ws, id);
    const schema = await ws.shownSchema();
    const tables = schema.tables.filter((t) => mayChange(t) && !t.trigger).map(({ name: table, label }) => ({ name: table, label }));
    return <ImportPage key={id} id={id} name={name} bytes={bytes} tables={tables} />;
  } catch (error) {
    return <Failure words={error instanceof Error ? error.message : WORDS.theFileCouldNotBe} />;
  }
}
