"use client";

import * as edit from "@/core/report/edit";
import type { ReportLevel } from "@/core/report/spec";
import { GROUP_PART_WORDS, GROUP_PARTS } from "@/core/types/date";
import { isDated, isNumber } from "@/core/types/valueType";
import { COMMON } from "../../words";
import { CheckRow, Folded, FormulaRow, NumberRow, Row, SmallButton, TextWithFields } from "../fields";
import { WORDS } from "../words";
import { FootingLines } from "./FootingLines";
import { Inserts } from "./Inserts";
import type { PanelProps } from "./panel";
import { SummaryLines } from "./SummaryLines";

/** The group levels of a report, outermost first, and the lines of footings. */
export function GroupsPanel(props: PanelProps) {
  const { spec, change, columns, selected, select } = props;
  const open = selected?.kind === "heading" || selected?.kind === "insert" || selected?.kind === "summary" ? selected.level : null;
  return (
    <div className="grid gap-1">
      {spec.levels.length === 0 && <p className="text-soft">{WORDS.noGroupsYetTheReport}</p>}
      {spec.levels.map((level, i) => (
        <Folded
          key={level.id}
          title={<LevelTitle level={level} columns={columns} />}
          open={open === level.id}
          toggle={() => select(open === level.id ? null : { kind: "heading", level: level.id })}
          actions={
            <>
              {i > 0 && (
                <SmallButton label={WORDS.moveLevelOutwards(i + 1)} onClick={() => change(edit.moveLevel(spec, level.id, -1))}>
                  ↑
                </SmallButton>
              )}
              <SmallButton label={WORDS.removeLevel(i + 1)} tone="text-vermilion" onClick={() => change(edit.removeLevel(spec, level.id))}>
                ×
              </SmallButton>
            </>
          }
        >
          <LevelSettings {...props} level={level} innermost={i === spec.levels.length - 1} />
        </Folded>
      ))}
      <select
        className="field mt-2"
        aria-label={spec.levels.length > 0 ? WORDS.thenGroupBy : WORDS.groupBy}
        value=""
        onChange={(e) => {
          if (!e.target.value) return;
          const next = edit.addLevel(spec, e.target.value === "formula" ? { kind: "formula", text: "" } : { kind: "field", column: e.target.value.slice(1) });
          change(next);
          select({ kind: "heading", level: next.levels.at(-1)?.id ?? "" });
        }}
      >
        <option value="">{spec.levels.length > 0 ? WORDS.addLevelWithin : WORDS.addLevel}</option>
        {columns
          .filter((c) => !spec.levels.some((l) => l.value.kind === "field" && l.value.column === c.id && Object.keys(l.value).length === 2))
          .map((c) => (
            <option key={c.id} value={`.${c.id}`}>
              {c.heading}
            </option>
          ))}
        <option value="formula">{COMMON.aFormula}</option>
      </select>
      <FootingLines {...props} />
    </div>
  );
}

function LevelTitle({ level: { value }, columns }: { level: ReportLevel; columns: PanelProps["columns"] }) {
  if (value.kind === "formula") return <>{value.text || COMMON.formula}</>;
  const heading = columns.find((c) => c.id === value.column)?.heading ?? WORDS.missingColumn;
  return <>{value.part ? WORDS.partOf(GROUP_PART_WORDS[value.part], heading.toLowerCase()) : heading}</>;
}

type LevelProps = PanelProps & { level: ReportLevel; innermost: boolean };

function LevelSettings({ spec, change, columns, schema, today, items, level, innermost }: LevelProps) {
  const set = (next: Partial<ReportLevel>) => change(edit.changeLevel(spec, level.id, next));
  const flag = (name: "restart" | "keepWhole" | "every" | "totalsOnly", label: string) => (
    <CheckRow label={label} checked={level[name] ?? false} set={(on) => set({ [name]: on ? true : undefined })} />
  );
  return (
    <>
      <GroupedBy columns={columns} level={level} set={set} />
      <TextWithFields
        label={WORDS.headingText}
        value={level.heading}
        set={(heading) => set({ heading })}
        columns={columns}
        own={["", "rows"]}
        placeholder="{}"
      />
      <LevelOrder spec={spec} columns={columns} level={level} set={set} />
      <NumberRow
        label={WORDS.firstGroups}
        value={level.first ?? null}
        least={1}
        most={10_000}
        placeholder={COMMON.all}
        empty={() => set({ first: undefined })}
        set={(first) => set({ first })}
      />
      <CheckRow label={WORDS.startOnANewPage} checked={level.newPage} set={(newPage) => set({ newPage })} />
      {flag("restart", WORDS.numberPagesAnew)}
      {flag("keepWhole", WORDS.keepOnOnePage)}
      <NumberRow label={WORDS.keepWithAtLeastRows} value={level.keepRows} least={1} most={20} set={(keepRows) => set({ keepRows })} />
      <CheckRow label={WORDS.repeatHeadingOnEachPage} checked={level.repeat} set={(repeat) => set({ repeat })} />
      {innermost && level.value.kind === "field" && flag("every", WORDS.groupsWithoutRows)}
      {flag("totalsOnly", WORDS.onlyItsTotals)}
      <SummaryLines {...{ spec, change, columns, schema, today }} level={level.id} />
      <Inserts spec={spec} change={change} items={items} level={level.id} />
    </>
  );
}

