import { Refusal } from "@/server/common/refusal";
import type { KeptCopy } from "@/server/source/columnar/keeper";
import { isJobFailure } from "@/server/source/failures";
import { LARGE } from "@/server/source/large";
import { isServer } from "@/server/source/postgres/address";
import { versionOf } from "@/server/source/sqlite/version";
import type { CopiedAsOf } from "./copiedAsOf";
import type { Workspace } from "./workspace";

/** @throws Refusal where the copy is of the other kind: a file's is as the file is now, a server's as of an earlier moment */
export function needCopy(ws: Workspace, kind: "asNow" | "asOf"): void {
  if (isServer(ws.database) === (kind === "asOf")) return;
  throw new Refusal(404, kind === "asOf" ? "Only tables of a database server can be read as of an earlier time." : "A database server has no such copy.");
}

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

/**
 * What an owner sees of what is read as of an earlier moment: the large tables that can be chosen, or why the server does
 * not tell them now; and the copy as it is.
 */
export type CopiedAsOfAnswer = Omit<CopiedAsOf, "since"> &
  KeptCopy & { among: { name: string; label: string; rows: number }[]; untold: string | null; bytes: number };

export async function copiedAsOfOf(ws: Workspace): Promise<CopiedAsOfAnswer> {
  const { tables, time } = ws.copiedAsOf;
  const told = await ws.schema().catch((error: unknown) => {
    if (isJobFailure(error)) return error.message;
    throw error;
  });
  const all = typeof told === "string" ? [] : told.tables;
  const among = all.filter((t) => !t.view && t.rows >= LARGE).map(({ name, label, rows }) => ({ name, label, rows }));
  const untold = typeof told === "string" ? told : null;
  return { ...(ws.copy?.kept ?? { state: null, failed: null }), tables, time, among, untold, bytes: ws.copy?.bytes ?? 0 };
}

/** Without tables the copy is thrown away. */
export async function chooseCopiedAsOf(ws: Workspace, chosen: Omit<CopiedAsOf, "since">): Promise<void> {
  await changed(ws, { ...chosen, since: ws.copiedAsOf.since }, chosen.tables.join(", ") || "none");
  if (chosen.tables.length > 0) return;
  ws.copy?.discard();
  ws.copy?.allow(true);
}

/** Has the tables read again now. */
export const copyAgainAsOf = (ws: Workspace): Promise<void> => changed(ws, { ...ws.copiedAsOf, since: ws.now().toISOString() }, "again");

async function changed(ws: Workspace, chosen: CopiedAsOf, about: string): Promise<void> {
  ws.recorded(() => {
    ws.catalogue.setSetting("copiedAsOf", chosen);
    ws.record("changed what is read as of an earlier time", about);
  });
  await ws.keepCopiedAsOf();
}
