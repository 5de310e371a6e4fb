import { letterSpecSchema } from "@/core/letter/spec";
import { LetterPage } from "@/features/letters/LetterPage";
import { LookPages } from "@/features/looking/LookPages";
import { Failure } from "@/features/shell/Failure";
import { openOver } from "@/server/catalogue/open";
import { desk } from "@/server/people/desk";

export default async function Page({ params }: { params: Promise<{ id: string }> }) {
  const ws = await desk();
  const opened = await openOver(ws, (await params).id, "letter", letterSpecSchema);
  if ("words" in opened) return <Failure words={opened.words} />;
  if (ws.signedIn?.role === "viewer") return <LookPages kind="letter" id={opened.saved.id} name={opened.saved.name} />;
  return <LetterPage key={opened.saved.id} {...opened} today={ws.today} />;
}
