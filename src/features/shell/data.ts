import { listOutbox } from "@/server/outbox/outbox";
import { workspace } from "@/server/workspace/workspace";

/** What every page's bar shows: how many files lie in the outbox; and how the workspace writes. */
export function shellData() {
  const ws = workspace();
  return { outbox: listOutbox(ws.outbox).length, locale: ws.locale };
}

export type ShellData = ReturnType<typeof shellData>;
