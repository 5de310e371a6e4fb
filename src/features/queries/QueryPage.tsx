"use client";

import { useRouter } from "next/navigation";
import { useDeferredValue, useEffect, useMemo, useState } from "react";
import { toast } from "sonner";
import { type PhraseTarget, phraseOfProblem, queryBrief } from "@/core/brief/brief";
import type { ProofPick } from "@/core/proof/proof";
import { planProofRows } from "@/core/proof/proofRows";
import * as edit from "@/core/query/edit";
import type { PlanParameter } from "@/core/query/plan";
import { resolveQuery } from "@/core/query/resolve";
import type { ParameterValues, QuerySpec } from "@/core/query/spec";
import { ROW_FORMATS } from "@/core/schedule/spec";
import type { Schema } from "@/core/schema/schema";
import { sentence } from "@/core/types/problem";
import { text } from "@/core/types/valueType";
import { Brief, BriefPopover } from "@/ui/Brief";
import { Margin } from "@/ui/Margin";
import { Notice } from "@/ui/Notice";
import { useUndo } from "@/ui/useUndo";
import { ask, sentenceOf } from "../ask";
import { type Deed, DeedsMenu, makeFile } from "../DeedsMenu";
import { folioOpener } from "../folio/folioOpener";
import type { SavedObject } from "../keptObject";
import { SavedName } from "../SavedName";
import { useLocale } from "../shell/Shell";
import { useWorker } from "../shell/worker";
import { UndoButtons } from "../UndoButtons";
import { useSavedObject } from "../useSavedObject";
import { ControlTotals } from "./ControlTotals";
import { PhraseEditor } from "./editors/PhraseEditor";
import { FieldPicker } from "./editors/parts";
import { FieldTree } from "./FieldTree";
import { ParametersPanel } from "./ParametersPanel";
import { ProofPanel } from "./ProofPanel";
import { phraseKey } from "./phraseKey";
import { QuerySheet } from "./QuerySheet";
import { SqlPanel } from "./SqlPanel";
import { useRun } from "./useRun";

export type SavedQuery = SavedObject<QuerySpec, string | null>;

/** Where the parameters stand in the margin: what is missing there is asked for at once. */
const PARAMETERS = 1;

