"use client";

import type { ParameterValues, QuerySpec } from "@/core/query/spec";
import type { Cell } from "@/core/types/valueType";
import { ask } from "../ask";

/** A sheet that a folio was opened from: its query, with the key of each row in hidden columns, and where it stands. */
export type Walk = { spec: QuerySpec; values: ParameterValues; key: number[]; rows: number; back: string; label: string };

const name = (id: string) => `folio walk ${id}`;

/** Keeps a sheet for the folios opened from it, in this window alone. */
export function keepWalk(walk: Walk): string {
  const id = Math.random().toString(36).slice(2, 10);
  sessionStorage.setItem(name(id), JSON.stringify(walk));
  return id;
}

export function findWalk(id: string): Walk | null {
  const kept = id === "" ? null : sessionStorage.getItem(name(id));
  return kept ? (JSON.parse(kept) as Walk) : null;
}

/** The address of the folio of the row at a place of a sheet. */
export async function folioAt(table: string, walk: Walk, id: string, at: number): Promise<string | null> {
  const [row] = await ask<Cell[][]>("/api/query/rows", { spec: walk.spec, values: walk.values, offset: at, rows: 1 });
  if (!row) return null;
  const search = new URLSearchParams(walk.key.map((place): [string, string] => ["k", String(row[place] ?? "")]));
  search.set("walk", id);
  search.set("at", String(at));
  return `/tables/${encodeURIComponent(table)}/folio?${search}`;
}