/** What rows are grouped by: a column, a part of its dates, bands of its numbers, its first letters, or a formula. */
function GroupedBy({ columns, level, set }: { columns: PanelProps["columns"]; level: ReportLevel; set: (next: Partial<ReportLevel>) => void }) {
  const { value } = level;
  if (value.kind === "formula")
    return <FormulaRow label={COMMON.formula} value={value.text} set={(text) => set({ value: { kind: "formula", text } })} placeholder="UPPER(name)" />;
  const { column } = value;
  const type = columns.find((c) => c.id === column)?.type;
  return (
    <>
      <Row label={WORDS.groupBy}>
        <select className="field" value={column} onChange={(e) => set({ value: { kind: "field", column: e.target.value } })}>
          {!columns.some((c) => c.id === column) && <option value={column}>{WORDS.missingColumn}</option>}
          {columns.map((c) => (
            <option key={c.id} value={c.id}>
              {c.heading}
            </option>
          ))}
        </select>
      </Row>
      {type && isDated(type) && (
        <Row label={WORDS.by}>
          <select
            className="field"
            value={value.part ?? ""}
            onChange={(e) => {
              const part = GROUP_PARTS.find((p) => p === e.target.value);
              set({ value: { kind: "field", column, ...(part ? { part } : {}) } });
            }}
          >
            <option value="">{WORDS.itsValue}</option>
            {GROUP_PARTS.map((p) => (
              <option key={p} value={p}>
                {GROUP_PART_WORDS[p]}
              </option>
            ))}
          </select>
        </Row>
      )}
      {type && isNumber(type) && (
        <Row label={WORDS.inBandsOf}>
          <input
            className="field text-right"
            inputMode="decimal"
            placeholder={WORDS.noBands}
            value={value.band?.width ?? ""}
            onChange={(e) => set({ value: { kind: "field", column, ...(e.target.value.trim() ? { band: { width: e.target.value } } : {}) } })}
          />
        </Row>
      )}
      {type?.kind === "text" && (
        <NumberRow
          label={WORDS.firstLetters}
          value={value.letters ?? null}
          least={1}
          most={20}
          placeholder={WORDS.wholeText}
          empty={() => set({ value: { kind: "field", column } })}
          set={(letters) => set({ value: { kind: "field", column, letters } })}
        />
      )}
    </>
  );
}

function LevelOrder({ spec, columns, level, set }: Pick<PanelProps, "spec" | "columns"> & { level: ReportLevel; set: (next: Partial<ReportLevel>) => void }) {
  const { order } = level;
  const figures = spec.lines.flatMap((line) => Object.keys(line.cells).map((column) => ({ line: line.id, column })));
  const words = (id: string) => {
    const column = spec.columns.find((c) => c.id === id);
    return (
      column?.label ??
      (column?.value.kind === "field" ? columns.find((c) => c.id === (column.value as { column: string }).column)?.heading : column?.value.text) ??
      id
    );
  };
  const chosen = order.by === "figure" ? `figure ${figures.findIndex((f) => f.line === order.line && f.column === order.column)}` : order.by;
  return (
    <>
      <Row label={COMMON.order}>
        <select
          className="field"
          value={chosen}
          onChange={(e) => {
            const figure = figures[Number(e.target.value.split(" ")[1])];
            if (e.target.value === "list") set({ order: { by: "list", values: [] }, direction: "up" });
            else if (figure) set({ order: { by: "figure", ...figure }, direction: "down" });
            else set({ order: { by: "value" }, direction: "up" });
          }}
        >
          <option value="value">{WORDS.byItsValue}</option>
          {figures.map((f, i) => (
            <option key={`${f.line} ${f.column}`} value={`figure ${i}`}>
              {WORDS.byFigure(words(f.column).toLowerCase())}
            </option>
          ))}
          <option value="list">{WORDS.byAList}</option>
        </select>
      </Row>
      {order.by === "list" ? (
        <label className="grid gap-0.5 py-1 text-small">
          {WORDS.valuesInOrder}
          <textarea
            className="field"
            rows={4}
            value={order.values.join("\n")}
            onChange={(e) => set({ order: { by: "list", values: e.target.value.split("\n").slice(0, 200) } })}
          />
        </label>
      ) : (
        <Row label={WORDS.direction}>
          <select className="field" value={level.direction} onChange={(e) => set({ direction: e.target.value as "up" })}>
            <option value="up">{order.by === "figure" ? WORDS.smallestFirst : WORDS.ascendingAToZ}</option>
            <option value="down">{order.by === "figure" ? WORDS.largestFirst : WORDS.descendingZToA}</option>
          </select>
        </Row>
      )}
    </>
  );
}
