"use client";

import { useRouter } from "next/navigation";
import { type ComponentProps, useMemo, useState } from "react";
import { phraseOfProblem, queryBrief } from "@/core/brief/brief";
import { withoutPhrase } from "@/core/brief/editPhrase";
import { namesInConditions, withRowNames } from "@/core/brief/namedValues";
import type { ProofPick } from "@/core/proof/proof";
import { queryTableName } from "@/core/query/choices";
import { schemaRead } from "@/core/query/comparedSchema";
import * as edit from "@/core/query/edit";
import { openParameters } from "@/core/query/parameters";
import { leftWords } from "@/core/query/reach";
import type { ParameterValues, QuerySpec } from "@/core/query/spec";
import type { Schema } from "@/core/schema/schema";
import type { Today } from "@/core/types/calendar";
import { listed } from "@/core/types/format";
import { sentence } from "@/core/types/problem";
import { Brief } from "@/ui/Brief";
import { Notice } from "@/ui/Notice";
import { useUndo } from "@/ui/useUndo";
import { useAbout } from "../AboutObject";
import { RowsAreCurrent } from "../AsOf";
import { type Deed, DeedsMenu } from "../DeedsMenu";
import { useWalkSteps } from "../desk/useWalkSteps";
import { phraseKey } from "../editors/phraseKey";
import { folioOpener } from "../folio/folioOpener";
import type { SavedObject } from "../keptObject";
import { SavedName } from "../SavedName";
import { UndoButtons } from "../UndoButtons";
import { type SavedState, useSavedObject } from "../useSavedObject";
import { COMMON } from "../words";
import { useLocale } from "../workspace/locale";
import { AddChips } from "./AddChips";
import { StateChips } from "./compare/StateChips";
import { PhraseEditor } from "./editors/PhraseEditor";
import { FieldTree } from "./FieldTree";
import { ParameterForm } from "./ParameterForm";
import { pickWords } from "./pickWords";
import { QueryGrid } from "./QueryGrid";
import { QueryMargin } from "./QueryMargin";
import { QuerySheet } from "./QuerySheet";
import { RunNotices } from "./RunNotices";
import { useAsked } from "./useAsked";
import { useOpenedWith } from "./useOpenedWith";
import { useOpening } from "./useOpening";
import { useQueryDeeds } from "./useQueryDeeds";
import { useRowNames } from "./useRowNames";
import type { Running } from "./useRun";
import { useValues } from "./useValues";
import { WORDS } from "./words";

export type SavedQuery = SavedObject<QuerySpec, string | null>;

