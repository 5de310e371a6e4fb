"use client";

import { tableLedTo } from "@/core/schema/rowNames";
import { type Column, findTable, type Schema } from "@/core/schema/schema";
import type { ColumnPart } from "@/core/shape/createTable";
import * as edit from "@/core/shape/edit";
import type { ShapePlanColumn } from "@/core/shape/shapePlan";
import type { ShapeColumn, ShapeSpec } from "@/core/shape/spec";
import type { ColumnSurvey } from "@/core/shape/survey";
import { counted, writeCount } from "@/core/types/format";
import { TYPE_WORDS, type ValueKind, type ValueType } from "@/core/types/valueType";
import { BriefPopover } from "@/ui/Brief";
import { useLocale } from "../workspace/locale";
import { CheckEditor } from "./CheckEditor";
import { WORDS } from "./words";

const KINDS = Object.keys(TYPE_WORDS) as ValueKind[];
const typeOf = (kind: ValueKind, scale: number): ValueType => (kind === "decimal" ? { kind, scale } : { kind });

/** Fields that stand in a table of their own lines. */
const QUIET = "border-transparent bg-transparent hover:border-rule focus:border-bottle";

type Props = {
  spec: ShapeSpec;
  column: ShapeColumn;
  /** The column as it is in the database; undefined for a new one. */
  now: { column: Column; part: ColumnPart | undefined } | undefined;
  /** The columns of the key, by their ids: as they are, and as they are to be. */
  keyed: { now: string[]; ids: string[] };
  planned: ShapePlanColumn | undefined;
  schema: Schema;
  survey: ColumnSurvey | undefined;
  /** What is wrong with what was entered, by the part it is wrong in. */
  problems: Map<string, string>;
  change: (next: ShapeSpec, said?: string) => void;
};

