"use client";

import { useMemo, useState } from "react";
import { toast } from "sonner";
import { derivedType } from "@/core/derive/derive";
import { firstDefinition } from "@/core/derive/first";
import type { Definition, DerivedField } from "@/core/derive/spec";
import { isProblem } from "@/core/expression/check";
import { emptyQuery } from "@/core/query/empty";
import { reachable } from "@/core/query/reach";
import type { Schema, Table } from "@/core/schema/schema";
import type { Today } from "@/core/types/calendar";
import { counted, writeCount } from "@/core/types/format";
import { sentence } from "@/core/types/problem";
import { TYPE_WORDS } from "@/core/types/valueType";
import type { ShapeUses } from "@/server/services/shape/uses";
import { Notice } from "@/ui/Notice";
import { ask, sentenceOf } from "../ask";
import { FormatFields } from "../editors/FormatFields";
import { FormulaField } from "../editors/FormulaField";
import { Choice } from "../editors/parts";
import { UnitChoices } from "../editors/UnitChoices";
import { UseList } from "../shape/UsesNotice";
import { useAnswer } from "../useAnswer";
import { COMMON } from "../words";
import { useLocale } from "../workspace/locale";
import { RollupPart } from "./RollupPart";
import { useDifference } from "./useDifference";
import { WORDS } from "./words";

/** A derived field being made or changed. */
export type Draft = DerivedField & { isNew: boolean };

type Props = {
  draft: Draft;
  /** The field as it is today; null of a new one. */
  now: Draft | null;
  table: Table;
  schema: Schema;
  today: Today;
  /** How many rows the table has. */
  rows: number;
  onChange: (next: Draft) => void;
  onDone: () => void;
};

const KINDS: Record<Definition["kind"], string> = { formula: "formula", lookup: "lookup", rollup: "rollup" };

/** Makes or changes a derived field, its values shown in the sheet beside as it is written. */
export function DerivedEditor({ draft, now, table, schema, today, rows, onChange, onDone }: Props) {
  const [failure, setFailure] = useState<string | null>(null);
  const { definition } = draft;
  const found = useMemo(() => derivedType(draft, schema, today), [draft, schema, today]);
  const written = definition.kind !== "formula" || definition.text.trim() !== "";
  const problem = written && isProblem(found) ? found : null;
  const set = (next: Definition) => {
    setFailure(null);
    onChange({ ...draft, definition: next });
  };

  async function save(): Promise<void> {
    const { id, label, isNew, ...spec } = draft;
    try {
      if (isNew) await ask("/api/objects", { kind: "derived", name: label.trim(), spec });
      else {
        const saved = (await ask<{ id: string; revision: number }[]>("/api/objects?kind=derived")).find((o) => o.id === id);
        await ask(`/api/objects/${id}`, { name: label.trim(), spec, revision: saved?.revision ?? 0 }, { method: "PATCH" });
      }
      toast(WORDS.added(label.trim(), table.label));
      onDone();
    } catch (error) {
      setFailure(sentenceOf(error));
    }
  }

  return (
    <div className="grid gap-3">
      <div className="flex gap-1" role="radiogroup" aria-label={WORDS.kindOfDerivedField}>
        {(Object.keys(KINDS) as Definition["kind"][]).map((kind) => {
          const first = firstDefinition(kind, table, schema);
          return (
            <button
              key={kind}
              type="button"
              role="radio"
              aria-checked={definition.kind === kind}
              disabled={!first}
              title={first ? undefined : kind === "lookup" ? WORDS.noLinkLeadsToOne : WORDS.noLinkLeadsToMany}
              onClick={() => first && kind !== definition.kind && set(first)}
              className={`rounded border px-2.5 py-1 text-small disabled:opacity-50 ${definition.kind === kind ? "border-plum bg-plum-tint font-semibold text-plum" : "border-rule bg-sheet"}`}
            >
              {KINDS[kind]}
            </button>
          );
        })}
      </div>
      <label className="grid gap-0.5 text-small">
        {COMMON.name}
        <input aria-label={WORDS.derivedFieldName} className="field" value={draft.label} onChange={(e) => onChange({ ...draft, label: e.target.value })} />
      </label>
      {definition.kind === "formula" && (
        <FormulaField
          text={definition.text}
          fields={table.columns.map((c) => ({ type: c.type, formulaName: c.derived ? c.label : c.name }))}
          problem={problem}
          onChange={(text) => set({ kind: "formula", text })}
          placeholder="CONCAT_WS(' ', first_name, last_name)"
          note={WORDS.columnNamesFunctionsAndCASE}
        />
      )}
      {definition.kind === "lookup" && <LookupPart definition={definition} table={table} schema={schema} onChange={set} />}
      {definition.kind === "rollup" && <RollupPart rollup={definition} table={table} schema={schema} today={today} onChange={set} />}
      {problem && <Notice tone="wrong">{sentence(problem)}</Notice>}
      {failure && !problem && <Notice tone="wrong">{failure}</Notice>}
      {!problem && written && !isProblem(found) && <p className="text-small text-soft">{WORDS.result(TYPE_WORDS[found.kind])}</p>}
      {!problem && written && <Difference {...{ now, draft, schema, today, rows }} />}
      {!isProblem(found) && <FormatFields type={found} format={draft.format} onChange={(format) => onChange({ ...draft, format })} />}
      <UnitPart draft={draft} onChange={onChange} />
      <div className="flex gap-2">
        <button type="button" className="button-primary" disabled={Boolean(problem) || !written || draft.label.trim() === ""} onClick={save}>
          {COMMON.save}
        </button>
        <button type="button" className="button" onClick={onDone}>
          {COMMON.cancel}
        </button>
      </div>
    </div>
  );
}

