"use client";

import { useState } from "react";
import { linkedRows } from "@/core/folio/panel";
import type { ProofPick } from "@/core/proof/proof";
import * as edit from "@/core/query/edit";
import { sortBy } from "@/core/query/editOrder";
import { addWindowBeside, placeColumn, setWidth, shiftColumn } from "@/core/query/editSheet";
import { askColumn, type CellDeed, cellDeeds, withCells } from "@/core/query/fromCell";
import type { PlanColumn } from "@/core/query/plan";
import type { ParameterValues, QuerySpec } from "@/core/query/spec";
import { lineKeys } from "@/core/query/subtotals";
import { WINDOWS } from "@/core/query/windows";
import type { Schema } from "@/core/schema/schema";
import { openLinked } from "../folio/folioOpener";
import { CellChoices } from "./CellChoices";
import { HeadingChoices, type HeadingPart } from "./HeadingChoices";
import { MarksLegend } from "./marks/MarksLegend";
import { QuerySheet } from "./QuerySheet";
import type { Question } from "./questions";
import type { Running } from "./useRun";
import type { PickedCells } from "./useSheetSelection";

type Props = {
  spec: QuerySpec;
  schema: Schema;
  values: ParameterValues;
  run: Running;
  question: Question;
  name: string;
  change: (next: QuerySpec) => void;
  /** Opens the folio of a row of the sheet; undefined where its rows have none. */
  openRow: ((row: number) => void) | undefined;
  /** Shows the rows behind a group. */
  openRows: (pick: ProofPick) => void;
  go: (address: string) => void;
};

const RENAME_KEY = "F2";

/** A query's sheet as it is worked in: what its headings and cells offer, single keys, how its columns stand. */
export function QueryGrid({ spec, schema, values, run, question, name, change, openRow, openRows, go }: Props) {
  const plan = run.shown?.plan;
  const [part, setPart] = useState<HeadingPart>("choices");
  if (!plan) return null;
  const group = ({ line }: PickedCells, figure?: PlanColumn) => line && openRows({ part: "group", keys: lineKeys(plan, line), column: figure?.id });
  const openGroup = plan.grouped ? (row: number) => openRows({ part: "group", keys: lineKeys(plan, run.rowAt(row) ?? []) }) : undefined;
  const own = (id: string) => spec.columns.find((c) => c.id === id);

  function ask({ column: { id } }: PickedCells): void {
    change(askColumn(spec, schema, id));
  }
  function groupBy({ column: { id } }: PickedCells): void {
    const value = own(id)?.value;
    if (value && !spec.grouped) change(edit.groupBy(spec, schema, value));
  }
  function share({ column }: PickedCells): void {
    const of = own(column.id);
    if (of && of.figure !== "window" && WINDOWS.share.takes?.(column.type)) change(addWindowBeside(spec, of.id, "share"));
  }
  const picking =
    (deed: CellDeed) =>
    ({ column, cells }: PickedCells): void => {
      const [first = null] = cells ?? [];
      if (cells && cells.length > 0 && cellDeeds(spec, column, first).includes(deed)) change(withCells(spec, column, cells, deed));
    };
  const keys: Record<string, (picked: PickedCells) => void> = {
    f: ask,
    s: ({ column }) => change(sortBy(spec, column.id)),
    g: groupBy,
    "%": share,
    h: ({ column }) => change(edit.changeColumn(spec, column.id, { hidden: true })),
    k: picking("keep"),
    l: picking("leaveOut"),
  };

  return (
    <>
      <MarksLegend spec={spec} columns={plan.columns} change={change} />
      <QuerySheet
        plan={plan}
        run={run}
        name={name}
        question={question}
        marks={spec.marks}
        onSort={(column) => change(sortBy(spec, column))}
        onOpen={openRow ?? openGroup}
        keys={keys}
        menuKeys={{ [RENAME_KEY]: () => setPart("rename") }}
        widths={Object.fromEntries(spec.columns.map((c) => [c.id, c.width]))}
        layout={{
          frozen: spec.frozen ?? 0,
          onWidth: (column, width) => change(setWidth(spec, column, width)),
          onPlace: (column, before) => change(placeColumn(spec, column, before)),
          onShift: (column, by) => change(shiftColumn(spec, column, by)),
        }}
        menu={(id, close) => {
          const column = plan.columns.find((c) => c.id === id);
          return (
            column && <HeadingChoices {...{ spec, schema, change, close, column, columns: plan.columns, question, part }} onLeft={() => setPart("choices")} />
          );
        }}
        cellMenu={(picked, close) => (
          <CellChoices
            {...{ spec, picked, change, close }}
            openRow={openRow && (() => openRow(picked.row))}
            linked={linkedRows(spec, schema, picked.column.id)}
            openLinked={(to) => void openLinked({ spec, values, schema, go, to }, picked.row)}
            openGroup={plan.grouped ? (figure) => group(picked, figure) : undefined}
          />
        )}
      />
    </>
  );
}
