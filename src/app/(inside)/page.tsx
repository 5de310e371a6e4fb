import { headers } from "next/headers";
import { AnswersAhead } from "@/features/ahead/AnswersAhead";
import { DeskBoard } from "@/features/desk/DeskBoard";
import { DeskPage } from "@/features/desk/DeskPage";
import { Failure } from "@/features/frame/Failure";
import { answersAhead } from "@/server/http/ahead";
import { signedInWorkspace } from "@/server/http/signedIn";
import { deskOf } from "@/server/services/desk/desk";
import { viewerOf } from "@/server/services/people/viewer";

export default async function Page() {
  const ws = await signedInWorkspace();
  const desk = await deskOf(ws).catch((error: unknown) => error as Error);
  if (desk instanceof Error) return <Failure words={desk.message} />;
  const board = desk.dashboard && <DeskBoard ws={ws} id={desk.dashboard} viewer={viewerOf(ws, await headers())} />;
  const asked = ws.signedIn?.role === "viewer" ? [] : [{ path: "/api/desk/controls" as const, body: {}, aside: true as const }];
  return (
    <AnswersAhead answers={await answersAhead(ws, asked)}>
      <DeskPage desk={desk} board={board} />
    </AnswersAhead>
  );
}
