import { chartSpecSchema } from "@/core/chart/spec";
import { ChartPage } from "@/features/charts/ChartPage";
import { Failure } from "@/features/shell/Failure";
import { openOver } from "@/server/catalogue/open";
import { chosenColours } from "@/server/charts/service";
import { workspace } from "@/server/workspace/workspace";

export default async function Page({ params }: { params: Promise<{ id: string }> }) {
  const ws = workspace();
  const opened = await openOver(ws, (await params).id, "chart", chartSpecSchema);
  if ("words" in opened) return <Failure words={opened.words} />;
  return <ChartPage key={opened.saved.id} {...opened} today={ws.today} colours={chosenColours(ws)} />;
}
