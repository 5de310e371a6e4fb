import { createHash } from "node:crypto";
import type { Merged, MergeGroup } from "@/core/duplicates/merging";
import { coerce, type Stored } from "@/core/posting/coerce";
import type { PlanLink } from "@/core/posting/plan";
import type { Column, Table } from "@/core/schema/schema";
import { text } from "@/core/types/valueType";
import { constraintWords } from "@/server/jobs/posting/constraintWords";
import { type Change, type Entry, EntryWriter } from "@/server/jobs/posting/journal";
import type { NewEntry } from "@/server/jobs/posting/run";
import { encodeImage, type Image, type RowName, Target } from "@/server/jobs/posting/target";
import type { Connection } from "@/server/source/connection";
import { JobFailure } from "@/server/source/failures";
import { changing, inTransaction } from "@/server/source/writing";

/** Rows to be merged: of which table, the links by which others lead to them with the tables these are in, and whether empty values are filled. */
export type Merging = { table: Table; links: { link: PlanLink; table: Table }[]; groups: MergeGroup[]; fill: boolean };

type Found = { row: RowName; image: Image };
/** A change, and the table it is of. */
type Made = { table: string; change: Change };

/** Merges on an open transaction: each group whole, or not at all. @param emit takes each change */
function performMerge(db: Connection, { table, links, groups, fill }: Merging, emit: (made: Made) => void): Merged {
  const target = new Target(db, table);
  const others = new Map<string, Target>([[table.name, target]]);
  const targetOf = (of: Table): Target => {
    const known = others.get(of.name) ?? new Target(db, of);
    others.set(of.name, known);
    return known;
  };
  const keys = table.key.flatMap((name) => target.columns.find((c) => c.name === name) ?? []);
  const carried = new Map(links.map(({ link }) => [link.table, { table: link.table, label: link.label, rows: 0 }]));
  const result: Merged = { rowsBefore: target.count(), rowsAfter: 0, groups: 0, carried: [], filled: 0, refused: [], digest: "" };
  const digest = createHash("sha1");
  for (const group of groups) {
    const made: Made[] = [];
    const moved = new Map<string, number>();
    let filled = 0;
    db.exec("SAVEPOINT merging");
    const refusal = settled(() => {
      const kept = rowOf(group.keep);
      const going = group.others.map(rowOf);
      for (const { link, table: near } of links) for (const other of going) carry(link, near, kept, other, going);
      for (const other of going) {
        target.remove(other.row);
        made.push({ table: table.name, change: { kind: "remove", row: other.row, before: other.image, after: null } });
      }
      if (fill) filled = fillFrom(kept, going);
    });
    db.exec(refusal === null ? "RELEASE merging" : "ROLLBACK TO merging; RELEASE merging");
    digest.update(JSON.stringify([group, refusal, filled, ...moved]));
    if (refusal !== null) {
      result.refused.push({ key: group.keep.join(", "), why: refusal });
      continue;
    }
    result.groups++;
    result.filled += filled;
    for (const [name, rows] of moved) (carried.get(name) as { rows: number }).rows += rows;
    for (const one of made) {
      digest.update(JSON.stringify([one.table, one.change.row, ...[one.change.before, one.change.after].map((image) => image && encodeImage(image))]));
      emit(one);
    }

    function carry(link: PlanLink, nearTable: Table, kept: Found, other: Found, going: Found[]): void {
      const near = targetOf(nearTable);
      const columns = link.near.flatMap((name) => near.columns.find((c) => c.name === name) ?? []);
      const valuesOf = ({ image }: Found) => link.far.map((name) => image[target.columns.findIndex((c) => c.name === name)] ?? null) as Stored[];
      const [from, to] = [valuesOf(other), valuesOf(kept)];
      if (from.includes(null) || encodeImage(from) === encodeImage(to)) return;
      for (const found of near.allBy(columns, from)) {
        const own = nearTable.name === table.name;
        if (own && going.some((g) => g.row === found.row)) continue;
        // What stays would lead to itself: it led to a row that it becomes one with.
        const itself = own && found.row === kept.row;
        const after = near.update(found.row, columns, itself ? to.map(() => null) : to);
        made.push({ table: nearTable.name, change: { kind: "change", row: after.row, before: found.image, after: after.image } });
        if (itself) kept.image = after.image;
        moved.set(link.table, (moved.get(link.table) ?? 0) + 1);
      }
    }

    function fillFrom(kept: Found, going: Found[]): number {
      const own = links.filter(({ table: near }) => near.name === table.name).flatMap(({ link }) => link.near);
      const columns = target.columns.filter(
        (c, i) => !table.key.includes(c.name) && !own.includes(c.name) && isEmpty(kept.image[i]) && going.some((g) => !isEmpty(g.image[i])),
      );
      if (columns.length === 0) return 0;
      const values = columns.map((c) => {
        const i = target.columns.indexOf(c);
        return going.map((g) => g.image[i]).find((v) => !isEmpty(v)) as Stored;
      });
      const after = target.update(kept.row, columns, values);
      made.push({ table: table.name, change: { kind: "change", row: after.row, before: kept.image, after: after.image } });
      return columns.length;
    }
  }
  result.rowsAfter = target.count();
  result.carried = [...carried.values()].filter((c) => c.rows > 0);
  return { ...result, digest: digest.update(JSON.stringify([result.rowsBefore, result.rowsAfter])).digest("hex") };

  function rowOf(key: string[]): Found {
    const values = keys.map((column, i) => typed(column, key[i] ?? ""));
    const [found] = target.findBy(keys, values);
    if (!found) throw new JobFailure("refusedEdit", "a row of this group does not exist any more");
    return found;
  }

  /** Why a group cannot be merged; null where it was. */
  function settled(work: () => void): string | null {
    try {
      work();
      return null;
    } catch (error) {
      const why = error instanceof JobFailure && error.code === "refusedEdit" ? error.particulars : constraintWords(error, { table });
      if (why === null) throw error;
      return why;
    }
  }
}

