import { letterSpecSchema } from "@/core/letter/spec";
import { AnswersAhead } from "@/features/ahead/AnswersAhead";
import { Failure } from "@/features/frame/Failure";
import { LetterPage } from "@/features/letters/LetterPage";
import { ViewPages } from "@/features/viewing/ViewPages";
import { viewAsked } from "@/features/viewing/viewAsked";
import { answersAhead } from "@/server/http/ahead";
import { signedInWorkspace } from "@/server/http/signedIn";
import { openOver } from "@/server/services/objects/open";

export default async function Page({ params }: { params: Promise<{ id: string }> }) {
  const ws = await signedInWorkspace();
  const opened = await openOver(ws, (await params).id, "letter", letterSpecSchema);
  if ("words" in opened) return <Failure words={opened.words} />;
  if (ws.signedIn?.role === "viewer")
    return (
      <AnswersAhead answers={await answersAhead(ws, [viewAsked("letter", opened.saved.id, 0)])}>
        <ViewPages kind="letter" id={opened.saved.id} name={opened.saved.name} />
      </AnswersAhead>
    );
  return (
    <AnswersAhead answers={await answersAhead(ws, [{ path: "/api/letters/proof", body: { spec: opened.saved.spec }, aside: true }])}>
      <LetterPage key={opened.saved.id} {...opened} today={ws.today} />
    </AnswersAhead>
  );
}