/** One column of a table that is being changed: what it is to be, and what becomes of the rows that do not fit. */
export function ColumnLine({ spec, column, now, keyed, planned, schema, survey, problems, change }: Props) {
  const locale = useLocale();
  const { id } = column;
  const set = (next: Partial<ShapeColumn>, said?: string) => change(edit.setColumn(spec, id, next), said);
  const type = column.type ?? now?.column.type ?? { kind: "text" as const };
  const named = column.name.trim() || WORDS.isNew;
  const written = (kind: string) => now?.part?.constraints.filter((c) => c.kind === kind).map((c) => c.text) ?? [];
  const isKey = keyed.ids.includes(id);
  // The one column of a key is unique by that.
  const byKey = isKey && keyed.ids.length === 1;
  const isUnique = byKey || (column.different ?? written("unique").length > 0);
  const isRequired = column.required ?? now?.column.nullable === false;
  const fixed = now?.column.generated === true;
  const hint = (part: string) => problems.get(part);
  const field = (part: string) => `field w-full ${hint(part) ? "border-vermilion" : QUIET}`;
  const changed =
    planned !== undefined && (planned.value.kind !== "same" || Object.values(planned.edit).some((e) => e !== undefined) || column.from !== column.name.trim());
  const odd = (survey?.misfits.rows ?? 0) + (survey?.empty ?? 0) + (survey?.doubled.rows ?? 0) + (survey?.broken ?? 0);
  const check =
    planned?.check?.words ??
    (column.check === null
      ? ""
      : written("check")
          .join(" ")
          .replace(/^CONSTRAINT\s+\S+\s+/i, "")
          .replace(/^CHECK\s*/i, ""));
  return (
    <tr className={`border-b border-hairline align-top ${changed ? "bg-bottle-tint" : ""}`}>
      <td className="px-1 py-1">
        <input
          className={`${field("name")} min-w-24`}
          aria-label={WORDS.columnName(named)}
          title={hint("name")}
          value={column.name}
          onChange={(e) => set({ name: e.target.value }, `name ${id}`)}
        />
      </td>
      <td className="px-1 py-1">
        {column.lookup ? (
          <LookupType {...{ spec, column, schema, change }} lookup={column.lookup} />
        ) : (
          <ColumnType {...{ spec, column, now, schema, named, type, change }} wrong={hint("type")} className={field("type")} />
        )}
      </td>
      <Tick label={WORDS.keyOf(named)} checked={isKey} change={() => change(edit.toggleKey(spec, id, keyed.now))} />
      <Tick label={WORDS.requiredOf(named)} disabled={fixed} checked={isRequired} change={(on) => set({ required: on })} />
      <Tick label={WORDS.differentOf(named)} disabled={fixed || byKey} checked={isUnique} change={(on) => set({ different: on })} />
      <td className="px-1 py-1">
        <input
          className={field("fallback")}
          aria-label={WORDS.defaultOf(named)}
          title={hint("fallback")}
          disabled={fixed}
          placeholder={
            column.fallback === undefined
              ? written("default")
                  .join("")
                  .replace(/^DEFAULT\s+/i, "")
              : undefined
          }
          value={column.fallback ?? ""}
          onChange={(e) => set({ fallback: e.target.value === "" ? (written("default").length > 0 ? null : undefined) : e.target.value }, `default ${id}`)}
        />
      </td>
      <td className="px-1 py-1.5">
        <BriefPopover
          label={check || "–"}
          name={WORDS.checkOf(named)}
          className={`link max-w-36 truncate text-left text-small ${hint("check") ? "text-vermilion" : ""}`}
          title={hint("check") ?? check}
        >
          {() => <CheckEditor column={column} others={spec.columns.filter((c) => c.id !== id)} change={(next) => set({ check: next }, `check ${id}`)} />}
        </BriefPopover>
      </td>
      <td className={`px-1 py-2 text-right tabular-nums ${odd > 0 ? "text-vermilion" : "text-soft"}`}>{survey ? writeCount(odd, locale) : ""}</td>
      <td className="px-1 py-1.5 text-small">
        <Outcome {...{ spec, column, named, change }} isNew={now === undefined} survey={survey} />
        {["fill", "mapped", "from"].map(
          (part) =>
            hint(part) && (
              <p key={part} className="text-vermilion">
                {hint(part)}
              </p>
            ),
        )}
      </td>
      <td className={`sticky right-0 px-1 py-1 whitespace-nowrap ${changed ? "bg-bottle-tint" : "bg-sheet"}`}>
        <button type="button" className="small-button" aria-label={WORDS.moveUp(named)} onClick={() => change(edit.moveColumn(spec, id, -1))}>
          ↑
        </button>{" "}
        <button type="button" className="small-button" aria-label={WORDS.moveDown(named)} onClick={() => change(edit.moveColumn(spec, id, 1))}>
          ↓
        </button>{" "}
        <button type="button" className="small-button" aria-label={WORDS.removeColumn(named)} onClick={() => change(edit.removeColumn(spec, id))}>
          ×
        </button>
      </td>
    </tr>
  );
}

const Tick = ({ label, checked, disabled, change }: { label: string; checked: boolean; disabled?: boolean; change: (on: boolean) => void }) => (
  <td className="px-1 py-2 text-center">
    <input type="checkbox" className="accent-bottle" aria-label={label} disabled={disabled} checked={checked} onChange={(e) => change(e.target.checked)} />
  </td>
);

type TypeProps = Pick<Props, "spec" | "column" | "now" | "schema" | "change"> & {
  named: string;
  type: ValueType;
  wrong: string | undefined;
  className: string;
};

