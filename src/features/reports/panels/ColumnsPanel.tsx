"use client";

import { WINDOWS } from "@/core/query/windows";
import { MARK_TONES, REPORT_WINDOWS } from "@/core/report/choices";
import * as edit from "@/core/report/edit";
import type { ReportColumn } from "@/core/report/spec";
import { holdsFigure } from "@/core/report/texts";
import { isNumber } from "@/core/types/valueType";
import { COMMON } from "../../words";
import { CheckRow, Folded, FormulaRow, NumberRow, Row, SmallButton } from "../fields";
import { headingOf, typeOf } from "../headings";
import { WORDS } from "../words";
import { CellSettings } from "./FootingLines";
import type { PanelProps } from "./panel";

/** The columns of a report, in their order on the page. */
export function ColumnsPanel(props: PanelProps) {
  const { spec, change, columns, selected, select } = props;
  const open = selected?.kind === "columnHeading" || selected?.kind === "value" ? selected.column : null;
  const left = columns.filter((c) => !spec.columns.some((x) => x.value.kind === "field" && x.value.column === c.id));
  return (
    <div>
      {spec.columns.map((c, i) => {
        const heading = headingOf(c, columns);
        return (
          <Folded
            key={c.id}
            title={heading}
            open={open === c.id}
            toggle={() => select(open === c.id ? null : { kind: "columnHeading", column: c.id })}
            actions={
              <>
                {i > 0 && (
                  <SmallButton label={WORDS.moveLeft(heading)} onClick={() => change(edit.putColumn(spec, c.id, spec.columns[i - 1]?.id ?? null))}>
                    ←
                  </SmallButton>
                )}
                {i < spec.columns.length - 1 && (
                  <SmallButton label={WORDS.moveRight(heading)} onClick={() => change(edit.putColumn(spec, c.id, spec.columns[i + 2]?.id ?? null))}>
                    →
                  </SmallButton>
                )}
                <SmallButton label={COMMON.removeNamed(heading)} tone="text-vermilion" onClick={() => change(edit.removeColumn(spec, c.id))}>
                  ×
                </SmallButton>
              </>
            }
          >
            <ColumnSettings {...props} column={c} />
          </Folded>
        );
      })}
      <select
        className="field mt-2"
        aria-label={WORDS.addColumn2}
        value=""
        onChange={(e) => {
          if (!e.target.value) return;
          const next = edit.addColumn(spec, e.target.value === "formula" ? { kind: "formula", text: "" } : { kind: "field", column: e.target.value.slice(1) });
          change(next);
          select({ kind: "columnHeading", column: next.columns.at(-1)?.id ?? "" });
        }}
      >
        <option value="">{WORDS.addColumn}</option>
        {left.map((c) => (
          <option key={c.id} value={`.${c.id}`}>
            {c.heading}
          </option>
        ))}
        <option value="formula">{COMMON.aFormula}</option>
      </select>
    </div>
  );
}