/** The page of one query: fields on the left, brief and sheet, the margin with its proof. */
export function QueryPage({ saved, schema: read, today, given = {} }: { saved: SavedQuery; schema: Schema; today: Today; given?: ParameterValues }) {
  const router = useRouter();
  const locale = useLocale();
  const { value: spec, change, undo, redo, canUndo, canRedo } = useUndo(saved.spec);
  const schema = useMemo(() => schemaRead(read, spec, today), [read, spec.compare, spec.parameters, today]);
  const object = useSavedObject("query", "/queries", saved, spec, change);
  const { stored } = object;
  const [values, setValues] = useValues(stored.id, spec, given);
  const [pick, setPick] = useState<ProofPick | undefined>();
  const [tree, setTree] = useState(true);
  const { settled, plan, picked, run, problems, asked, behind, waiting } = useAsked(spec, schema, today, values, pick);
  const wrong = new Map(problems.map((p) => [phraseOfProblem(p, settled.spec), sentence(p)]));

  useWalkSteps(stored.id, { spec, plan, footing: run.footing, pick });

  const { opening, opened, alter, closing } = useOpening(spec, (next) => {
    setPick(undefined);
    change(next);
  });

  useOpenedWith(spec, change, setPick);

  const compare =
    stored.id === null || stored.name === "" || spec.compare
      ? undefined
      : () => router.push(`/queries/new?compare=${encodeURIComponent(queryTableName(stored.id as string))}`);
  const nameOf = useRowNames(useMemo(() => namesInConditions(spec, schema), [spec, schema]));
  const about = useAbout(object);
  const made = useQueryDeeds({ stored, spec, values, ready: plan !== null && waiting.length === 0, plan });
  const deeds: Deed[] = [
    ...made.deeds,
    ...(compare ? [{ words: WORDS.compare, act: compare }] : []),
    { words: tree ? WORDS.hideFields : WORDS.showFields, act: () => setTree(!tree) },
    ...about.deeds,
    ...(stored.id === null || stored.name === "" ? [] : [{ words: COMMON.delete, tone: "text-vermilion", act: () => void object.remove() }]),
  ];

  const back = stored.id ? `/queries/${stored.id}` : "/queries";
  const openFolio =
    picked || behind
      ? undefined
      : folioOpener({ spec: settled.spec, values, schema: settled.schema, rows: run.rows ?? 0, back, label: stored.name, go: router.push });

  return (
    <div className="flex h-full">
      {tree && (
        <nav aria-label={COMMON.fields} className="w-57 shrink-0 overflow-auto border-r border-rule max-[1100px]:w-44 max-md:hidden">
          <FieldTree
            schema={schema}
            spec={spec}
            onToggle={(steps, column) => alter(edit.toggleColumn(spec, schema, steps, column))}
            onTotal={(steps, column) => {
              const step = steps.at(-1);
              if (step) alter(edit.addRelated(spec, schema, steps.slice(0, -1), step, column === null ? "count" : "total", column));
            }}
            onToggleJoined={(join, column) => alter(edit.toggleJoined(spec, schema, join, column))}
          />
        </nav>
      )}
      <section className="flex min-w-0 flex-1 flex-col gap-3 px-5 pt-4">
        {about.panel}
        {made.panel}
        <QueryHead object={object} history={{ undo, redo, canUndo, canRedo }} deeds={deeds} run={run} />
        <Brief
          phrases={withRowNames(queryBrief(spec, schema, locale, { open: openParameters(spec.parameters, values, today) }), spec, schema, nameOf)}
          keyOf={phraseKey}
          problems={wrong}
          onDelete={(target) => alter(withoutPhrase(spec, target))}
          editor={(target, close) => <PhraseEditor {...{ target, spec, schema, values, change: alter }} close={closing(target, close)} />}
          opening={opening}
          onOpened={opened}
        >
          {" "}
          <AddChips spec={spec} schema={schema} change={alter} compare={compare} />
        </Brief>
        {settled.spec.compare && plan && <StateChips {...{ spec, settled: settled.spec, values }} change={alter} />}
        <ParameterForm spec={spec} values={values} today={today} setValues={setValues} asked={asked} />
        <RunNotices problems={problems} run={run} behind={behind} />
        {waiting.length > 0 && (
          <Notice tone="look">
            {WORDS.waitsForValue(
              listed(
                waiting.map((c) => leftWords(c, spec, schema)),
                locale,
              ),
            )}
          </Notice>
        )}
        {pick && picked && (
          <Notice tone="look">
            <span className="flex items-center justify-between gap-3">
              <span>
                {pickWords(pick, plan ?? picked, locale)}
                <RowsAreCurrent moment={run.proof?.asOf} />
              </span>
              <button type="button" className="link" onClick={() => setPick(undefined)}>
                {WORDS.backToTheQuery}
              </button>
            </span>
          </Notice>
        )}
        {run.shown && pick && <QuerySheet key={JSON.stringify(pick)} plan={run.shown.plan} run={run} name={stored.name} />}
        {run.shown && !pick && (
          <QueryGrid
            {...{ spec, schema, values, run, change: alter, openRow: openFolio, openRows: setPick, go: router.push }}
            question={{ spec: settled.spec, values }}
            name={stored.name}
          />
        )}
        {!run.shown && <div className="mb-9 flex-1 border border-rule bg-sheet" />}
      </section>
      <QueryMargin {...{ spec, settled, schema, values, setValues, today, asked, plan, run, pick, problems }} onPick={setPick} alter={alter} change={change} />
    </div>
  );
}

type HeadProps = {
  object: SavedState;
  history: ComponentProps<typeof UndoButtons>;
  deeds: Deed[];
  run: Running;
};

/** A query's name, how long it took, and what can be done with it. */
function QueryHead({ object: { stored, changed, save, rename }, history, deeds, run }: HeadProps) {
  return (
    <div className="flex flex-wrap items-center gap-x-3 gap-y-2">
      <SavedName id={stored.id} name={stored.name} onRename={rename} />
      <span className="text-small text-soft">
        {changed ? (stored.id === null ? WORDS.notSaved : "changed") : "saved"}
        {run.seconds !== null && ` · ${run.seconds.toFixed(2)} s`}
      </span>
      <span className="ml-auto flex flex-wrap items-center gap-2">
        <button type="button" className={`button ${run.running ? "appear-late" : "invisible"}`} onClick={run.stop}>
          {COMMON.stop}
        </button>
        <UndoButtons {...history} />
        <DeedsMenu deeds={deeds} />
        <button type="button" className="button-primary" disabled={!changed} onClick={save}>
          {COMMON.save}
        </button>
      </span>
    </div>
  );
}
