"use client";

import { useMemo } from "react";
import { withoutCondition } from "@/core/brief/editPhrase";
import { axisChip, figureChip, ownConditions } from "@/core/brief/pivotBrief";
import type { Shelf } from "@/core/pivot/edit";
import type { Pivot } from "@/core/pivot/pivot";
import type { PivotSpec } from "@/core/pivot/spec";
import * as edit from "@/core/query/edit";
import { overRows, schemaOfPlan } from "@/core/query/over";
import type { Plan } from "@/core/query/plan";
import type { QuerySpec } from "@/core/query/spec";
import type { Table } from "@/core/schema/schema";
import { cellWriter } from "@/core/types/format";
import { type Problem, sentence } from "@/core/types/problem";
import type { Cell } from "@/core/types/valueType";
import { Brief, BriefPopover } from "@/ui/Brief";
import { FieldPicker } from "../editors/parts";
import { phraseKey } from "../editors/phraseKey";
import { PhraseEditor } from "../queries/editors/PhraseEditor";
import { COMMON } from "../words";
import { useLocale } from "../workspace/locale";
import { AxisEditor, FigureEditor } from "./chipEditors";
import { SHELVES, ShelfBox } from "./Shelves";

type Props = {
  spec: PivotSpec;
  inner: Plan;
  table: Table;
  change: (next: PivotSpec) => void;
  problems: Problem[];
  /** The pivot worked out, for the values a field has. */
  answer: Pivot | null;
  names?: Record<Shelf, string>;
  /** The shelves in the order they stand. */
  order?: Shelf[];
};

/** What a pivot is made of, as shelves of chips, and the conditions it adds to its query's. */
export function PivotBuilder({ spec, inner, table, change, problems, answer, names = SHELVES, order = ["down", "across", "figures"] }: Props) {
  const locale = useLocale();
  const wrong = new Map(problems.map((p) => [String(spec[p.path[0] as Shelf]?.[Number(p.path[1])]?.id ?? ""), sentence(p)]));
  const marked = <T extends { id: string }>(chip: T) => ({ ...chip, wrong: wrong.get(chip.id) });
  const own = { ...overRows(), conditions: spec.conditions, parameters: spec.asked };
  const schema = useMemo(() => schemaOfPlan(inner), [inner]);
  const changeOwn = (next: QuerySpec) => change({ ...spec, conditions: next.conditions, asked: next.parameters });

  const axisEditor = (id: string, close: () => void) => {
    const side = spec.down.some((a) => a.id === id) ? "down" : "across";
    const level = spec[side].findIndex((a) => a.id === id);
    const field = answer?.axes[side][level];
    const write = field ? cellWriter(field.type, field.format, locale) : null;
    const keys = new Map(answer?.[side].filter((h) => h.level === level + 1 && !h.rest && h.key !== null).map((h) => [JSON.stringify(h.key), h.key]));
    return (
      <AxisEditor
        id={id}
        spec={spec}
        table={table}
        change={change}
        close={close}
        values={[...keys.values()]}
        words={(v: Cell) => write?.(v).text ?? String(v)}
      />
    );
  };
  const figureEditor = (id: string, close: () => void) => <FigureEditor id={id} spec={spec} table={table} schema={schema} change={change} close={close} />;
  const chips = {
    down: spec.down.map((a) => marked(axisChip(a, table))),
    across: spec.across.map((a) => marked(axisChip(a, table))),
    figures: spec.figures.map((f) => marked(figureChip(f, table))),
  };
  return (
    <>
      <div className="flex flex-wrap gap-2.5 max-lg:flex-col">
        {order.map((shelf) => (
          <ShelfBox
            key={shelf}
            shelf={shelf}
            name={names[shelf]}
            spec={spec}
            change={change}
            chips={chips[shelf]}
            editor={shelf === "figures" ? figureEditor : axisEditor}
          />
        ))}
      </div>
      <Brief
        phrases={ownConditions(spec, inner, locale)}
        keyOf={phraseKey}
        onDelete={(target) => changeOwn(withoutCondition(own, target))}
        editor={(target, close) => <PhraseEditor target={target} spec={own} schema={schema} change={changeOwn} close={close} />}
      >
        <BriefPopover label={COMMON.addCondition} className="chip">
          {(close) => (
            <FieldPicker
              spec={own}
              schema={schema}
              change={changeOwn}
              close={close}
              caption={COMMON.onlyRowsWhere}
              pick={(next, operand) => changeOwn(edit.addCondition(next, schema, operand).spec)}
            />
          )}
        </BriefPopover>
      </Brief>
    </>
  );
}
