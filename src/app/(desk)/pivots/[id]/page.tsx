import { pivotSpecSchema } from "@/core/pivot/spec";
import { LookAlone } from "@/features/looking/LookAlone";
import { PivotPage } from "@/features/pivots/PivotPage";
import { Failure } from "@/features/shell/Failure";
import { openOver } from "@/server/catalogue/open";
import { desk } from "@/server/people/desk";

export default async function Page({ params }: { params: Promise<{ id: string }> }) {
  const ws = await desk();
  const { id } = await params;
  if (ws.signedIn?.role === "viewer") return <LookAlone ws={ws} id={id} kind="pivot" />;
  const opened = await openOver(ws, id, "pivot", pivotSpecSchema);
  if ("words" in opened) return <Failure words={opened.words} />;
  return <PivotPage key={opened.saved.id} {...opened} today={ws.today} />;
}
