"use client";

import { toast } from "sonner";
import { withKey } from "@/core/folio/panel";
import type { ParameterValues, QuerySpec } from "@/core/query/spec";
import type { Schema } from "@/core/schema/schema";
import { sentenceOf } from "../ask";
import { folioAt, keepWalk, type Walk } from "./walk";

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
