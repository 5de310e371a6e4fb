import { letterSpecSchema } from "@/core/letter/spec";
import { Failure } from "@/features/frame/Failure";
import { LetterPage } from "@/features/letters/LetterPage";
import { ViewPages } from "@/features/viewing/ViewPages";
import { openOver } from "@/server/catalogue/open";
import { signedInWorkspace } from "@/server/people/signedIn";

export default async function Page({ params }: { params: Promise<{ id: string }> }) {
  const ws = await signedInWorkspace();
  const opened = await openOver(ws, (await params).id, "letter", letterSpecSchema);
  if ("words" in opened) return <Failure words={opened.words} />;
  if (ws.signedIn?.role === "viewer") return <ViewPages kind="letter" id={opened.saved.id} name={opened.saved.name} />;
  return <LetterPage key={opened.saved.id} {...opened} today={ws.today} />;
}
