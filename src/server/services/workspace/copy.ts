import type { KeptCopy } from "@/server/source/columnar/keeper";
import { versionOf } from "@/server/source/sqlite/version";
import type { Workspace } from "./workspace";

/** The columnar copy as an owner sees it: whether all of it is as the database is now, and the room it takes on the disk. */
export type CopyAnswer = KeptCopy & { on: boolean; upToDate: boolean; bytes: number };

export function copyOf(ws: Workspace): CopyAnswer {
  const kept = ws.copy?.kept ?? { state: null, failed: null };
  const now = ws.copy ? versionOf(ws.database) : null;
  return {
    ...kept,
    on: ws.wantsCopy,
    upToDate: kept.state !== null && kept.state.coming === null && kept.state.tables.every((t) => t.at === now),
    bytes: ws.copy?.bytes ?? 0,
  };
}

/** Turned off, or made again, it is thrown away first; questions go to the database meanwhile. */
export function changeCopy(ws: Workspace, change: "on" | "off" | "again"): void {
  ws.recorded(() => {
    ws.catalogue.setSetting("columnarCopy", change === "off" ? "off" : "on");
    ws.record("changed the columnar copy", change);
  });
  if (change !== "on") ws.copy?.discard();
  ws.copy?.allow(change !== "off");
}
