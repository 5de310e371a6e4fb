"use client";

import { tableOf } from "@/core/query/edit";
import { GRAND } from "@/core/report/choices";
import * as edit from "@/core/report/edit";
import { newRelated, relatedChoices } from "@/core/report/relatedChoices";
import type { RelatedTable } from "@/core/report/spec";
import { findTable, stepsFrom } from "@/core/schema/schema";
import { PanelBrief } from "../../folio/PanelBrief";
import { COMMON } from "../../words";
import { CheckRow, Folded, Row, SmallButton } from "../fields";
import { WORDS } from "../words";
import type { PanelProps } from "./panel";

/** Tables of related rows under each row or group. */
export function RelatedPanel(props: PanelProps) {
  const { spec, change, query, schema, select } = props;
  const choices = query ? relatedChoices(query, schema) : [];
  return (
    <div className="grid gap-1">
      {(spec.related ?? []).length === 0 && <p className="text-soft">{choices.length > 0 ? WORDS.noRelatedYet : WORDS.noRelatedHere}</p>}
      {(spec.related ?? []).map((table) => (
        <TableSection key={table.id} {...props} table={table} inside={null} />
      ))}
      {choices.length > 0 && (
        <select
          className="field mt-2"
          aria-label={WORDS.addRelated}
          value=""
          onChange={(e) => {
            const choice = choices[Number(e.target.value)];
            const made = e.target.value !== "" && choice ? newRelated(choice, spec.levels.at(-1)?.id ?? GRAND, schema) : null;
            if (!made) return;
            const next = edit.addRelated(spec, made);
            change(next);
            select({ kind: "related", id: next.related?.at(-1)?.id ?? "", column: null });
          }}
        >
          <option value="">{WORDS.addRelatedChoice}</option>
          {choices.map((c, i) => (
            <option key={`${c.of} ${c.step.link} ${c.step.toward}`} value={i}>
              {c.words}
            </option>
          ))}
        </select>
      )}
    </div>
  );
}

/** @param inside the table within which it stands; null for one of the report's own */
function TableSection({ table, inside, ...props }: PanelProps & { table: RelatedTable; inside: RelatedTable | null }) {
  const { spec, change, query, schema, selected, select, columns } = props;
  const open = selected?.kind === "related" && (selected.id === table.id || (table.related ?? []).some((r) => r.id === selected.id));
  const source = inside ? inside.query.source : query ? tableOf(query, schema, table.of) : undefined;
  const parent = findTable(schema, source ?? "");
  const set = (next: Partial<RelatedTable>) => change(edit.changeRelated(spec, table.id, next), `related ${table.id}`);
  const nested = inside ? [] : stepsFrom(schema, table.query.source).filter((s) => s.far.leadsTo === "many");
  const title = table.title || WORDS.untitledTable;
  return (
    <Folded
      title={title}
      open={open}
      toggle={() => select(open ? null : { kind: "related", id: table.id, column: null })}
      actions={
        <SmallButton label={COMMON.removeNamed(title)} tone="text-vermilion" onClick={() => change(edit.removeRelated(spec, table.id))}>
          ×
        </SmallButton>
      }
    >
      <Row label={COMMON.heading}>
        <input className="field" value={table.title} onChange={(e) => set({ title: e.target.value })} />
      </Row>
      {!inside && (
        <Row label={WORDS.under}>
          <select className="field" value={table.under} onChange={(e) => set({ under: e.target.value })}>
            <option value={GRAND}>{WORDS.eachRow}</option>
            {spec.levels.map((l) => (
              <option key={l.id} value={l.id}>
                {WORDS.eachGroupOf(
                  l.value.kind === "field" ? (columns.find((c) => c.id === (l.value as { column: string }).column)?.heading ?? l.id) : l.value.text,
                )}
              </option>
            ))}
          </select>
        </Row>
      )}
      {parent && (
        <div className="py-2">
          <PanelBrief query={table.query} schema={schema} parent={parent} change={(next) => set({ query: next })} />
        </div>
      )}
      <CheckRow label={WORDS.hideWhenEmpty} checked={table.hideEmpty} set={(hideEmpty) => set({ hideEmpty })} />
      <CheckRow label={WORDS.keepTogether} checked={table.keepWhole ?? false} set={(on) => set({ keepWhole: on || undefined })} />
      <CheckRow label={WORDS.carryTotals} checked={table.carried ?? false} set={(on) => set({ carried: on || undefined })} />
      {(table.related ?? []).map((inner) => (
        <TableSection key={inner.id} {...props} table={inner} inside={table} />
      ))}
      {nested.length > 0 && (
        <select
          className="field mt-1"
          aria-label={WORDS.addRelatedWithin(title)}
          value=""
          onChange={(e) => {
            const step = nested[Number(e.target.value)]?.step;
            const made = e.target.value !== "" && step ? newRelated({ of: "", step }, GRAND, schema) : null;
            if (!made) return;
            const taken = (spec.related ?? []).flatMap((r) => [r, ...(r.related ?? [])]);
            set({ related: [...(table.related ?? []), { ...made, id: edit.freshId("table", taken) }] });
          }}
        >
          <option value="">{WORDS.addWithin}</option>
          {nested.map(({ step, far }, i) => (
            <option key={`${step.link} ${step.toward}`} value={i}>
              {far.name}
            </option>
          ))}
        </select>
      )}
    </Folded>
  );
}
