import type { Role } from "@/core/people/spec";
import { listOutbox } from "@/server/outbox/outbox";
import type { Workspace } from "@/server/workspace/workspace";

/** What every page's bar shows: how many files lie in the outbox, who works here; and how the workspace writes. */
export function shellData(ws: Workspace): ShellData {
  const { signedIn } = ws;
  const role = signedIn?.role ?? "owner";
  return { outbox: role === "viewer" ? 0 : listOutbox(ws).length, locale: ws.locale, person: signedIn && { name: signedIn.name }, role };
}

export type ShellData = { outbox: number; locale: Workspace["locale"]; person: { name: string } | null; role: Role };
