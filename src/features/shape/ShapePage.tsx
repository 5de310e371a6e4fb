"use client";

import { useRouter } from "next/navigation";
import { useMemo } from "react";
import { toast } from "sonner";
import type { Schema, Table } from "@/core/schema/schema";
import { keyOf, parseCreateTable } from "@/core/shape/createTable";
import * as edit from "@/core/shape/edit";
import { planShape, type ShapePlan } from "@/core/shape/plan";
import { shapeBrief } from "@/core/shape/shapeBrief";
import type { ShapeSpec } from "@/core/shape/spec";
import { type ShapeSurvey, standsInTheWay } from "@/core/shape/survey";
import { cellWriter, counted, writeCount } from "@/core/types/format";
import { sentence } from "@/core/types/problem";
import { dateOrderOf } from "@/core/types/typed";
import { isNumber, TYPE_WORDS } from "@/core/types/valueType";
import type { Entry } from "@/server/posting/journal";
import type { ShapeNow } from "@/server/shape/run";
import type { ShapePreview } from "@/server/shape/service";
import { Confirm } from "@/ui/Confirm";
import { Margin } from "@/ui/Margin";
import { Notice } from "@/ui/Notice";
import { Sheet } from "@/ui/Sheet";
import { useUndo } from "@/ui/useUndo";
import { ask, sentenceOf } from "../ask";
import { Link } from "../Link";
import { UndoButtons } from "../UndoButtons";
import { useAnswer } from "../useAnswer";
import { COMMON } from "../words";
import { useLocale } from "../workspace/locale";
import { PageHeading } from "../workspace/PageHeading";
import { ColumnLine } from "./ColumnLine";
import { NumberLine } from "./NumberLine";
import { ShapeProof } from "./ShapeProof";
import { useKept } from "./useKept";
import { WORDS } from "./words";

type Props = { table: Table | null; now: ShapeNow; schema: Schema };

