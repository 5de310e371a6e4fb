"use client";

import { AGGREGATES, needsBy } from "@/core/query/aggregates";
import { AGGREGATE_NAMES, type AggregateName } from "@/core/query/choices";
import { GRAND } from "@/core/report/choices";
import * as edit from "@/core/report/edit";
import { standsAt } from "@/core/report/figuresPlan";
import type { FootingCell, FootingLine } from "@/core/report/spec";
import type { ValueType } from "@/core/types/valueType";
import { COMMON } from "../../words";
import { Folded, FormulaRow, Row, SmallButton, TextWithFields } from "../fields";
import { headingOf, typeOf } from "../headings";
import { WORDS } from "../words";
import type { PanelProps } from "./panel";

/** The lines of footings: where each stands, its text, and the figures under the columns. */
export function FootingLines(props: PanelProps) {
  const { spec, change, selected, select } = props;
  const open = selected?.kind === "footing" ? selected.line : null;
  const of = (line: string) => ({ kind: "footing" as const, line, level: GRAND, column: null, keys: [] });
  return (
    <section className="pt-4">
      <h2 className="caption pb-1">{WORDS.footings}</h2>
      {spec.lines.map((line, i) => (
        <Folded
          key={line.id}
          title={line.text || WORDS.footingLine(i + 1)}
          open={open === line.id}
          toggle={() => select(open === line.id ? null : of(line.id))}
          actions={
            <SmallButton label={WORDS.removeFooting(i + 1)} tone="text-vermilion" onClick={() => change(edit.removeLine(spec, line.id))}>
              ×
            </SmallButton>
          }
        >
          <LineSettings {...props} line={line} />
        </Folded>
      ))}
      <button
        type="button"
        className="link pt-2"
        onClick={() => {
          const added = edit.addLine(spec);
          change(added.spec);
          select(of(added.id));
        }}
      >
        {WORDS.addFootingLine}
      </button>
    </section>
  );
}

function LineSettings({ spec, change, columns, line }: PanelProps & { line: FootingLine }) {
  const levels = [...spec.levels.map((l) => ({ id: l.id, words: levelWords(l.id) })), { id: GRAND, words: WORDS.wholeReport }];
  function levelWords(id: string): string {
    const value = spec.levels.find((l) => l.id === id)?.value;
    if (value?.kind !== "field") return value?.text ?? id;
    return columns.find((c) => c.id === value.column)?.heading ?? id;
  }
  return (
    <>
      <fieldset className="flex flex-wrap gap-x-3 gap-y-1 py-1 text-small">
        <legend className="float-left mr-3">{WORDS.printedFor}</legend>
        {levels.map(({ id, words }) => (
          <label key={id} className="flex items-center gap-1">
            <input type="checkbox" className="accent-bottle" checked={standsAt(line, id)} onChange={() => change(edit.toggleLineLevel(spec, line.id, id))} />
            {words}
          </label>
        ))}
      </fieldset>
      <Row label={WORDS.place}>
        <select
          className="field"
          value={line.before ? "before" : "after"}
          onChange={(e) => change(edit.changeLine(spec, line.id, { before: e.target.value === "before" ? true : undefined }))}
        >
          <option value="after">{WORDS.afterRows}</option>
          <option value="before">{WORDS.beforeRows}</option>
        </select>
      </Row>
      <TextWithFields
        label={WORDS.text}
        value={line.text}
        set={(text) => change(edit.changeLine(spec, line.id, { text }))}
        columns={columns}
        own={["", "rows", "printed"]}
        placeholder={WORDS.groupAndCount}
      />
      {spec.columns
        .filter((c) => !c.window)
        .map((c) => (
          <CellSettings
            key={c.id}
            label={headingOf(c, columns)}
            type={typeOf(c, columns)}
            cell={line.cells[c.id] ?? null}
            columns={columns}
            set={(cell) => change(edit.setCell(spec, line.id, c.id, cell))}
          />
        ))}
    </>
  );
}

type CellProps = {
  label: string;
  type: ValueType | undefined;
  cell: FootingCell | null;
  columns: PanelProps["columns"];
  set: (cell: FootingCell | null) => void;
};

/** The figure of a line under a column, with what it needs besides. */
export function CellSettings({ label, type, cell, columns, set }: CellProps) {
  const figures = AGGREGATE_NAMES.filter((name) => !type || AGGREGATES[name].takes(type));
  const figure = cell?.kind === "figure" ? cell.figure : null;
  const choose = (name: string) => {
    if (name === "none") return set(null);
    if (name === "formula") return set({ kind: "formula", text: "" });
    const chosen = name as AggregateName;
    const by = needsBy(chosen) ? { by: columns[0]?.id ?? "" } : {};
    set({ kind: "figure", figure: chosen, ...by, ...(AGGREGATES[chosen].percent ? { percent: 90 } : {}) });
  };
  return (
    <>
      <Row label={label}>
        <select className="field" value={cell === null ? "none" : cell.kind === "formula" ? "formula" : cell.figure} onChange={(e) => choose(e.target.value)}>
          <option value="none">{WORDS.noFigure}</option>
          {figures.map((name) => (
            <option key={name} value={name}>
              {AGGREGATES[name].words}
            </option>
          ))}
          <option value="formula">{COMMON.aFormula}</option>
        </select>
      </Row>
      {cell?.kind === "formula" && (
        <FormulaRow label={WORDS.formulaUnder(label)} value={cell.text} set={(text) => set({ ...cell, text })} placeholder="SUM(freight) / SUM(weight)" />
      )}
      {cell?.kind === "figure" && figure && (needsBy(figure) || AGGREGATES[figure].order) && (
        <Row label={AGGREGATES[figure].weighs ? COMMON.weighedBy : COMMON.inOrderOf}>
          <select className="field" value={cell.by ?? ""} onChange={(e) => set({ ...cell, by: e.target.value || undefined })}>
            {!needsBy(figure) && <option value="">{WORDS.itsValue}</option>}
            {columns.map((c) => (
              <option key={c.id} value={c.id}>
                {c.heading}
              </option>
            ))}
          </select>
        </Row>
      )}
      {cell?.kind === "figure" && figure && AGGREGATES[figure].percent && (
        <Row label={COMMON.percentage}>
          <input
            type="number"
            min={0}
            max={100}
            className="field text-right"
            value={cell.percent ?? ""}
            onChange={(e) => set({ ...cell, percent: Math.max(0, Math.min(100, Number(e.target.value))) })}
          />
        </Row>
      )}
    </>
  );
}