/** In how many rows the field has another value than today, and what uses it. */
function Difference({ now, draft, schema, today, rows }: Pick<Props, "now" | "draft" | "schema" | "today" | "rows">) {
  const locale = useLocale();
  const [asked, setAsked] = useState(false);
  const uses = useAnswer<ShapeUses>("/api/tables/uses", asked && now ? { derived: now.id } : null, { settleMs: 0 });
  const differing = useDifference(now, draft, schema, today);
  if (!now) return null;
  const { answer } = uses;
  return (
    <div className="grid gap-1 text-small">
      {differing !== null && (
        <p className={differing > 0 ? "text-ochre" : "text-soft"} data-testid="derived-difference">
          {differing > 0 ? WORDS.differs(writeCount(differing, locale), counted(rows, "row", locale)) : WORDS.sameAsToday}
        </p>
      )}
      {!asked && (
        <button type="button" className="link justify-self-start" onClick={() => setAsked(true)}>
          {WORDS.whereUsed}
        </button>
      )}
      {uses.failure && <Notice tone="wrong">{uses.failure.message}</Notice>}
      {answer && (answer.named.length + answer.hidden === 0 ? <p className="text-soft">{WORDS.usedByNothing}</p> : <UseList uses={answer} />)}
    </div>
  );
}

const UnitPart = ({ draft, onChange }: { draft: Draft; onChange: (next: Draft) => void }) => (
  <label className="grid gap-0.5 text-small">
    {WORDS.unitOrCurrency}
    <input
      className="field"
      list="units-of-derived"
      value={draft.unit ?? ""}
      placeholder={COMMON.none}
      onChange={(e) => onChange({ ...draft, unit: e.target.value || undefined })}
    />
    <UnitChoices id="units-of-derived" />
  </label>
);

function LookupPart({
  definition,
  table,
  schema,
  onChange,
}: {
  definition: Extract<Definition, { kind: "lookup" }>;
  table: Table;
  schema: Schema;
  onChange: (next: Definition) => void;
}) {
  const [wanted, setWanted] = useState("");
  const fields = useMemo(() => reachable(emptyQuery(table.name), schema, 3).filter((f) => f.steps.length > 0), [table, schema]);
  const shown = fields.filter((f) => f.words.toLowerCase().includes(wanted.trim().toLowerCase()));
  const chosen = JSON.stringify([definition.steps, definition.column]);
  return (
    <div className="grid gap-1 text-small">
      <label className="grid gap-0.5">
        {WORDS.fieldOfALinkedRow}
        <input
          className="field"
          placeholder={COMMON.findAField}
          aria-label={WORDS.findAFieldToLook}
          value={wanted}
          onChange={(e) => setWanted(e.target.value)}
        />
      </label>
      <div className="max-h-56 overflow-auto border border-hairline bg-sheet p-1 text-base">
        {shown.slice(0, 120).map((f) => (
          <Choice
            key={f.words}
            chosen={JSON.stringify([f.steps, f.column]) === chosen}
            onClick={() => onChange({ kind: "lookup", steps: f.steps, column: f.column })}
          >
            {f.words}
          </Choice>
        ))}
        {shown.length === 0 && <p className="text-soft">{COMMON.noMatchingField}</p>}
      </div>
    </div>
  );
}
