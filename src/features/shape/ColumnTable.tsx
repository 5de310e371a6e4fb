"use client";

import type { Column, Schema, Table } from "@/core/schema/schema";
import * as edit from "@/core/shape/edit";
import { counted } from "@/core/types/format";
import { sentence } from "@/core/types/problem";
import { TYPE_WORDS } from "@/core/types/valueType";
import { COMMON } from "../words";
import { useLocale } from "../workspace/locale";
import { ColumnLine } from "./ColumnLine";
import { NumberLine } from "./NumberLine";
import type { Shape } from "./useShape";
import { WORDS } from "./words";

type Props = { table: Table | null; schema: Schema; shape: Shape };

/** The columns of a table that is changed, a line each; those that are removed come last. */
export function ColumnTable({ table, schema, shape }: Props) {
  const { spec, change, sql, plan, survey, problems, keyed } = shape;
  const problemsOf = (id: string) => new Map(problems.flatMap((p) => (p.path[0] === "columns" && p.path[1] === id ? [[String(p.path[2]), sentence(p)]] : [])));
  return (
    <div className="shrink-0 overflow-x-auto border border-rule bg-sheet">
      <table className="w-full min-w-[46rem]">
        <thead>
          <tr className="border-b border-ink text-left text-small">
            <th className="px-2 py-1.5">{WORDS.column}</th>
            <th className="px-1">{COMMON.type}</th>
            <th className="px-1 text-center">{COMMON.key}</th>
            <th className="px-1 text-center">{WORDS.required}</th>
            <th className="px-1 text-center">{WORDS.different}</th>
            <th className="w-28 px-1 max-[1100px]:w-20">{WORDS.defaultValue}</th>
            <th className="px-1">{WORDS.check}</th>
            <th className="px-1 text-right">{table ? WORDS.notFit : ""}</th>
            <th className="px-1">{table ? WORDS.whatBecomes : ""}</th>
            <th />
          </tr>
        </thead>
        <tbody>
          {spec.key?.kind === "number" && <NumberLine name={spec.key.name} {...{ spec, change }} />}
          {spec.columns.map((column) => {
            const own = table?.columns.find((c) => c.name === column.from);
            return (
              <ColumnLine
                key={column.id}
                {...{ spec, column, change, schema, keyed, table }}
                now={own && { column: own, part: sql?.columns.find((p) => p.name === own.name) }}
                planned={plan?.columns.find((c) => c.id === column.id)}
                survey={survey?.columns[column.id]}
                made={survey?.made.find((m) => m.id === column.id)}
                problems={problemsOf(column.id)}
              />
            );
          })}
          {table && edit.droppedColumns(spec, table).map((c) => <DroppedLine key={c.name} column={c} table={table} shape={shape} />)}
        </tbody>
      </table>
    </div>
  );
}

/** A column that is removed, with the way back. */
function DroppedLine({ column: { name, label, type }, table, shape: { spec, change, survey } }: { column: Column; table: Table; shape: Shape }) {
  const locale = useLocale();
  const values = survey?.dropped.find((d) => d.label === label)?.values ?? 0;
  return (
    <tr className="border-b border-hairline text-soft">
      <td className="px-2 py-1.5 line-through">{name}</td>
      <td className="px-2 line-through">{TYPE_WORDS[type.kind]}</td>
      <td colSpan={6} />
      <td className="px-1 text-small">{survey && WORDS.dropped(counted(values, "value", locale))}</td>
      <td className="px-1">
        <button type="button" className="small-button" aria-label={WORDS.putBackColumn(name)} onClick={() => change(edit.restoreColumn(spec, table, name))}>
          {WORDS.putBack}
        </button>
      </td>
    </tr>
  );
}