/** The page of one query: fields on the left, brief and sheet, the margin with its proof. */
export function QueryPage({ saved, schema, today }: { saved: SavedQuery; schema: Schema; today: string }) {
  const router = useRouter();
  const locale = useLocale();
  const { knownAs } = useWorker();
  const { value: spec, change, undo, redo, canUndo, canRedo } = useUndo(saved.spec);
  const { stored, changed, save, remove, rename } = useSavedObject("query", "/queries", saved, spec, change);
  const [values, setValues] = useState<ParameterValues>({});
  const [pick, setPick] = useState<ProofPick | undefined>();
  const [tree, setTree] = useState(true);
  const [part, setPart] = useState(0);
  const settled = useDeferredValue(spec);
  const resolved = useMemo(() => resolveQuery(settled, schema, { today, values, person: knownAs }), [settled, schema, today, values, knownAs]);
  const plan = resolved.ok ? resolved.value : null;
  const picked = plan && pick ? planProofRows(plan, pick) : null;
  const run = useRun(plan ? { spec: settled, values, pick: picked ? pick : undefined } : null, picked ?? plan);
  const problems = resolved.ok ? (run.failure?.body.problems ?? []) : resolved.problems;
  const wrong = new Map(problems.map((p) => [phraseOfProblem(p, settled), sentence(p)]));

  const asks = problems.some((p) => p.code === "parameterMissing");
  useEffect(() => {
    if (asks) setPart(PARAMETERS);
  }, [asks]);

  // One that is missing is known by its problem alone: nothing is planned until it is given.
  const missing = problems.flatMap((p): PlanParameter[] =>
    p.code === "parameterMissing" ? [{ name: String(p.detail.name), type: text, text: null, defaulted: true }] : [],
  );
  const asked = [...(plan?.parameters ?? []), ...missing].filter((p) => !spec.parameters.some((own) => own.name === p.name));

  const alter = (next: QuerySpec) => {
    setPick(undefined);
    change(next);
  };

  async function duplicate(): Promise<void> {
    const copy = await ask<{ id: string }>("/api/objects", { kind: "query", name: `${stored.name}, copy`, spec }).catch(
      (error) => void toast.error(sentenceOf(error)),
    );
    if (copy) router.push(`/queries/${copy.id}`);
  }
  /** Makes something from the query as it is saved, and opens it. */
  async function makeFrom(path: string, place: string, more: object = {}): Promise<void> {
    if (stored.id === null) return void toast("Save the query first; what is made from it reads the saved one.");
    const made = await ask<{ id: string }>(path, { query: stored.id, ...more }).catch((error) => void toast.error(sentenceOf(error)));
    if (made) router.push(`${place}/${made.id}`);
  }

  const removePhrase = (target: PhraseTarget) => {
    if (target.kind === "conditionField" || target.kind === "operator" || target.kind === "value") alter(edit.removeCondition(spec, target.id));
    else if (target.kind === "join" || target.kind === "unmatched") alter(edit.removeJoin(spec, target.id));
    else if (target.kind === "group") alter(edit.removeColumns(spec, [target.id]));
    else if (target.kind === "order") alter({ ...spec, order: [] });
    else if (target.kind === "limit") alter({ ...spec, limit: null });
  };

  const deeds: Deed[] = [
    ...ROW_FORMATS.map((format) => ({
      words: `Export ${format.toUpperCase()}`,
      disabled: !plan,
      act: () => makeFile("/api/query/export", { spec, values, name: stored.name }, format),
    })),
    {
      words: "Export CSV for a spreadsheet",
      disabled: !plan,
      act: () => makeFile("/api/query/export", { spec, values, name: stored.name, guarded: true }, "csv"),
    },
    { words: "Lay out as a report", act: () => void makeFrom("/api/report/new", "/reports", { values }) },
    { words: "Cross its fields in a pivot", act: () => void makeFrom("/api/pivots/new", "/pivots") },
    { words: "Draw it as a chart", act: () => void makeFrom("/api/charts/new", "/charts") },
    { words: "Duplicate", act: () => void duplicate() },
    { words: tree ? "Fold the fields away" : "Show the fields", act: () => setTree(!tree) },
    ...(stored.id === null ? [] : [{ words: "Delete", tone: "text-vermilion", act: () => void remove() }]),
  ];

  return (
    <div className="flex h-full">
      {tree && (
        <nav aria-label="Fields" className="w-57 shrink-0 overflow-auto border-r border-rule max-[1100px]:w-44 max-md:hidden">
          <FieldTree schema={schema} spec={spec} onToggle={(steps, column) => alter(edit.toggleColumn(spec, schema, steps, column))} />
        </nav>
      )}
      <section className="flex min-w-0 flex-1 flex-col gap-3 px-5 pt-4">
        <div className="flex flex-wrap items-center gap-x-3 gap-y-2">
          <SavedName id={stored.id} name={stored.name} onRename={rename} />
          <span className="text-small text-soft">
            {changed ? (stored.id === null ? "not saved" : "changed") : "saved"}
            {run.seconds !== null && ` · ${run.seconds.toFixed(2)} s`}
          </span>
          <span className="ml-auto flex flex-wrap items-center gap-2">
            <button type="button" className={`button ${run.running ? "appear-late" : "invisible"}`} onClick={run.stop}>
              Stop
            </button>
            <UndoButtons {...{ undo, redo, canUndo, canRedo }} />
            <DeedsMenu deeds={deeds} />
            <button type="button" className="button-primary" disabled={!changed} onClick={save}>
              Save
            </button>
          </span>
        </div>
        <Brief
          phrases={queryBrief(spec, schema, locale)}
          keyOf={phraseKey}
          problems={wrong}
          onDelete={removePhrase}
          editor={(target, close) => <PhraseEditor target={target} spec={spec} schema={schema} change={alter} close={close} />}
        >
          {" "}
          <span className="inline-flex flex-wrap gap-1.5 align-middle">
            <BriefPopover label="+ condition" className="chip">
              {(close) => (
                <FieldPicker
                  spec={spec}
                  schema={schema}
                  change={alter}
                  close={close}
                  caption="Keep rows by"
                  pick={(next, operand) => alter(edit.addCondition(next, schema, operand).spec)}
                />
              )}
            </BriefPopover>
            <BriefPopover label="+ one row per…" className="chip">
              {(close) => (
                <FieldPicker
                  spec={spec}
                  schema={schema}
                  change={alter}
                  close={close}
                  caption="One row per"
                  pick={(next, operand) => alter(edit.groupBy(next, schema, operand))}
                />
              )}
            </BriefPopover>
            <BriefPopover label="+ order" className="chip" spent={spec.order.length > 0}>
              {(close) => <PhraseEditor target={{ kind: "order" }} spec={spec} schema={schema} change={alter} close={close} />}
            </BriefPopover>
            <BriefPopover label="+ limit" className="chip" spent={spec.limit !== null}>
              {(close) => <PhraseEditor target={{ kind: "limit" }} spec={spec} schema={schema} change={alter} close={close} />}
            </BriefPopover>
          </span>
        </Brief>
        {problems.length > 0 && (
          <Notice tone="wrong">
            {[...new Set(problems.map(sentence))].map((s) => (
              <p key={s}>{s}</p>
            ))}
          </Notice>
        )}
        {run.failure && run.failure.body.problems.length === 0 && (
          <Notice tone="wrong">
            {run.failure.message}{" "}
            <button type="button" className="link" onClick={run.again}>
              Try again
            </button>
          </Notice>
        )}
        {run.stopped && (
          <Notice tone="look">
            Stopped.{" "}
            <button type="button" className="link" onClick={run.again}>
              Run it again
            </button>
          </Notice>
        )}
        {pick && picked && (
          <Notice tone="look">
            <span className="flex items-center justify-between gap-3">
              These are the rows behind one number of the proof.
              <button type="button" className="link" onClick={() => setPick(undefined)}>
                Back to the query
              </button>
            </span>
          </Notice>
        )}
        {plan && run.shown ? (
          <QuerySheet
            key={pick ? JSON.stringify(pick) : "query"}
            plan={run.shown.plan}
            run={run}
            name={stored.name}
            onOpen={
              picked
                ? undefined
                : folioOpener({
                    spec: settled,
                    values,
                    schema,
                    rows: run.rows ?? 0,
                    back: stored.id ? `/queries/${stored.id}` : "/queries",
                    label: stored.name,
                    go: router.push,
                  })
            }
            onSort={picked ? undefined : (column) => alter(edit.sortBy(spec, column))}
          />
        ) : (
          <div className="mb-9 flex-1 border border-rule bg-sheet" />
        )}
      </section>
      <Margin
        selected={part}
        onSelect={setPart}
        parts={[
          {
            name: "Proof",
            content: (
              <div className="grid gap-6">
                <ProofPanel
                  spec={spec}
                  plan={plan}
                  proof={run.proof}
                  failure={run.proofFailure}
                  running={run.running && !pick}
                  pick={pick}
                  onPick={setPick}
                  change={alter}
                />
                <ControlTotals spec={spec} plan={plan} footing={pick ? null : run.footing} change={change} />
              </div>
            ),
          },
          { name: "Parameters", content: <ParametersPanel spec={spec} values={values} today={today} change={alter} setValues={setValues} asked={asked} /> },
          { name: "SQL", content: <SqlPanel plan={plan} /> },
        ]}
      />
    </div>
  );
}
