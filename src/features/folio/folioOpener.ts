"use client";

import { toast } from "sonner";
import { type LinkedRow, withKey } from "@/core/folio/panel";
import type { ParameterValues, QuerySpec } from "@/core/query/spec";
import type { Schema } from "@/core/schema/schema";
import type { Cell } from "@/core/types/valueType";
import { ask, sentenceOf } from "../ask";
import { folioAt, keepWalk, type Walk } from "./walk";
import { WORDS } from "./words";

type From = { spec: QuerySpec; values: ParameterValues; schema: Schema; rows: number; back: string; label: string; go: (address: string) => void };

/** Opens the folio of a row of a sheet, to walk on from there in the sheet's order; undefined where its rows have none. */
export function folioOpener({ spec, values, schema, rows, back, label, go }: From): ((row: number) => void) | undefined {
  const keyed = withKey(spec, schema);
  if (!keyed) return undefined;
  return (row) => {
    const key = keyed.key.map((id) => keyed.spec.columns.findIndex((c) => c.id === id));
    const walk: Walk = { spec: keyed.spec, values, key, rows, back, label };
    folioAt(spec.source, walk, keepWalk(walk), row).then(
      (address) => address && go(address),
      (error) => toast.error(sentenceOf(error)),
    );
  };
}

type LinkedFrom = Pick<From, "spec" | "values" | "schema" | "go"> & { to: LinkedRow };

/** Opens the folio of a row that a row of a sheet links to; says so where it links to none. */
export async function openLinked({ spec, values, schema, go, to }: LinkedFrom, row: number): Promise<void> {
  const keyed = withKey(spec, schema, to.steps);
  if (!keyed) return;
  try {
    const [cells = []] = await ask<Cell[][]>("/api/query/rows", { spec: keyed.spec, values, offset: row, rows: 1 });
    const key = keyed.key.map((id) => cells[keyed.spec.columns.findIndex((c) => c.id === id)] ?? null);
    if (key.includes(null)) toast(WORDS.linksToNone(to.words));
    else go(`/tables/${encodeURIComponent(keyed.table)}/folio?${new URLSearchParams(key.map((k): [string, string] => ["k", String(k)]))}`);
  } catch (error) {
    toast.error(sentenceOf(error));
  }
}
