"use client";

import { rollupOver } from "@/core/derive/first";
import type { Definition } from "@/core/derive/spec";
import { writtenName } from "@/core/expression/parse";
import { mayChange, mayReshape, type Schema, stepsFrom, type Table } from "@/core/schema/schema";
import { removeDerived } from "../derived/removeDerived";
import { Choice, Remove } from "../editors/parts";
import { COMMON } from "../words";
import { ColumnSplits } from "./ColumnSplits";
import { TidyChoices } from "./TidyChoices";
import { WORDS } from "./words";

type Props = {
  column: string;
  table: Table;
  schema: Schema;
  close: () => void;
  sort: (direction: "up" | "down") => void;
  begin: (kind: Definition["kind"], from?: Definition) => void;
  change: (id: string) => void;
  removed: () => void;
};

/** What a heading of a table offers: orders, and derived fields that start from its column. */
export function HeadingChoices({ column: id, table, schema, close, sort, begin, change, removed }: Props) {
  const column = table.columns.find((c) => c.name === id);
  const steps = stepsFrom(schema, table.name);
  const through = steps.filter((s) => s.far.leadsTo === "one" && s.near.columns.includes(id));
  const over = steps.filter((s) => s.far.leadsTo === "many" && s.near.columns.includes(id));
  const and = (work: () => void) => () => {
    work();
    close();
  };
  if (!column) return null;
  return (
    <>
      <p className="caption pb-1">{column.label}</p>
      <Choice onClick={and(() => sort("up"))}>{COMMON.sortAscending}</Choice>
      <Choice onClick={and(() => sort("down"))}>{COMMON.sortDescending}</Choice>
      {!column.derived && mayChange(table) && <p className="caption pt-2 pb-1">{WORDS.tidy}</p>}
      {!column.derived && !column.generated && table.key.length > 0 && !table.key.includes(column.name) && mayChange(table) && !table.trigger && (
        <TidyChoices table={table} column={column} />
      )}
      {!column.derived && mayReshape(table) && <ColumnSplits table={table} column={column} />}
      <p className="caption pt-2 pb-1">{WORDS.addDerivedField}</p>
      <Choice onClick={and(() => begin("formula", { kind: "formula", text: writtenName(column.label) }))}>{WORDS.formulaWith(column.label)}</Choice>
      {through.map(({ step, far }) => (
        <Choice
          key={`${step.link} ${step.toward}`}
          onClick={and(() =>
            begin("lookup", { kind: "lookup", steps: [step], column: schema.tables.find((t) => t.name === far.table)?.columns[1]?.name ?? "" }),
          )}
        >
          {WORDS.lookUpFrom(far.name)}
        </Choice>
      ))}
      {over.map(({ step, far }) => (
        <Choice key={`${step.link} ${step.toward}`} onClick={and(() => begin("rollup", rollupOver(step, far.table)))}>
          {WORDS.rollUp(far.name)}
        </Choice>
      ))}
      {column.derived && (
        <>
          <p className="caption pt-2 pb-1">{WORDS.derivedField}</p>
          <Choice onClick={and(() => change(id))}>{COMMON.edit}</Choice>
          <Remove onClick={and(() => removeDerived(id, column.label, removed))}>{COMMON.remove}</Remove>
        </>
      )}
    </>
  );
}
