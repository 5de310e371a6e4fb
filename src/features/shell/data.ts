import type { Role } from "@/core/people/spec";
import { listOutbox } from "@/server/outbox/outbox";
import { heldRuns } from "@/server/scheduler/state";
import type { Workspace } from "@/server/workspace/workspace";

/** What every page's bar shows: how many files lie in the outbox, how many runs are held back, who works here; and how the workspace writes. */
export function shellData(ws: Workspace): ShellData {
  const { signedIn } = ws;
  const role = signedIn?.role ?? "owner";
  const looks = role === "viewer";
  return {
    outbox: looks ? 0 : listOutbox(ws).length,
    held: looks ? 0 : heldRuns(ws),
    locale: ws.locale,
    person: signedIn && { name: signedIn.name },
    role,
    knownAs: ws.knownAs,
  };
}

export type ShellData = { outbox: number; held: number; locale: Workspace["locale"]; person: { name: string } | null; role: Role; knownAs: string };
