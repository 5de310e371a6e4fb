import { pivotSpecSchema } from "@/core/pivot/spec";
import { Failure } from "@/features/frame/Failure";
import { PivotPage } from "@/features/pivots/PivotPage";
import { ViewAlone } from "@/features/viewing/ViewAlone";
import { openOver } from "@/server/catalogue/open";
import { signedInWorkspace } from "@/server/people/signedIn";

export default async function Page({ params }: { params: Promise<{ id: string }> }) {
  const ws = await signedInWorkspace();
  const { id } = await params;
  if (ws.signedIn?.role === "viewer") return <ViewAlone ws={ws} id={id} kind="pivot" />;
  const opened = await openOver(ws, id, "pivot", pivotSpecSchema);
  if ("words" in opened) return <Failure words={opened.words} />;
  return <PivotPage key={opened.saved.id} {...opened} today={ws.today} />;
}
