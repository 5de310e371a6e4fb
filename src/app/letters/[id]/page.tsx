import { letterSpecSchema } from "@/core/letter/spec";
import { LetterPage } from "@/features/letters/LetterPage";
import { Failure } from "@/features/shell/Failure";
import { openOver } from "@/server/catalogue/open";
import { workspace } from "@/server/workspace/workspace";

export default async function Page({ params }: { params: Promise<{ id: string }> }) {
  const ws = workspace();
  const opened = await openOver(ws, (await params).id, "letter", letterSpecSchema);
  if ("words" in opened) return <Failure words={opened.words} />;
  return <LetterPage key={opened.saved.id} {...opened} today={ws.today} />;
}
