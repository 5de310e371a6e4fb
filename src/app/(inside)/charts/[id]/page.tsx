import { chartSpecSchema } from "@/core/chart/spec";
import { AnswersAhead } from "@/features/ahead/AnswersAhead";
import { ChartPage } from "@/features/charts/ChartPage";
import { Failure } from "@/features/frame/Failure";
import { ViewAlone } from "@/features/viewing/ViewAlone";
import { answersAhead } from "@/server/http/ahead";
import { signedInWorkspace } from "@/server/http/signedIn";
import { chosenColours } from "@/server/services/charts/service";
import { openOver } from "@/server/services/objects/open";

export default async function Page({ params }: { params: Promise<{ id: string }> }) {
  const ws = await signedInWorkspace();
  const { id } = await params;
  if (ws.signedIn?.role === "viewer") return <ViewAlone ws={ws} id={id} kind="chart" />;
  const opened = await openOver(ws, id, "chart", chartSpecSchema);
  if ("words" in opened) return <Failure words={opened.words} />;
  return (
    <AnswersAhead answers={await answersAhead(ws, [{ path: "/api/charts", body: { spec: opened.saved.spec, values: {} } }])}>
      <ChartPage key={opened.saved.id} {...opened} today={ws.today} colours={chosenColours(ws)} />
    </AnswersAhead>
  );
}
