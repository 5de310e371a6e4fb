"use client";

import { resolveQuery } from "@/core/query/resolve";
import * as edit from "@/core/report/edit";
import type { SummaryLine } from "@/core/report/spec";
import { moved } from "@/core/types/list";
import { withUnit } from "@/core/types/unit";
import { COMMON } from "../../words";
import { CheckRow, FormulaRow, Row, SmallButton, TextWithFields } from "../fields";
import { WORDS } from "../words";
import type { PanelProps } from "./panel";

type Props = Pick<PanelProps, "spec" | "change" | "columns" | "schema" | "today"> & { level: string };
type Total = { table: string; column: string; words: string; heading: string };

/** The totals of related tables under a level's groups. */
function totalsUnder({ spec, schema, today, level }: Props): Total[] {
  return (spec.related ?? [])
    .filter((table) => table.under === level)
    .flatMap((table) => {
      const resolved = resolveQuery({ ...table.query, conditions: [] }, schema, { today, values: {} });
      const columns = resolved.ok ? resolved.value.columns.filter((c) => c.totalled && !c.hidden) : [];
      const title = table.title || WORDS.untitledTable;
      return columns.map((c) => ({ table: table.id, column: c.id, heading: title, words: WORDS.totalOf(title, withUnit(c.heading, c.unit)) }));
    });
}

/** The lines that close each group of a level. */
export function SummaryLines(props: Props) {
  const { spec, change, columns, level } = props;
  const lines = edit.summaryOf(spec, level);
  const totals = totalsUnder(props);
  const set = (line: SummaryLine, next: Partial<SummaryLine>) => change(edit.changeSummaryLine(spec, level, line.id, next), `summary ${level} ${line.id}`);
  const words = (of: SummaryLine["of"]) => (of.kind === "related" ? `${of.table}\n${of.column}` : of.kind);
  const ofChoice = (value: string): SummaryLine["of"] => {
    const total = totals.find((t) => `${t.table}\n${t.column}` === value);
    if (total) return { kind: "related", table: total.table, column: total.column };
    return value === "sum" ? { kind: "sum" } : { kind: "formula", text: "" };
  };
  const choices = [
    { value: "formula", words: COMMON.aFormula },
    ...totals.map((t) => ({ value: `${t.table}\n${t.column}`, words: t.words })),
    { value: "sum", words: WORDS.linesAboveAdded },
  ];
  return (
    <section className="grid gap-1 pt-3">
      <h3 className="caption">{WORDS.summary}</h3>
      {lines.map((line, i) => (
        <div key={line.id} className="border-b border-hairline pb-1">
          <div className="flex items-end gap-1">
            <div className="min-w-0 flex-1">
              <TextWithFields label={WORDS.summaryLine(i + 1)} value={line.text} set={(text) => set(line, { text })} columns={columns} own={["", "rows"]} />
            </div>
            {i > 0 && (
              <SmallButton label={WORDS.moveSummaryLine(i + 1)} onClick={() => change(edit.setSummary(spec, level, moved(lines, i, -1)))}>
                ↑
              </SmallButton>
            )}
            <SmallButton
              label={WORDS.removeSummaryLine(i + 1)}
              tone="text-vermilion"
              onClick={() => change(edit.changeSummaryLine(spec, level, line.id, null))}
            >
              ×
            </SmallButton>
          </div>
          <Row label={WORDS.figureOfLine}>
            <select
              className="field"
              aria-label={WORDS.figureOfSummaryLine(i + 1)}
              value={words(line.of)}
              onChange={(e) => set(line, { of: ofChoice(e.target.value) })}
            >
              {!choices.some((c) => c.value === words(line.of)) && <option value={words(line.of)}>{WORDS.missingTotal}</option>}
              {choices.map((c) => (
                <option key={c.value} value={c.value}>
                  {c.words}
                </option>
              ))}
            </select>
          </Row>
          {line.of.kind === "formula" && (
            <FormulaRow label={COMMON.formula} value={line.of.text} set={(text) => set(line, { of: { kind: "formula", text } })} placeholder="SUM(freight)" />
          )}
          {line.of.kind !== "sum" && (
            <CheckRow label={WORDS.takenAway} checked={line.minus ?? false} set={(on) => set(line, { minus: on ? true : undefined })} />
          )}
        </div>
      ))}
      <select
        className="field"
        aria-label={WORDS.addSummaryLine}
        value=""
        onChange={(e) => {
          if (!e.target.value) return;
          const text = totals.find((t) => `${t.table}\n${t.column}` === e.target.value)?.heading ?? "";
          change(edit.addSummaryLine(spec, level, ofChoice(e.target.value), text));
        }}
      >
        <option value="">{WORDS.addSummaryLineChoice}</option>
        {choices.map((c) => (
          <option key={c.value} value={c.value}>
            {c.words}
          </option>
        ))}
      </select>
    </section>
  );
}
