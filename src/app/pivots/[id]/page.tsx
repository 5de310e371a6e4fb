import { pivotSpecSchema } from "@/core/pivot/spec";
import { PivotPage } from "@/features/pivots/PivotPage";
import { Failure } from "@/features/shell/Failure";
import { openOver } from "@/server/catalogue/open";
import { workspace } from "@/server/workspace/workspace";

export default async function Page({ params }: { params: Promise<{ id: string }> }) {
  const ws = workspace();
  const opened = await openOver(ws, (await params).id, "pivot", pivotSpecSchema);
  if ("words" in opened) return <Failure words={opened.words} />;
  return <PivotPage key={opened.saved.id} {...opened} today={ws.today} />;
}
