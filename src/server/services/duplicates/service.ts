import type { Duplicates, Merged, MergeGroup } from "@/core/duplicates/merging";
import type { PlanLink } from "@/core/posting/plan";
import { findTable, mayChange, type Schema, storedColumns, type Table } from "@/core/schema/schema";
import { counted } from "@/core/types/format";
import { Refusal } from "@/server/common/refusal";
import type { Merging } from "@/server/jobs/duplicates/merge";
import type { Entry } from "@/server/jobs/posting/journal";
import type { Workspace } from "@/server/services/workspace/workspace";

type Caller = { client: string; signal?: AbortSignal | undefined };

/** Every row may be looked at, and many written. */
const TIME_LIMIT_MS = 600_000;

/** Links by which rows elsewhere lead to one row of a table, with the tables these are in: keys and links that people made, of equal values. */
export function linksInto(schema: Schema, table: string): Merging["links"] {
  return schema.links.flatMap(({ a, b, operators }) =>
    [
      { near: a, far: b },
      { near: b, far: a },
    ].flatMap(({ near, far }) => {
      const other = findTable(schema, near.table);
      const equal = (operators ?? []).every((o) => o === "is");
      if (far.table !== table || far.leadsTo !== "one" || near.leadsTo !== "many" || !other || !mayChange(other) || !equal) return [];
      const link: PlanLink = { name: near.name, table: near.table, label: other.label, near: near.columns, far: far.columns };
      const stored = (name: string) => storedColumns(other).some((c) => c.name === name && !c.generated);
      return near.columns.every(stored) ? [{ link, table: plain(other) }] : [];
    }),
  );
}

const plain = (table: Table): Table => ({ ...table, columns: storedColumns(table) });

/** A table whose rows can be merged, by those alone who see every row of it and of the tables that lead to it. @throws Refusal */
async function mergeable(ws: Workspace, name: string): Promise<{ table: Table; links: Merging["links"] }> {
  const schema = await ws.schema();
  const table = findTable(schema, name);
  if (!table || !mayChange(table)) throw new Refusal(404, `The table “${name}” does not exist any more.`);
  if (table.key.length === 0) throw new Refusal(422, `${table.label} has no key, so its rows cannot be told apart. Add a key first, under “Change columns…”.`);
  const links = linksInto(schema, name);
  await ws.needWhole([name, ...links.map(({ link }) => link.table)]);
  return { table: plain(table), links };
}

/** Rows of a table that are alike in some of its columns. */
export async function duplicatesOf(ws: Workspace, name: string, columns: string[], near: boolean, caller: Caller): Promise<Duplicates> {
  const { table, links } = await mergeable(ws, name);
  const gone = columns.find((column) => !table.columns.some((c) => c.name === column));
  if (gone !== undefined) throw new Refusal(422, `${table.label} has no column “${gone}” any more. Choose another.`);
  const job = { kind: "duplicates" as const, database: ws.database, table, links: links.map(({ link }) => link), question: { columns, near } };
  return ws.engine.run<"duplicates">(job, { ...caller, timeLimitMs: TIME_LIMIT_MS });
}

type MergeRequest = { table: string; groups: MergeGroup[]; fill: boolean };

/** What merging rows would come to. */
export async function mergePreviewOf(ws: Workspace, { table: name, groups, fill }: MergeRequest, caller: Caller): Promise<Merged> {
  const { table, links } = await mergeable(ws, name);
  const job = { kind: "mergePreview" as const, database: ws.database, merging: { table, links, groups, fill } };
  return ws.engine.run<"mergePreview">(job, { ...caller, timeLimitMs: TIME_LIMIT_MS });
}

/** Merges rows. @throws JobFailure "changedSince" where it would come to something else by now */
export async function mergeOf(ws: Workspace, { table: name, groups, fill }: MergeRequest, digest: string, caller: Caller): Promise<Entry> {
  const { table, links } = await mergeable(ws, name);
  for (const of of [name, ...links.map(({ link }) => link.table)]) await ws.needUnread(of, null);
  const brief = `Merge ${counted(groups.length, "group", ws.locale)} of duplicate rows in ${table.label}, with the rows that lead to them.`;
  const entry = { at: ws.now().toISOString(), by: ws.person, kind: "edit" as const, name: `${table.label}: duplicates merged`, brief, table: name };
  const job = { kind: "merge" as const, database: ws.database, merging: { table, links, groups, fill }, digest, entry };
  const done = await ws.engine.run<"merge">(job, { ...caller, timeLimitMs: TIME_LIMIT_MS });
  ws.recordDone("merged duplicates in", table.label);
  return done;
}
