"use client";

import { useRouter } from "next/navigation";
import { toast } from "sonner";
import type { Schema, Table } from "@/core/schema/schema";
import * as edit from "@/core/shape/edit";
import { shapeBrief } from "@/core/shape/shapeBrief";
import type { ShapePlan } from "@/core/shape/shapePlan";
import type { ShapeSurvey } from "@/core/shape/survey";
import type { Today } from "@/core/types/calendar";
import { cellWriter, counted, writeCount } from "@/core/types/format";
import { sentence } from "@/core/types/problem";
import { isNumber } from "@/core/types/valueType";
import type { Entry } from "@/server/jobs/posting/journal";
import type { ShapeNow } from "@/server/jobs/shape/run";
import { Confirm } from "@/ui/Confirm";
import { Margin } from "@/ui/Margin";
import { Notice } from "@/ui/Notice";
import { Sheet } from "@/ui/Sheet";
import { ask, sentenceOf } from "../ask";
import { Link } from "../Link";
import { UndoButtons } from "../UndoButtons";
import { COMMON } from "../words";
import { useLocale } from "../workspace/locale";
import { PageHeading } from "../workspace/PageHeading";
import { ColumnTable } from "./ColumnTable";
import { ShapeProof } from "./ShapeProof";
import { SplitTable } from "./SplitTable";
import { type Shape, useShape } from "./useShape";
import { WORDS } from "./words";

type Props = { table: Table | null; now: ShapeNow; schema: Schema; today: Today };

/** A table's columns as they are to be: what becomes of every row is seen before anything is changed. */
export function ShapePage({ table, now, schema, today }: Props) {
  const shape = useShape(table, now, schema, today);
  const { spec, change, plan, survey, surveyed, problems, keyed, uses, failure } = shape;
  return (
    <div className="flex h-full">
      <section className="flex min-w-0 flex-1 flex-col gap-3 overflow-auto px-5 pt-4 pb-6">
        <ShapeHead table={table} shape={shape} />
        <p className="text-brief">{(plan && shapeBrief(spec, plan, table)) || WORDS.nothingToDo}</p>
        <label className="grid justify-items-start gap-0.5 text-small">
          {WORDS.nameOfTable}
          <input
            aria-label={WORDS.nameOfTable}
            className={`field w-56 ${problems.some((p) => p.path[0] === "name") ? "border-vermilion" : ""}`}
            value={spec.name}
            onChange={(e) => change({ ...spec, name: e.target.value }, "name of table")}
          />
        </label>
        <ShapeNotices problems={problems} failure={failure} survey={survey} />
        <ColumnTable table={table} schema={schema} shape={shape} />
        <span className="flex gap-2">
          <button type="button" className="button" onClick={() => change(edit.addColumn(spec))}>
            {WORDS.addColumn}
          </button>
          {table && <SplitTable {...{ table, spec, change }} />}
          {keyed.ids.length === 0 && spec.key?.kind !== "number" && (
            <button type="button" className="button" onClick={() => change({ ...spec, key: { kind: "number", name: "id" } })}>
              {WORDS.numberRows}
            </button>
          )}
        </span>
        {table && survey && surveyed && <Sample survey={survey} plan={surveyed} />}
      </section>
      {table && <Margin parts={[{ name: COMMON.proof, content: survey && surveyed ? <ShapeProof survey={survey} plan={surveyed} uses={uses} /> : null }]} />}
    </div>
  );
}

/** The name, and what can be done: undo, leave, make the change once it was looked at. */
function ShapeHead({ table, shape }: { table: Table | null; shape: Shape }) {
  const router = useRouter();
  const locale = useLocale();
  const { spec, plan, survey, ready, history, forget } = shape;

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
    <div className="flex flex-wrap items-center gap-x-3 gap-y-2">
      <PageHeading name={table?.label ?? WORDS.newTable} />
      <span className="text-small text-soft">{WORDS.nothingChanged}</span>
      <span className="ml-auto flex gap-2">
        <UndoButtons {...history} />
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
  );
}

/** What stands in the way of the change as a whole. */
function ShapeNotices({ problems, failure, survey }: Pick<Shape, "problems" | "failure" | "survey">) {
  return (
    <>
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
    </>
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
