import { listOutbox } from "@/server/outbox/outbox";
import { workspace } from "@/server/workspace/workspace";

/** What every page's bar shows: saved objects to find, and how many files lie in the outbox. */
export function shellData() {
  const ws = workspace();
  const objects = ws.catalogue.list().map(({ id, kind, name }) => ({ id, kind, name }));
  return { objects, outbox: listOutbox(ws.outbox).length, locale: ws.locale };
}

export type ShellData = ReturnType<typeof shellData>;