function ColumnSettings({ spec, change, columns, column }: PanelProps & { column: ReportColumn }) {
  const set = (next: Partial<ReportColumn>) => change(edit.changeColumn(spec, column.id, next));
  const type = typeOf(column, columns);
  const numeric = type ? isNumber(type) : true;
  const [line] = spec.lines;
  const tabled = spec.shape.kind === "table" || spec.shape.kind === "columns";
  return (
    <>
      {column.value.kind === "formula" && (
        <FormulaRow label={COMMON.formula} value={column.value.text} set={(text) => set({ value: { kind: "formula", text } })} placeholder="freight / weight" />
      )}
      <Row label={COMMON.heading}>
        <input
          className="field"
          value={column.label ?? ""}
          placeholder={headingOf({ ...column, label: undefined }, columns)}
          onChange={(e) => set({ label: e.target.value || undefined })}
        />
      </Row>
      {column.value.kind === "formula" && holdsFigure(column.value.text) && (
        <Row label={WORDS.figuresOf}>
          <select
            className="field"
            aria-label={WORDS.figuresOf}
            value={column.over ?? spec.levels.at(-1)?.id ?? ""}
            onChange={(e) => set({ over: e.target.value })}
          >
            <Levels spec={spec} columns={columns} />
          </select>
        </Row>
      )}
      {tabled && (
        <NumberRow
          label={WORDS.widthMm}
          value={column.widthMm}
          least={5}
          most={300}
          step={0.1}
          placeholder={WORDS.automatic}
          empty={() => change(edit.setWidth(spec, column.id, null))}
          set={(mm) => change(edit.setWidth(spec, column.id, mm))}
        />
      )}
      {numeric && (
        <NumberRow
          label={COMMON.decimalPlaces}
          value={column.format?.decimals ?? null}
          least={0}
          most={12}
          placeholder={WORDS.automatic}
          empty={() => set({ format: { ...column.format, decimals: undefined } })}
          set={(decimals) => set({ format: { ...column.format, decimals } })}
        />
      )}
      {tabled && !numeric && <CheckRow label={WORDS.wrapText} checked={column.wrap ?? false} set={(wrap) => set({ wrap: wrap || undefined })} />}
      {tabled && <CheckRow label={WORDS.repeatedOnce} checked={column.once ?? false} set={(once) => set({ once: once || undefined })} />}
      {numeric && (
        <Row label={WORDS.shownAs}>
          <select
            className="field"
            value={column.window?.kind ?? ""}
            onChange={(e) => {
              const kind = REPORT_WINDOWS.find((w) => w === e.target.value);
              set({ window: kind ? { kind, level: column.window?.level ?? spec.levels[0]?.id ?? "" } : undefined });
            }}
          >
            <option value="">{WORDS.itsValue}</option>
            {REPORT_WINDOWS.map((w) => (
              <option key={w} value={w}>
                {WINDOWS[w].words}
              </option>
            ))}
          </select>
        </Row>
      )}
      {column.window && (
        <Row label={WORDS.within}>
          <select className="field" value={column.window.level} onChange={(e) => column.window && set({ window: { ...column.window, level: e.target.value } })}>
            <Levels spec={spec} columns={columns} />
          </select>
        </Row>
      )}
      {!column.window && (
        <CellSettings
          label={WORDS.footing}
          type={type}
          columns={columns}
          cell={line?.cells[column.id] ?? null}
          set={(cell) => change(edit.setCell(spec, line?.id ?? "", column.id, cell))}
        />
      )}
      {tabled && !column.window && numeric && (
        <CheckRow label={WORDS.carried} checked={spec.carried?.includes(column.id) ?? false} set={() => change(edit.toggleCarried(spec, column.id))} />
      )}
      <FormulaRow label={WORDS.printedWhen} value={column.when ?? ""} set={(when) => set({ when: when || undefined })} placeholder="weight > 0" />
      <Marks column={column} set={set} />
    </>
  );
}

/** The groups a figure can be of, as choices: those of each level, and the whole report. */
function Levels({ spec, columns }: Pick<PanelProps, "spec" | "columns">) {
  return (
    <>
      {spec.levels.map((l) => (
        <option key={l.id} value={l.id}>
          {WORDS.eachGroupOf(l.value.kind === "field" ? (columns.find((c) => c.id === (l.value as { column: string }).column)?.heading ?? l.id) : l.value.text)}
        </option>
      ))}
      <option value="">{WORDS.wholeReport}</option>
    </>
  );
}

/** Rules that mark a value, with a sign beside it. */
function Marks({ column, set }: { column: ReportColumn; set: (next: Partial<ReportColumn>) => void }) {
  const marks = column.marks ?? [];
  const put = (i: number, next: Partial<(typeof marks)[number]> | null) =>
    set({ marks: marks.flatMap((m, k) => (k !== i ? [m] : next ? [{ ...m, ...next }] : [])) });
  return (
    <div className="grid gap-1 pt-1 text-small">
      {marks.map((mark, i) => (
        <div key={`mark ${i}`} className="flex items-end gap-1">
          <label className="grid min-w-0 flex-1 gap-0.5">
            {WORDS.markWhen}
            <input
              className="field font-mono text-small"
              value={mark.when}
              placeholder="freight > 1000"
              spellCheck={false}
              onChange={(e) => put(i, { when: e.target.value })}
            />
          </label>
          <select
            className="field w-20"
            aria-label={WORDS.markTone}
            value={mark.tone}
            onChange={(e) => put(i, { tone: e.target.value as (typeof mark)["tone"] })}
          >
            {MARK_TONES.map((tone) => (
              <option key={tone} value={tone}>
                {WORDS.tones[tone]}
              </option>
            ))}
          </select>
          <input
            className="field w-10 text-center"
            aria-label={WORDS.markSign}
            maxLength={3}
            value={mark.sign}
            onChange={(e) => put(i, { sign: e.target.value })}
          />
          <SmallButton label={WORDS.removeMark} tone="text-vermilion" onClick={() => put(i, null)}>
            ×
          </SmallButton>
        </div>
      ))}
      <button type="button" className="link justify-self-start" onClick={() => set({ marks: [...marks, { when: "", tone: "ochre", sign: "!" }] })}>
        {WORDS.addMark}
      </button>
    </div>
  );
}
