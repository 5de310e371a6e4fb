import { rowNameColumn } from "@/core/schema/rowNames";
import { storedColumns } from "@/core/schema/schema";
import { DuplicatesPage } from "@/features/duplicates/DuplicatesPage";
import { Failure } from "@/features/frame/Failure";
import { WORDS } from "@/features/tables/words";
import { signedInWorkspace } from "@/server/http/signedIn";

type Props = { params: Promise<{ name: string }>; searchParams: Promise<{ by?: string }> };

/** Rows of a table that are alike. */
export default async function Page({ params, searchParams }: Props) {
  const name = decodeURIComponent((await params).name);
  const { by } = await searchParams;
  const ws = await signedInWorkspace("analyst");
  const table = (await ws.shownSchema()).tables.find((t) => t.name === name && !t.view);
  if (!table) return <Failure words={WORDS.noSuchTable(name)} />;
  const columns = storedColumns(table);
  const first = columns.find((c) => c.name === by) ?? rowNameColumn(table) ?? columns.find((c) => c.type.kind === "text") ?? columns[0];
  return <DuplicatesPage key={name} table={table} by={first?.name ?? ""} />;
}
