import { chartSpecSchema } from "@/core/chart/spec";
import { ChartPage } from "@/features/charts/ChartPage";
import { LookAlone } from "@/features/looking/LookAlone";
import { Failure } from "@/features/shell/Failure";
import { openOver } from "@/server/catalogue/open";
import { chosenColours } from "@/server/charts/service";
import { desk } from "@/server/people/desk";

export default async function Page({ params }: { params: Promise<{ id: string }> }) {
  const ws = await desk();
  const { id } = await params;
  if (ws.signedIn?.role === "viewer") return <LookAlone ws={ws} id={id} kind="chart" />;
  const opened = await openOver(ws, id, "chart", chartSpecSchema);
  if ("words" in opened) return <Failure words={opened.words} />;
  return <ChartPage key={opened.saved.id} {...opened} today={ws.today} colours={chosenColours(ws)} />;
}
