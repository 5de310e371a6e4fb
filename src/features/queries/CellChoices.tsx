"use client";

import type { LinkedRow } from "@/core/folio/panel";
import { orderBy } from "@/core/query/editOrder";
import { type CellDeed, cellDeeds, withCells } from "@/core/query/fromCell";
import type { PlanColumn } from "@/core/query/plan";
import type { QuerySpec } from "@/core/query/spec";
import { counted } from "@/core/types/format";
import { Choice } from "../editors/parts";
import { COMMON } from "../words";
import { useLocale } from "../workspace/locale";
import type { PickedCells } from "./useSheetSelection";
import { WORDS } from "./words";

type Props = {
  spec: QuerySpec;
  picked: PickedCells;
  change: (next: QuerySpec) => void;
  close: () => void;
  /** What of the row can be opened. */
  openRow: (() => void) | undefined;
  linked: LinkedRow[];
  openLinked: (to: LinkedRow) => void;
  /** The rows behind a group, or behind its figure in this column. */
  openGroup: ((figure?: PlanColumn) => void) | undefined;
};

const DEED_HINTS: Partial<Record<CellDeed, string>> = { keep: "K", leaveOut: "L" };

/** What a cell offers: conditions by its value, the rows and folios behind it, copying. */
export function CellChoices({ spec, picked, change, close, openRow, linked, openLinked, openGroup }: Props) {
  const locale = useLocale();
  const { column, cells, copy } = picked;
  const different = [...new Set(cells ?? [])];
  const [only = null] = different;
  const one = different.length === 1;
  // Ends are of one value; several are kept or left out together.
  const deeds = cells ? cellDeeds(spec, column, only).filter((deed) => one || deed === "keep" || deed === "leaveOut") : [];
  const and = (work: () => void) => () => {
    work();
    close();
  };
  return (
    <div className="w-full">
      <p className="truncate pb-1 font-semibold">
        {one ? (only === null ? COMMON.emptyValue : picked.write(only).text) : counted(different.length, "value", locale)}
      </p>
      {deeds.map((deed) => (
        <Choice key={deed} hint={DEED_HINTS[deed]} onClick={and(() => change(withCells(spec, column, cells ?? [], deed)))}>
          {WORDS.cellDeeds[deed]}
        </Choice>
      ))}
      <Choice hint="S" onClick={and(() => change(orderBy(spec, column.id, "up")))}>
        {COMMON.sortAscending}
      </Choice>
      <Choice onClick={and(() => change(orderBy(spec, column.id, "down")))}>{COMMON.sortDescending}</Choice>
      {openGroup && (
        <Choice hint={openRow ? undefined : COMMON.enterKey} onClick={and(() => openGroup())}>
          {WORDS.rowsOfThisGroup}
        </Choice>
      )}
      {openGroup && column.figure && column.figure !== "window" && column.expr && (
        <Choice onClick={and(() => openGroup(column))}>{WORDS.rowsOfThisFigure}</Choice>
      )}
      {openRow && (
        <Choice hint={COMMON.enterKey} onClick={and(openRow)}>
          {WORDS.openThisRow}
        </Choice>
      )}
      {linked.map((to) => (
        <Choice key={to.words} onClick={and(() => openLinked(to))}>
          {WORDS.openLinked(to.words)}
        </Choice>
      ))}
      <div className="mt-1 border-t border-hairline pt-1">
        <Choice hint="Ctrl C" onClick={and(() => copy({}))}>
          {COMMON.copy}
        </Choice>
        <Choice onClick={and(() => copy({ headings: true }))}>{WORDS.copyWithHeadings}</Choice>
        <Choice onClick={and(() => copy({ exact: true }))}>{WORDS.copyExact}</Choice>
      </div>
    </div>
  );
}
