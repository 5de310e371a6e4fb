"use client";

import { useEffect, useState } from "react";
import { writtenName } from "@/core/expression/parse";
import { WINDOW_NAMES } from "@/core/query/choices";
import * as edit from "@/core/query/edit";
import { orderBy } from "@/core/query/editOrder";
import { addBeside, addWindowBeside, freezeTo, setWidth } from "@/core/query/editSheet";
import { askColumn, leftOfColumn, withBand, withCells } from "@/core/query/fromCell";
import { type Mark, newMark, setMark } from "@/core/query/marks";
import { showsNames } from "@/core/query/namedRows";
import type { PlanColumn } from "@/core/query/plan";
import { renameColumn } from "@/core/query/renameColumn";
import type { QueryColumn, QuerySpec } from "@/core/query/spec";
import { WINDOWS } from "@/core/query/windows";
import { withUnit } from "@/core/types/unit";
import { isDated, isNumber } from "@/core/types/valueType";
import { NewFormula } from "../editors/NewFormula";
import { Choice, type EditorProps, LedOn, Remove } from "../editors/parts";
import { UnitChoices } from "../editors/UnitChoices";
import { COMMON } from "../words";
import { ColumnProfile } from "./ColumnProfile";
import { ColumnSettings, GroupEditor, HeadingInput } from "./editors/columns";
import { MarkEditor } from "./marks/MarkEditor";
import type { Question } from "./questions";
import { WORDS } from "./words";

/** What a heading's menu turns to. */
export type HeadingPart = "choices" | "rename" | "unit" | "format" | "figure" | "formula" | "mark";

type Props = EditorProps & {
  column: PlanColumn /** All of the sheet. */;
  columns: readonly PlanColumn[];
  question: Question /** What it begins with. */;
  part: HeadingPart;
  onLeft: () => void;
};

/** What a heading of a query offers: the profile of its column, conditions, order, groups, figures and formulas beside it, how it stands in the sheet. */
export function HeadingChoices({ column, columns, question, part: first, onLeft, ...props }: Props) {
  const { spec, schema, change, close } = props;
  const [part, setPart] = useState<HeadingPart>(first);
  const own = spec.columns.find((c) => c.id === column.id);
  useEffect(() => onLeft, []);
  if (!own) return null;
  const act = (next: QuerySpec) => {
    change(next);
    close();
  };
  if (part !== "choices")
    return (
      <div className="min-w-72">
        <LedOn>{<HeadingEditor {...{ ...props, part, column, columns, own, act }} />}</LedOn>
      </div>
    );
  const at = leftOfColumn(spec, column.id);
  const shown = spec.columns.filter((c) => !c.hidden);
  const isLastFrozen = shown[(spec.frozen ?? 0) - 1]?.id === own.id;
  return (
    <div className="w-full [&_.menu-item]:py-0.5">
      <p className="pb-1 font-semibold">
        {column.heading} <span className="font-normal text-soft">{withUnit(column.origin, column.unit)}</span>
      </p>
      <div className="flex flex-wrap-reverse gap-x-4 gap-y-2 border-t border-hairline pt-1">
        <div className="w-56">
          {at && (
            <Choice hint="F" onClick={() => act(askColumn(spec, schema, own.id))}>
              {at.of === "groups" || (at.of === "lines" && spec.grouped) ? WORDS.onlyGroupsWhereMore : COMMON.onlyRowsWhereMore}
            </Choice>
          )}
          <Choice hint="S" onClick={() => act(orderBy(spec, own.id, "up"))}>
            {COMMON.sortAscending}
          </Choice>
          <Choice onClick={() => act(orderBy(spec, own.id, "down"))}>{COMMON.sortDescending}</Choice>
          {!spec.grouped && own.value && (
            <Choice hint="G" onClick={() => act(edit.groupBy(spec, schema, own.value as NonNullable<typeof own.value>))}>
              {WORDS.groupByThis}
            </Choice>
          )}
          {own.figure !== "window" && WINDOWS.share.takes?.(column.type) && (
            <>
              <Choice hint="%" onClick={() => act(addWindowBeside(spec, own.id, "share"))}>
                {WORDS.windowChoice(WINDOWS.share.words)}
              </Choice>
              <Choice onClick={() => setPart("figure")}>{WORDS.addFigureBeside}</Choice>
            </>
          )}
          <Choice onClick={() => setPart("formula")}>{WORDS.addFormulaBeside}</Choice>
          <Choice hint="F2" onClick={() => setPart("rename")}>
            {COMMON.rename}
          </Choice>
          <Choice onClick={() => setPart("format")}>{WORDS.formatMore}</Choice>
          <Choice onClick={() => setPart("mark")}>{WORDS.markMore}</Choice>
          {isNumber(column.type) && <Choice onClick={() => setPart("unit")}>{WORDS.unitMore}</Choice>}
          {column.rowOf !== undefined && (
            <Choice onClick={() => act(edit.changeColumn(spec, own.id, { format: { ...own.format, byKey: showsNames(column) || undefined } }))}>
              {showsNames(column) ? WORDS.showKeys : WORDS.showNames}
            </Choice>
          )}
          <Choice onClick={() => act(freezeTo(spec, own.id))}>{isLastFrozen ? WORDS.unfreeze : WORDS.freezeUpToHere}</Choice>
          {own.width !== undefined && <Choice onClick={() => act(setWidth(spec, own.id, null))}>{WORDS.fitWidth}</Choice>}
          <Choice hint="H" onClick={() => act(edit.changeColumn(spec, own.id, { hidden: true }))}>
            {WORDS.hideColumn}
          </Choice>
          <Remove onClick={() => act(edit.removeColumns(spec, [own.id]))}>{WORDS.removeColumn}</Remove>
        </div>
        {/* Beside the choices, so that none of them moves when it is there. */}
        {at && (
          <div className="w-72">
            <ColumnProfile
              column={column}
              question={question}
              pickValues={(cells, deed) => act(withCells(spec, column, cells, deed))}
              pickBand={({ from, before }) => act(withBand(spec, column, from, before))}
            />
          </div>
        )}
      </div>
    </div>
  );
}

