"use client";

import { useState } from "react";
import { toast } from "sonner";
import { OPERATORS } from "@/core/query/operators";
import { addComparison, changeComparison, firstLink, removeComparison } from "@/core/schema/editLink";
import type { LinkSpec } from "@/core/schema/linkSpec";
import { findColumn, findTable, LINK_OPERATORS, type LinkOperator, type Schema, storedColumns, type Table } from "@/core/schema/schema";
import { text } from "@/core/types/valueType";
import type { LinkEvidence } from "@/server/jobs/links/evidence";
import { filled } from "@/ui/filled";
import { Notice } from "@/ui/Notice";
import { ask, sentenceOf } from "../ask";
import { useAnswer } from "../useAnswer";
import { COMMON } from "../words";
import { EvidenceTable } from "./EvidenceTable";
import { WORDS } from "./words";

type Props = { table: Table; schema: Schema; first: LinkSpec | null; onDone: (saved: boolean) => void };

/** A link being made: what is compared with what, its name from either side, and what it would find. */
export function LinkMaker({ table, schema, first, onDone }: Props) {
  const tables = schema.tables;
  const [spec, setSpec] = useState<LinkSpec>(first ?? firstLink(table, tables.find((t) => t !== table) ?? table));
  const [failure, setFailure] = useState<string | null>(null);
  const near = findTable(schema, spec.a.table) ?? table;
  const far = findTable(schema, spec.b.table) ?? table;
  const evidence = useAnswer<LinkEvidence>("/api/links/evidence", { spec });
  const compare = (i: number, change: Parameters<typeof changeComparison>[2]) => setSpec(changeComparison(spec, i, change));
  async function save(): Promise<void> {
    try {
      await ask("/api/objects", { kind: "link", name: `${spec.a.name} – ${spec.b.name}`, spec });
      toast(WORDS.linkBetweenAndCreated(near.label, far.label));
      onDone(true);
    } catch (error) {
      setFailure(sentenceOf(error));
    }
  }
  const columns = (of: Table, value: string, label: string, pick: (name: string) => void) => (
    <select className="field" aria-label={label} value={value} onChange={(e) => pick(e.target.value)}>
      {storedColumns(of).map((c) => (
        <option key={c.name} value={c.name}>
          {c.label}
        </option>
      ))}
    </select>
  );
  return (
    <div className="grid gap-3">
      <label className="grid gap-0.5 text-small">
        {filled(
          WORDS.fromTo,
          near.label,
          <select
            className="field"
            aria-label={WORDS.linkedTable}
            value={spec.b.table}
            onChange={(e) => setSpec(firstLink(near, findTable(schema, e.target.value) ?? near))}
          >
            {tables.map((t) => (
              <option key={t.name} value={t.name}>
                {t.label}
              </option>
            ))}
          </select>,
        )}
      </label>
      {spec.a.columns.map((c, i) => (
        <div key={`comparison ${i}`} className="grid gap-1 border-l-[3px] border-column pl-2">
          {columns(near, c, WORDS.columnOf(near.label), (name) => compare(i, { near: name }))}
          <select
            className="field"
            aria-label={WORDS.comparison}
            value={spec.operators[i]}
            onChange={(e) => compare(i, { operator: e.target.value as LinkOperator })}
          >
            {LINK_OPERATORS.map((o) => (
              <option key={o} value={o}>
                {OPERATORS[o].words(findColumn(near, c)?.type ?? text)}
              </option>
            ))}
          </select>
          {columns(far, spec.b.columns[i] ?? "", WORDS.columnOf(far.label), (name) => compare(i, { far: name }))}
          {spec.a.columns.length > 1 && (
            <button
              type="button"
              className="justify-self-start text-small font-semibold text-vermilion hover:underline"
              onClick={() => setSpec(removeComparison(spec, i))}
            >
              {WORDS.removeComparison}
            </button>
          )}
        </div>
      ))}
      <button type="button" className="link justify-self-start text-small" onClick={() => setSpec(addComparison(spec, near, far))}>
        {WORDS.addComparison}
      </button>
      <label className="grid gap-0.5 text-small">
        {WORDS.nameSeenFrom2} {near.label}
        <input
          className="field"
          aria-label={WORDS.nameSeenFrom(near.label)}
          value={spec.b.name}
          onChange={(e) => setSpec({ ...spec, b: { ...spec.b, name: e.target.value } })}
        />
      </label>
      <label className="grid gap-0.5 text-small">
        {WORDS.nameSeenFrom2} {far.label}
        <input
          className="field"
          aria-label={WORDS.nameSeenFrom(far.label)}
          value={spec.a.name}
          onChange={(e) => setSpec({ ...spec, a: { ...spec.a, name: e.target.value } })}
        />
      </label>
      {evidence.answer && <EvidenceTable evidence={evidence.answer} near={near} far={far} link={null} />}
      {evidence.failure && <Notice tone="look">{evidence.failure.message}</Notice>}
      {failure && <Notice tone="wrong">{failure}</Notice>}
      <div className="flex gap-2">
        <button type="button" className="button-primary" disabled={!evidence.answer || spec.a.name.trim() === "" || spec.b.name.trim() === ""} onClick={save}>
          {WORDS.createLink}
        </button>
        <button type="button" className="button" onClick={() => onDone(false)}>
          {COMMON.cancel}
        </button>
      </div>
    </div>
  );
}
