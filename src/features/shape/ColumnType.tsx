"use client";

import { tableLedTo } from "@/core/schema/rowNames";
import { findTable, mayChange } from "@/core/schema/schema";
import * as edit from "@/core/shape/edit";
import type { ShapeColumn } from "@/core/shape/spec";
import { DATE_ORDER_WORDS, DATE_ORDERS, type DateOrder } from "@/core/types/date";
import { dateOrderOf } from "@/core/types/typed";
import { isDated, TYPE_WORDS, type ValueKind, type ValueType } from "@/core/types/valueType";
import { COMMON } from "../words";
import { useLocale } from "../workspace/locale";
import { type LineProps, QUIET } from "./lineProps";
import { WORDS } from "./words";

const KINDS = Object.keys(TYPE_WORDS) as ValueKind[];
const typeOf = (kind: ValueKind, scale: number): ValueType => (kind === "decimal" ? { kind, scale } : { kind });

type TypeProps = Pick<LineProps, "spec" | "column" | "now" | "schema" | "change"> & {
  named: string;
  type: ValueType;
  wrong: string | undefined;
  className: string;
};

/** A column's type; a column that is there can become a link to the rows its values name, a link the names of its rows. */
export function ColumnType({ spec, column, now, schema, named, type, wrong, className, change }: TypeProps) {
  const { id } = column;
  const order = dateOrderOf(useLocale().locale);
  const led = now && spec.table !== null ? tableLedTo(schema, spec.table, now.column.name) : undefined;
  const linkable =
    now && !led && spec.table !== null
      ? schema.tables.filter((t) => mayChange(t) && t.name !== spec.table && t.key.length === 1 && edit.lookupColumn(t) !== undefined)
      : [];
  const choose = (value: string) => {
    const [what, name] = [value.slice(0, value.indexOf(":")), value.slice(value.indexOf(":") + 1)];
    const table = findTable(schema, name);
    if (what === "link" && table) return change(edit.linkColumn(spec, id, table));
    if (what === "names" && table) return change(edit.unlinkColumn(spec, id, table));
    const kind = value as ValueKind;
    change(edit.setType(spec, id, now && kind === now.column.type.kind ? undefined : typeOf(kind, 2)));
  };
  return (
    <span className={`flex min-w-30 grow gap-1 ${isDated(type) ? "flex-wrap" : ""}`}>
      <select
        className={className}
        aria-label={WORDS.typeOf(named)}
        title={wrong}
        disabled={now?.column.generated}
        value={type.kind}
        onChange={(e) => choose(e.target.value)}
      >
        {KINDS.map((k) => (
          <option key={k} value={k}>
            {TYPE_WORDS[k]}
          </option>
        ))}
        {linkable.length > 0 && (
          <optgroup label={WORDS.linkTo}>
            {linkable.map((t) => (
              <option key={t.name} value={`link:${t.name}`}>
                {t.label}
              </option>
            ))}
          </optgroup>
        )}
        {led && edit.lookupColumn(led) !== undefined && <option value={`names:${led.name}`}>{WORDS.namesOf(led.label)}</option>}
      </select>
      {isDated(type) && now && now.column.type.kind === "text" && (
        <select
          className={`field w-auto ${QUIET}`}
          aria-label={COMMON.dateOrderIn(named)}
          value={column.dates ?? order}
          onChange={(e) => change(edit.setColumn(spec, id, { dates: e.target.value as DateOrder }))}
        >
          {DATE_ORDERS.map((o) => (
            <option key={o} value={o}>
              {DATE_ORDER_WORDS[o]}
            </option>
          ))}
        </select>
      )}
      {type.kind === "decimal" && (
        <input
          className={`field w-14 ${QUIET}`}
          type="number"
          min={1}
          max={12}
          aria-label={WORDS.decimalPlacesOf(named)}
          value={type.scale}
          onChange={(e) =>
            change(edit.setColumn(spec, id, { type: { kind: "decimal", scale: Math.min(12, Math.max(1, Math.round(Number(e.target.value)))) } }), `scale ${id}`)
          }
        />
      )}
    </span>
  );
}

/** What a new column is looked up from: a link to the rows that a column names, or what linked rows are called. */
export function LookupType({
  spec,
  column,
  schema,
  lookup,
  change,
}: Pick<LineProps, "spec" | "column" | "schema" | "change"> & { lookup: NonNullable<ShapeColumn["lookup"]> }) {
  const table = findTable(schema, lookup.table);
  if (lookup.made) return <span className="block py-1.5 text-small">{WORDS.linkToNew(lookup.table)}</span>;
  const part = lookup.link ? "match" : "give";
  return (
    <span className="flex flex-wrap items-center gap-1 py-1 text-small">
      {lookup.link ? WORDS.linkBy(table?.label ?? lookup.table, lookup.from) : WORDS.nameBy(table?.label ?? lookup.table, lookup.from)}
      <select
        className={`field w-auto ${QUIET}`}
        aria-label={WORDS.foundBy}
        value={lookup[part]}
        onChange={(e) => change(edit.setColumn(spec, column.id, { lookup: { ...lookup, [part]: e.target.value }, mapped: undefined }))}
      >
        {table?.columns
          .filter((c) => !c.derived && c.type.kind === "text")
          .map((c) => (
            <option key={c.name} value={c.name}>
              {c.label}
            </option>
          ))}
      </select>
    </span>
  );
}