/** The unit of a column: one that is offered, or any other. */
function UnitInput({ unit, set }: { unit: string; set: (unit: string) => void }) {
  return (
    <label className="grid gap-0.5 text-small">
      {WORDS.unit}
      <input
        className="field"
        aria-label={WORDS.unit}
        list="heading-units"
        maxLength={20}
        defaultValue={unit}
        onKeyDown={(e) => e.key === "Enter" && set(e.currentTarget.value.trim())}
      />
      <UnitChoices id="heading-units" />
      <span className="text-soft">{WORDS.unitHint}</span>
    </label>
  );
}

/** A mark as it is made: it is there once it is asked for. */
function NewMark({ columns, start, add }: { columns: readonly PlanColumn[]; start: Mark; add: (mark: Mark) => void }) {
  const [mark, change] = useState(start);
  return (
    <form
      className="grid gap-3"
      onSubmit={(e) => {
        e.preventDefault();
        add(mark);
      }}
    >
      <MarkEditor mark={mark} columns={columns} change={change} />
      <button type="submit" className="button-primary justify-self-start">
        {WORDS.addMark}
      </button>
    </form>
  );
}

type EditorPartProps = EditorProps & {
  part: HeadingPart;
  column: PlanColumn;
  columns: readonly PlanColumn[];
  own: QueryColumn;
  act: (next: QuerySpec) => void;
};

function HeadingEditor({ part, column, columns, own, act, ...props }: EditorPartProps) {
  const { spec, schema, change, close } = props;
  switch (part) {
    case "rename":
      return <HeadingInput column={own} shown={column.heading} rename={(label) => change(renameColumn(spec, schema, own.id, label))} done={close} />;
    case "unit":
      return <UnitInput unit={column.unit ?? ""} set={(unit) => act(edit.changeColumn(spec, own.id, { unit }))} />;
    case "format":
      return spec.grouped && !own.figure ? <GroupEditor {...props} id={own.id} /> : <ColumnSettings {...props} column={own} />;
    case "mark":
      return <NewMark columns={columns} start={newMark(spec, column)} add={(mark) => act(setMark(spec, mark))} />;
    case "figure":
      return WINDOW_NAMES.filter((kind) => WINDOWS[kind].takes?.(column.type)).map((kind) => (
        <Choice key={kind} onClick={() => act(addWindowBeside(spec, own.id, kind))}>
          {WORDS.windowChoice(WINDOWS[kind].words)} <span className="block text-small text-soft">{WINDOWS[kind].help}</span>
        </Choice>
      ));
    case "formula": {
      const over = spec.grouped ? "figures" : "rows";
      const start = isNumber(column.type) || isDated(column.type) ? writtenName(column.heading) : "";
      const made = (text: string) => ({ value: { kind: "formula" as const, text }, ...(spec.grouped ? { figure: "formula" as const } : {}) });
      return (
        <div className="w-80">
          <NewFormula {...{ spec, schema, over, start }} add={(text) => act(addBeside(spec, own.id, made(text)))} />
        </div>
      );
    }
    default:
      return null;
  }
}