const isEmpty = (value: unknown): boolean => value === null || value === undefined || value === "";

function typed(column: Column, source: string): Stored {
  const made = coerce(source, text, column, "ymd");
  if ("why" in made) throw new JobFailure("refusedEdit", `${column.label}: ${made.why}`);
  return made.stored;
}

/** What a merge comes to; it is made and taken back. */
export const previewMerge = (database: string, merging: Merging): Merged => inTransaction(database, "rollback", (db) => performMerge(db, merging, () => {}));

/**
 * Merges rows that are alike, with its entry in the journal, in one transaction.
 * @throws JobFailure "changedSince" where it would come to something else than was looked at
 */
export function mergeRows(database: string, merging: Merging, digest: string, entry: NewEntry): Entry {
  return changing(database, (db) => {
    const tables = new Map([merging.table, ...merging.links.map((l) => l.table)].map((t) => [t.name, new Target(db, t)]));
    const [first, ...others] = [...tables.values()];
    if (!first) throw new TypeError("A merge has a table");
    const columns = (t: Target) => t.columns.map((c) => c.name);
    const writer = new EntryWriter(db, { ...entry, columns: columns(first) });
    const written = new Set<string>();
    const merged = performMerge(db, merging, ({ table, change }) => {
      written.add(table);
      writer.sinkOf(table)(change);
    });
    if (merged.digest !== digest) throw new JobFailure("changedSince");
    if (merged.groups === 0) throw new JobFailure("refusedEdit", "none of these groups can be merged");
    const unnumbered = { before: null, after: null };
    const parts = others.flatMap((t) => (written.has(t.table.name) ? [{ table: t.table.name, columns: columns(t), sequence: unnumbered }] : []));
    return writer.finish(null, unnumbered, parts);
  }).result;
}
