"use client";

import { freshId } from "@/core/report/edit";
import type { Passage } from "@/core/report/spec";
import { COMMON } from "../../words";
import { Folded, FormulaRow, Row, SmallButton, TextWithFields } from "../fields";
import { WORDS } from "../words";
import type { PanelProps } from "./panel";

/** Passages of text before the rows, after them, and under the headings of groups. */
export function Passages({ spec, change, columns, selected, select }: PanelProps) {
  const passages = spec.passages ?? [];
  const open = selected?.kind === "passage" ? selected.id : null;
  const put = (id: string, next: Partial<Passage> | null) =>
    change({ ...spec, passages: passages.flatMap((p) => (p.id !== id ? [p] : next ? [{ ...p, ...next }] : [])) }, `passage ${id}`);
  const levelName = (id: string) => {
    const value = spec.levels.find((l) => l.id === id)?.value;
    return value?.kind === "field" ? (columns.find((c) => c.id === value.column)?.heading ?? id) : (value?.text ?? id);
  };
  return (
    <section className="grid gap-1 pt-4">
      <h3 className="caption pb-1">{WORDS.passages}</h3>
      {passages.map((p, i) => (
        <Folded
          key={p.id}
          title={p.text.trim().slice(0, 40) || WORDS.passage(i + 1)}
          open={open === p.id}
          toggle={() => select(open === p.id ? null : { kind: "passage", id: p.id })}
          actions={
            <SmallButton label={WORDS.removePassage(i + 1)} tone="text-vermilion" onClick={() => put(p.id, null)}>
              ×
            </SmallButton>
          }
        >
          <TextWithFields label={WORDS.text} value={p.text} set={(text) => put(p.id, { text })} columns={columns} own={["", "rows", "printed"]} lines={4} />
          <Row label={WORDS.place}>
            <select
              className="field"
              value={typeof p.at === "string" ? p.at : `level ${p.at.level}`}
              onChange={(e) => put(p.id, { at: e.target.value === "start" || e.target.value === "end" ? e.target.value : { level: e.target.value.slice(6) } })}
            >
              <option value="start">{WORDS.beforeRows}</option>
              <option value="end">{WORDS.afterRows}</option>
              {spec.levels.map((l) => (
                <option key={l.id} value={`level ${l.id}`}>
                  {WORDS.underEach(levelName(l.id))}
                </option>
              ))}
            </select>
          </Row>
          <Row label={WORDS.align}>
            <select className="field" value={p.align ?? "left"} onChange={(e) => put(p.id, { align: e.target.value as "left" })}>
              {(["left", "center", "right"] as const).map((side) => (
                <option key={side} value={side}>
                  {WORDS.sides[side]}
                </option>
              ))}
            </select>
          </Row>
          {p.at !== "start" && (
            <FormulaRow label={WORDS.printedWhen} value={p.when ?? ""} set={(when) => put(p.id, { when: when || undefined })} placeholder="balance > 0" />
          )}
        </Folded>
      ))}
      <button
        type="button"
        className="link justify-self-start"
        onClick={() => {
          const id = freshId("passage", passages);
          change({ ...spec, passages: [...passages, { id, at: "start", text: "" }] });
          select({ kind: "passage", id });
        }}
      >
        {COMMON.add}: {WORDS.passageNoun}
      </button>
    </section>
  );
}