/** A table's columns as they are to be: what becomes of every row is seen before anything is changed. */
export function ShapePage({ table, now, schema }: Props) {
  const router = useRouter();
  const locale = useLocale();
  const start = useMemo(() => (table ? edit.startShape(table) : edit.startTable()), [table]);
  const { value: spec, change, undo, redo, canUndo, canRedo } = useUndo<ShapeSpec>(start);
  const forget = useKept(`shape ${table?.name ?? ""}`, spec, start, change);
  const sql = useMemo(() => (now.sql === null ? null : parseCreateTable(now.sql)), [now.sql]);
  const context = useMemo(
    () => ({ now: table && sql ? { table, sql } : null, tables: schema.tables, taken: now.taken, order: dateOrderOf(locale.locale) }),
    [table, sql, schema.tables, now.taken, locale.locale],
  );
  const checked = useMemo(() => planShape(spec, context), [spec, context]);
  const plan = checked.ok ? checked.value : null;
  const idle = plan === null || plan.how === "nothing";
  const { answer, asked, failure, running } = useAnswer<ShapePreview, { spec: ShapeSpec }>("/api/tables/shape/survey", idle ? null : { spec });
  const survey = idle ? null : (answer?.survey ?? null);
  // The rows in sight are those of the change that was asked about, until the next one is answered.
  const surveyed = useMemo(() => asked && planShape(asked.spec, context), [asked, context]);
  const current = survey !== null && !running && JSON.stringify(asked) === JSON.stringify({ spec });
  const problems = checked.ok ? [] : checked.problems;
  const problemsOf = (id: string) => new Map(problems.flatMap((p) => (p.path[0] === "columns" && p.path[1] === id ? [[String(p.path[2]), sentence(p)]] : [])));
  const key = sql ? keyOf(sql) : [];
  const keyNow = spec.columns.filter((c) => c.from !== null && key.includes(c.from)).map((c) => c.id);
  const keyed = { now: keyNow, ids: spec.key?.kind === "columns" ? spec.key.ids : spec.key ? [] : keyNow };
  const ready = current && plan !== null && !standsInTheWay(survey, plan);

  async function apply(): Promise<void> {
    if (!survey || !plan) return;
    try {
      const entry = await ask<Entry>("/api/tables/shape/change", { spec, digest: survey.digest });
      forget();
      toast(table ? WORDS.tableChanged(entry.number) : WORDS.tableCreated);
      router.push(`/tables/${encodeURIComponent(plan.name)}`);
      router.refresh();
    } catch (error) {
      toast.error(sentenceOf(error));
    }
  }

  return (
    <div className="flex h-full">
      <section className="flex min-w-0 flex-1 flex-col gap-3 overflow-auto px-5 pt-4 pb-6">
        <div className="flex flex-wrap items-center gap-x-3 gap-y-2">
          <PageHeading name={table?.label ?? WORDS.newTable} />
          <span className="text-small text-soft">{WORDS.nothingChanged}</span>
          <span className="ml-auto flex gap-2">
            <UndoButtons {...{ undo, redo, canUndo, canRedo }} />
            <Link href={table ? `/tables/${encodeURIComponent(table.name)}` : "/tables"} className="button" onClick={forget}>
              {COMMON.cancel}
            </Link>
            {ready && plan ? (
              <Confirm label={table ? WORDS.changeTable : WORDS.createTable} button={table ? WORDS.change : WORDS.create} act={() => void apply()}>
                {table ? WORDS.confirm(counted(survey?.rows ?? 0, "row", locale), shapeBrief(spec, plan, table)) : WORDS.createQuestion(plan.name)}
              </Confirm>
            ) : (
              <button type="button" className="button-primary" disabled>
                {table ? WORDS.changeTable : WORDS.createTable}
              </button>
            )}
          </span>
        </div>
        <p className="text-brief">{(plan && shapeBrief(spec, plan, table)) || WORDS.nothingToDo}</p>
        <div className="text-small">
          <label className="grid justify-items-start gap-0.5">
            {WORDS.nameOfTable}
            <input
              aria-label={WORDS.nameOfTable}
              className={`field w-56 ${problems.some((p) => p.path[0] === "name") ? "border-vermilion" : ""}`}
              value={spec.name}
              onChange={(e) => change({ ...spec, name: e.target.value }, "name of table")}
            />
          </label>
        </div>
        {problems.length > 0 && (
          <Notice tone="wrong">
            {[...new Set(problems.map(sentence))].map((s) => (
              <p key={s}>{s}</p>
            ))}
          </Notice>
        )}
        {failure && <Notice tone="wrong">{failure.message}</Notice>}
        {survey?.refusal && (
          <Notice tone="wrong">
            <b>{WORDS.refuses}</b> {survey.refusal}.
          </Notice>
        )}
        {survey && <KeyNotice survey={survey} />}
        <div className="shrink-0 overflow-x-auto border border-rule bg-sheet">
          <table className="w-full min-w-[46rem]">
            <thead>
              <tr className="border-b border-ink text-left text-small">
                <th className="px-2 py-1.5">{WORDS.column}</th>
                <th className="px-1">{COMMON.type}</th>
                <th className="px-1 text-center">{WORDS.key}</th>
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
                    {...{ spec, column, change, schema }}
                    now={own && { column: own, part: sql?.columns.find((p) => p.name === own.name) }}
                    keyed={keyed}
                    planned={plan?.columns.find((c) => c.id === column.id)}
                    survey={survey?.columns[column.id]}
                    problems={problemsOf(column.id)}
                  />
                );
              })}
              {table &&
                edit.droppedColumns(spec, table).map((c) => (
                  <tr key={c.name} className="border-b border-hairline text-soft">
                    <td className="px-2 py-1.5 line-through">{c.name}</td>
                    <td className="px-2 line-through">{TYPE_WORDS[c.type.kind]}</td>
                    <td colSpan={6} />
                    <td className="px-1 text-small">
                      {survey && WORDS.dropped(counted(survey.dropped.find((d) => d.label === c.label)?.values ?? 0, "value", locale))}
                    </td>
                    <td className="px-1">
                      <button
                        type="button"
                        className="small-button"
                        aria-label={WORDS.putBackColumn(c.name)}
                        onClick={() => change(edit.restoreColumn(spec, table, c.name))}
                      >
                        {WORDS.putBack}
                      </button>
                    </td>
                  </tr>
                ))}
            </tbody>
          </table>
        </div>
        <span className="flex gap-2">
          <button type="button" className="button" onClick={() => change(edit.addColumn(spec))}>
            {WORDS.addColumn}
          </button>
          {keyed.ids.length === 0 && spec.key?.kind !== "number" && (
            <button type="button" className="button" onClick={() => change({ ...spec, key: { kind: "number", name: "id" } })}>
              {WORDS.numberRows}
            </button>
          )}
        </span>
        {table && survey && surveyed?.ok && <Sample survey={survey} plan={surveyed.value} />}
      </section>
      {table && (
        <Margin
          parts={[
            { name: COMMON.proof, content: survey && surveyed?.ok ? <ShapeProof survey={survey} plan={surveyed.value} uses={answer?.uses ?? null} /> : null },
          ]}
        />
      )}
    </div>
  );
}

/** What is wrong with the key that was chosen. */
function KeyNotice({ survey: { key } }: { survey: ShapeSurvey }) {
  const locale = useLocale();
  return (
    <>
      {key.empty > 0 && <Notice tone="wrong">{WORDS.emptyKey(counted(key.empty, "row", locale))}</Notice>}
      {key.doubled.rows > 0 && <Notice tone="wrong">{WORDS.doubledKey(counted(key.doubled.rows, "row", locale), key.doubled.values.join("; "))}</Notice>}
    </>
  );
}

/** The first rows as they will be. */
function Sample({ survey, plan }: { survey: ShapeSurvey; plan: ShapePlan }) {
  const locale = useLocale();
  const writers = plan.columns.map(({ column }) => cellWriter(column.type, column.format ?? {}, locale));
  return (
    <div className="flex min-h-64 flex-1 flex-col gap-1">
      <h2 className="caption">{WORDS.rowsAsWillBe}</h2>
      <Sheet
        label={WORDS.rowsAsWillBe}
        columns={plan.columns.map(({ id, column }) => ({ id, heading: column.label, right: isNumber(column.type), width: 140 }))}
        rowCount={survey.sample.length}
        row={(index) => survey.sample[index]?.map((cell, i) => writers[i]?.(cell) ?? { text: "" })}
        footing={null}
        onWindow={() => {}}
      />
      {survey.rows > survey.sample.length && (
        <p className="text-small text-soft">{WORDS.firstOf(writeCount(survey.sample.length, locale), counted(survey.rows, "row", locale))}</p>
      )}
    </div>
  );
}
