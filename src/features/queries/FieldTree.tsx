"use client";

import { useState } from "react";
import { isOf, isTicked, joinAt } from "@/core/query/edit";
import { isLinked } from "@/core/query/joinWays";
import { namesSomething } from "@/core/query/naming";
import { scopeOf } from "@/core/query/reach";
import type { QuerySpec } from "@/core/query/spec";
import { type Column, findTable, type Schema, type Step, stepsFrom } from "@/core/schema/schema";
import { isNumber, TYPE_WORDS, type ValueType } from "@/core/types/valueType";
import { Link } from "../Link";
import { WORDS } from "./words";

const TYPE_SIGNS: Record<ValueType["kind"], string> = { text: "Aa", whole: "12", decimal: "1.5", floating: "1.5", date: "▦", timestamp: "▦", yesno: "✓" };

const TOTAL_SIGN = "Σ";

type Props = {
  schema: Schema;
  spec: QuerySpec;
  onToggle: (steps: Step[], column: string) => void;
  /** A figure over the rows that the last of the steps leads to, beside each row: their count, or the total of a column. */
  onTotal: (steps: Step[], column: string | null) => void;
};
type TreeProps = Props & { onToggleJoined: (join: string, column: string) => void };

/** The fields within reach of a query's source: its columns, its links to any depth, and tables joined by comparisons. */
export function FieldTree({ schema, spec, onToggle, onToggleJoined, onTotal }: TreeProps) {
  const compared = scopeOf(spec, schema).filter((s) => spec.joins.some((j) => j.id === s.id && !isLinked(j)));
  const label = findTable(schema, spec.source)?.label ?? spec.source;
  return (
    <div className="px-4 py-3">
      <h2 className="caption pb-2">{WORDS.fieldsFrom(label)}</h2>
      <Branch schema={schema} spec={spec} onToggle={onToggle} onTotal={onTotal} table={spec.source} steps={[]} />
      <LinkHint schema={schema} source={spec.source} />
      {compared.map(({ id, path, table }) => (
        <section key={id} aria-label={path.join(" › ")} className="pt-2">
          <h3 className="px-1 font-semibold">{path.join(" › ")}</h3>
          <ul className="pl-3.5">
            {table.columns.map((column) => (
              <FieldLine
                key={column.name}
                column={column}
                ticked={spec.columns.some((c) => !c.hidden && isOf(c, id, column.name))}
                onToggle={() => onToggleJoined(id, column.name)}
              />
            ))}
          </ul>
        </section>
      ))}
    </div>
  );
}

/** A table that nothing is linked to: that there could be links, and where they are made. */
function LinkHint({ schema, source }: { schema: Schema; source: string }) {
  const table = schema.tables.find((t) => t.name === source);
  if (!table || stepsFrom(schema, source).length > 0) return null;
  return (
    <p className="mt-3 border-t border-hairline pt-2 text-small text-soft">
      {WORDS.noLinksYet}{" "}
      <Link href={`/tables/${encodeURIComponent(source)}`} className="link">
        {WORDS.linkTable}
      </Link>
    </p>
  );
}

function Branch({ schema, spec, onToggle, onTotal, table: name, steps, many }: Props & { table: string; steps: Step[]; many?: string }) {
  const table = findTable(schema, name);
  if (!table) return <p className="text-vermilion">{WORDS.thisTableDoesNotExist}</p>;
  const repeats = steps.length > 0;
  return (
    <ul className={repeats ? "pl-3.5" : ""}>
      {table.columns.map((column) => (
        <FieldLine
          key={column.name}
          column={column}
          ticked={isTicked(spec, steps, column.name)}
          onToggle={() => onToggle(steps, column.name)}
          {...(many && isNumber(column.type) && !namesSomething(schema, { table, column })
            ? { total: { words: WORDS.addTotalOf(`${many} › ${column.label}`), add: () => onTotal(steps, column.name) } }
            : {})}
        />
      ))}
      {stepsFrom(schema, name).map(({ step, far }) => (
        <LinkBranch
          key={`${step.link} ${step.toward}`}
          schema={schema}
          spec={spec}
          onToggle={onToggle}
          onTotal={onTotal}
          table={far.table}
          steps={[...steps, step]}
          name={far.name}
          many={far.leadsTo === "many"}
        />
      ))}
    </ul>
  );
}

type FieldLineProps = { column: Column; ticked: boolean; onToggle: () => void; total?: { words: string; add: () => void } };

function FieldLine({ column, ticked, onToggle, total }: FieldLineProps) {
  return (
    <li className="flex">
      <label className="flex min-w-0 flex-1 cursor-pointer items-center gap-2.5 rounded px-1 py-[3px] hover:bg-bottle-tint">
        <input type="checkbox" className="size-3.5 shrink-0 accent-bottle" checked={ticked} onChange={onToggle} />
        <span
          className={`truncate ${column.derived ? "text-plum" : ticked ? "text-bottle" : ""} ${ticked ? "font-semibold" : ""} ${column.derived?.broken ? "line-through" : ""}`}
          title={column.derived?.broken ?? column.derived?.words ?? column.name}
        >
          {column.label}
        </span>
        <span className="ml-auto text-tiny text-faint" title={TYPE_WORDS[column.type.kind]}>
          {column.unit ?? TYPE_SIGNS[column.type.kind]}
        </span>
      </label>
      {total && (
        <button type="button" className="small-button" aria-label={total.words} title={total.words} onClick={total.add}>
          {TOTAL_SIGN}
        </button>
      )}
    </li>
  );
}

function LinkBranch({ name, many, ...props }: Props & { table: string; steps: Step[]; name: string; many: boolean }) {
  const brought = joinAt(props.spec, props.steps) !== undefined;
  const [open, setOpen] = useState(brought);
  return (
    <li className="pt-1">
      <button
        type="button"
        aria-expanded={open}
        onClick={() => setOpen(!open)}
        className={`flex w-full items-center gap-1 rounded px-1 py-[3px] text-left hover:bg-bottle-tint ${brought ? "font-semibold" : ""}`}
      >
        <span aria-hidden="true" className="w-3 text-tiny">
          {open ? "▾" : "▸"}
        </span>
        <span className="truncate">
          <span className={many ? "text-ochre" : "text-soft"}>{many ? "many" : "one"}</span> {name}
        </span>
      </button>
      {open && (
        <>
          {many && (
            <p className="ml-5 border-l-[3px] border-ochre bg-ochre-tint px-2 py-1 text-tiny text-ink">
              {WORDS.rowsRepeatOnceForEach}{" "}
              <button type="button" className="link" onClick={() => props.onTotal(props.steps, null)}>
                {WORDS.countThem}
              </button>
            </p>
          )}
          <Branch {...props} {...(many ? { many: name } : {})} />
        </>
      )}
    </li>
  );
}