/** A column's type; a column that is there can become a link to the rows its values name, a link the names of its rows. */
function ColumnType({ spec, column, now, schema, named, type, wrong, className, change }: TypeProps) {
  const { id } = column;
  const led = now && spec.table !== null ? tableLedTo(schema, spec.table, now.column.name) : undefined;
  const linkable =
    now && !led && spec.table !== null
      ? schema.tables.filter((t) => !t.view && t.name !== spec.table && t.key.length === 1 && edit.lookupColumn(t) !== undefined)
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
    <span className="flex min-w-30 gap-1">
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
function LookupType({
  spec,
  column,
  schema,
  lookup,
  change,
}: Pick<Props, "spec" | "column" | "schema" | "change"> & { lookup: NonNullable<ShapeColumn["lookup"]> }) {
  const table = findTable(schema, lookup.table);
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

type OutcomeProps = Pick<Props, "spec" | "column" | "survey" | "change"> & { named: string; isNew: boolean };

/** What becomes of rows that do not fit a column, with what can be chosen for them. */
function Outcome({ spec, column, named, isNew, survey, change }: OutcomeProps) {
  const locale = useLocale();
  const { id } = column;
  const set = (next: Partial<ShapeColumn>, said?: string) => change(edit.setColumn(spec, id, next), said);
  const mapped = new Map(column.mapped?.map((m) => [m.written, m.text]));
  const misfits: ColumnSurvey["misfits"] = survey?.misfits ?? { rows: 0, values: [] };
  const values: typeof misfits.values = [
    ...misfits.values,
    ...[...mapped.keys()].filter((w) => !misfits.values.some((v) => v.written === w)).map((written) => ({ written, why: "", rows: 0 })),
  ];
  const near = misfits.values.flatMap((v) => (v.near !== undefined && !mapped.has(v.written) ? [{ written: v.written, near: v.near }] : []));
  return (
    <div className="grid gap-1">
      {isNew && spec.table !== null && <span className="text-soft">{WORDS.isNew}</span>}
      {values.length > 0 && (
        <span className="flex flex-wrap items-center gap-2">
          {misfits.rows > 0 && (
            <select
              className="field w-auto"
              aria-label={`${WORDS.whatBecomes}: ${named}`}
              value={column.misfits ?? (column.lookup ? "empty" : "refuse")}
              onChange={(e) => set({ misfits: e.target.value as ShapeColumn["misfits"] })}
            >
              <option value="refuse">{WORDS.stop}</option>
              <option value="empty">{WORDS.emptied}</option>
            </select>
          )}
          <BriefPopover label={WORDS.lookAt(counted(values.length, "value", locale))} className="link">
            {() => (
              <div className="grid max-h-72 w-64 gap-1 overflow-y-auto text-small">
                <p className="caption">{column.lookup ? WORDS.noneFound : WORDS.valuesThatDoNotFit}</p>
                {near.length > 0 && (
                  <button
                    type="button"
                    className="link justify-self-start"
                    onClick={() => change(near.reduce((next, v) => edit.mapValue(next, id, v.written, v.near), spec))}
                  >
                    {WORDS.takeNear(counted(near.length, "near spelling", locale))}
                  </button>
                )}
                {values.map((v) => (
                  <label key={v.written} className="grid grid-cols-[minmax(0,1fr)_auto_6.5rem] items-center gap-2" title={v.why}>
                    <span className="truncate">{v.written}</span>
                    <span className="text-soft tabular-nums">{v.rows > 0 ? writeCount(v.rows, locale) : ""}</span>
                    <input
                      className="field"
                      aria-label={WORDS.readAs(v.written)}
                      placeholder={
                        v.near !== undefined
                          ? WORDS.perhaps(v.near)
                          : (column.misfits ?? (column.lookup ? "empty" : "refuse")) === "empty"
                            ? WORDS.emptied
                            : WORDS.newValue
                      }
                      value={mapped.get(v.written) ?? ""}
                      onChange={(e) => change(edit.mapValue(spec, id, v.written, e.target.value), `map ${id} ${v.written}`)}
                    />
                  </label>
                ))}
              </div>
            )}
          </BriefPopover>
        </span>
      )}
      {((survey?.empty ?? 0) > 0 || column.fill !== undefined) && (
        <label className="flex items-center gap-1.5">
          {survey && survey.empty > 0 ? WORDS.emptyRows(counted(survey.empty, "row", locale)) : ""} {WORDS.fillWith}
          <input
            className="field w-24"
            aria-label={WORDS.fillOf(named)}
            value={column.fill ?? ""}
            onChange={(e) => set({ fill: e.target.value === "" ? undefined : e.target.value }, `fill ${id}`)}
          />
        </label>
      )}
      {survey && survey.doubled.rows > 0 && (
        <span className="text-vermilion">{WORDS.doubled(counted(survey.doubled.rows, "row", locale), survey.doubled.values.join(", "))}</span>
      )}
      {survey && survey.broken > 0 && <span className="text-vermilion">{WORDS.breakCheck(counted(survey.broken, "row", locale))}</span>}
    </div>
  );
}
