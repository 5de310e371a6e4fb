import { pivotSpecSchema } from "@/core/pivot/spec";
import { AnswersAhead } from "@/features/ahead/AnswersAhead";
import { Failure } from "@/features/frame/Failure";
import { PivotPage } from "@/features/pivots/PivotPage";
import { pivotAsked } from "@/features/pivots/pivotAsked";
import { ViewAlone } from "@/features/viewing/ViewAlone";
import { answersAhead } from "@/server/http/ahead";
import { signedInWorkspace } from "@/server/http/signedIn";
import { openOver } from "@/server/services/objects/open";

export default async function Page({ params }: { params: Promise<{ id: string }> }) {
  const ws = await signedInWorkspace();
  const { id } = await params;
  if (ws.signedIn?.role === "viewer") return <ViewAlone ws={ws} id={id} kind="pivot" />;
  const opened = await openOver(ws, id, "pivot", pivotSpecSchema);
  if ("words" in opened) return <Failure words={opened.words} />;
  const body = pivotAsked(opened.saved.spec);
  const answers = await answersAhead(ws, [
    { path: "/api/pivots", body },
    { path: "/api/pivots/recount", body, aside: true },
  ]);
  return (
    <AnswersAhead answers={answers}>
      <PivotPage key={opened.saved.id} {...opened} today={ws.today} />
    </AnswersAhead>
  );
}
