import { useCallback, useEffect, useMemo, useRef, useState } from "react";
import { keyText, showsNames, type WantedNames } from "@/core/query/namedRows";
import type { PlanColumn } from "@/core/query/plan";
import type { CellWriter } from "@/core/types/format";
import { useAhead } from "../ahead/AnswersAhead";
import { ask } from "../ask";
import { useSignedIn } from "../workspace/person";
import { namesAsked, type Question } from "./questions";

type Names = Map<string, Map<string, string>>;

const added = (names: Names, table: string, found: Record<string, string>): Names =>
  new Map([...names, [table, new Map([...(names.get(table) ?? []), ...Object.entries(found)])]]);

/** What a row of a table is called, by its key as it is typed; undefined while it is not known, and where it has no name. */
export type NameOf = (table: string, key: string) => string | undefined;

/**
 * The names of rows elsewhere, asked for as they are wanted; the first ones may have come with the page. A name that
 * cannot be had is left out: the key is shown in its place.
 * @param wanted what is shown now
 * @param behind the rows in which the keys stand, for those who only look: of no others they are told
 */
export function useRowNames(wanted: WantedNames[], behind?: Question): NameOf {
  const ahead = useAhead();
  const looks = useSignedIn().role === "viewer";
  const asks = !looks || behind?.tile !== undefined;
  const rows = useRef(behind);
  rows.current = looks ? behind : undefined;
  const known = useRef(new Map<string, Set<string>>());
  const [names, setNames] = useState(() =>
    wanted.reduce((all: Names, one) => {
      const found = ahead<Record<string, string>>(namesAsked(one))?.answer;
      if (!found) return all;
      known.current.set(one.table, new Set([...(known.current.get(one.table) ?? []), ...one.keys]));
      return added(all, one.table, found);
    }, new Map()),
  );
  const key = useMemo(() => JSON.stringify(wanted), [wanted]);
  useEffect(() => {
    if (!asks) return;
    for (const { table, keys } of JSON.parse(key) as WantedNames[]) {
      const asked = known.current.get(table) ?? new Set();
      known.current.set(table, asked);
      const fresh = keys.filter((k) => !asked.has(k));
      if (fresh.length === 0) continue;
      for (const k of fresh) asked.add(k);
      const { path, body } = namesAsked({ table, keys: fresh }, rows.current);
      ask<Record<string, string>>(path, body).then(
        (found) => setNames((all) => added(all, table, found)),
        () => undefined,
      );
    }
  }, [key, asks]);
  return useCallback((table, k) => names.get(table)?.get(k), [names]);
}

/** Writes a column's cells by the names of the rows they lead to, where it has such. */
export function namedWriter(column: Pick<PlanColumn, "rowOf" | "format" | "type">, write: CellWriter, nameOf: NameOf): CellWriter {
  const { rowOf } = column;
  if (rowOf === undefined || !showsNames(column)) return write;
  return (cell) => {
    const key = keyText(cell, column.type);
    const name = key === null ? undefined : nameOf(rowOf, key);
    return name === undefined ? write(cell) : { text: name, negative: false, misfit: false };
  };
}
