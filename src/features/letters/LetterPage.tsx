"use client";

import dynamic from "next/dynamic";
import { type ComponentProps, useMemo, useRef, useState } from "react";
import { placeInLetter } from "@/core/brief/letterBrief";
import type { TextName } from "@/core/letter/choices";
import { addTable } from "@/core/letter/edit";
import type { Doc, LetterSpec } from "@/core/letter/spec";
import type { QuerySpec } from "@/core/query/spec";
import type { Page } from "@/core/report/page";
import type { Step } from "@/core/schema/schema";
import { findTable, type Schema, stepsFrom } from "@/core/schema/schema";
import type { Today } from "@/core/types/calendar";
import { type Problem, sentence } from "@/core/types/problem";
import type { LetterProof } from "@/server/services/letters/service";
import { Margin } from "@/ui/Margin";
import { Notice } from "@/ui/Notice";
import { useUndo } from "@/ui/useUndo";
import { type Deed, makeFile } from "../DeedsMenu";
import type { SavedObject } from "../keptObject";
import { PageList, PagesDesk } from "../reports/PagedView";
import { SavedHeader } from "../SavedHeader";
import { useAnswer } from "../useAnswer";
import { useSavedObject } from "../useSavedObject";
import { COMMON } from "../words";
import { LetterContext } from "./context";
import { FieldsList, LettersList } from "./lists";
import { HeadPicture, LetterProofPanel, LetterSettings, TablesPanel } from "./panels";
import { headingsOf, useLetterPlan } from "./useLetterPlan";
import { WORDS } from "./words";

const LetterEditor = dynamic(() => import("./LetterEditor"), { ssr: false });

type Props = { saved: SavedObject<LetterSpec>; query: { id: string; name: string; spec: QuerySpec }; schema: Schema; today: Today };
type OneLetter = { pages: Page[]; count: number; name: string; empty: string[]; notes: string[] };

const TABLES_TAB = 1;
const LETTER_FILES = [
  { words: WORDS.allLettersInOnePDF, format: "pdf" },
  { words: WORDS.onePDFPerLetterZIP, format: "zip" },
];

/** The page of one letter: fields on the left, its text or its pages, its tables, settings and proof in the margin. */
export function LetterPage({ saved, query, schema, today }: Props) {
  const { value: spec, change, undo, redo, canUndo, canRedo } = useUndo(saved.spec);
  const object = useSavedObject("letter", "/letters", saved, spec, change);
  const [looking, setLooking] = useState(false);
  const [at, setAt] = useState(0);
  const [tab, setTab] = useState(0);
  const insert = useRef<(formula: string) => void>(() => {});
  const { settled, planned, problems, fields } = useLetterPlan(spec, query.spec, schema, today);
  const question = planned.ok ? { spec: settled } : null;
  const shown = useAnswer<OneLetter>("/api/letters/page", looking && question ? { ...question, at } : null, { settleMs: 120 });
  const proof = useAnswer<LetterProof>("/api/letters/proof", question, { settleMs: 600 });
  const letter = looking ? shown.answer : null;
  const source = findTable(schema, query.spec.source);
  const steps = source && !query.spec.grouped ? stepsFrom(schema, source.name).filter((s) => s.far.leadsTo === "many") : [];

  const work = useMemo(
    () => ({
      fields,
      problems: new Map(problems.map((p) => [p.path.slice(0, 2).join(" "), p])),
      tables: spec.tables.map((t) => ({ id: t.id, title: t.title, hideEmpty: t.hideEmpty, headings: headingsOf(t, schema, today) })),
      openTable: () => setTab(TABLES_TAB),
    }),
    [fields, problems, spec.tables, schema, today],
  );
  const writing = useWriting(spec, change, schema);
  const count = letter?.count ?? proof.answer?.letters;
  // Where there are fewer than there were, the last is looked at.
  if (letter && letter.count > 0 && at >= letter.count) setAt(letter.count - 1);
  const deeds: Deed[] = [
    ...LETTER_FILES.map(({ words, format }) => ({
      words,
      disabled: !planned.ok,
      act: () => makeFile("/api/letters/export", { spec, name: object.stored.name }, format),
    })),
    { words: COMMON.openQuery, act: () => window.open(`/queries/${query.id}`, "_self") },
  ];
  const failure = (looking ? shown.failure : null) ?? proof.failure;

  return (
    <LetterContext.Provider value={work}>
      <div className="flex h-full">
        <nav aria-label={COMMON.fields} className="w-57 shrink-0 overflow-auto border-r border-rule py-3 max-[1100px]:w-44 max-md:hidden">
          {looking ? (
            <LettersList proof={proof.answer} spec={settled} at={at} go={setAt} />
          ) : (
            <FieldsList name={query.name} fields={fields} insert={(formula) => insert.current(formula)} />
          )}
        </nav>
        <section className="flex min-w-0 flex-1 flex-col">
          <div className="px-5 pt-4 pb-3">
            <SavedHeader object={object} history={{ undo, redo, canUndo, canRedo }} deeds={deeds}>
              <button type="button" className="button" aria-pressed={looking} onClick={() => setLooking(!looking)}>
                {looking ? COMMON.edit : WORDS.previewLetters}
              </button>
            </SavedHeader>
          </div>
          <LetterProblems problems={problems} failure={failure?.message} spec={spec} />
          {looking ? (
            <LetterPreview
              letter={letter}
              turn={count ? { noun: "letter", at, count, go: setAt } : null}
              none={settled.only ? WORDS.noRowGetsOne : WORDS.theQueryHasNoRows}
              waiting={!failure && planned.ok}
            />
          ) : (
            <div className="min-h-0 flex-1">
              <LetterEditor
                texts={spec}
                onChange={writing.write}
                onActive={(next) => {
                  insert.current = next;
                }}
                tables={[
                  ...spec.tables.map((t) => ({ words: t.title || WORDS.untitledTable, make: () => t.id })),
                  ...steps.map(({ step, far }) => ({ words: `+ ${far.name}`, make: () => writing.addTable(step) })),
                ]}
                picture={<HeadPicture spec={spec} change={change} />}
              />
            </div>
          )}
        </section>
        <Margin
          selected={tab}
          onSelect={setTab}
          parts={[
            { name: COMMON.proof, content: <LetterProofPanel proof={proof.answer} spec={spec} running={proof.running} /> },
            {
              name: COMMON.tables,
              content: <TablesPanel spec={spec} change={change} schema={schema} parent={source} linked={steps.length > 0} />,
            },
            {
              name: COMMON.letter,
              content: (
                <LetterSettings
                  spec={spec}
                  change={change}
                  fields={fields}
                  problems={work.problems}
                  parameters={planned.ok ? planned.value.plan.parameters : []}
                />
              ),
            },
          ]}
        />
      </div>
    </LetterContext.Provider>
  );
}

/** Changes of a letter's texts. Two in one go, a table and its place in the text, must both know of the other. */
function useWriting(spec: LetterSpec, change: (next: LetterSpec, kind: string) => void, schema: Schema) {
  const latest = useRef(spec);
  latest.current = spec;
  const apply = (next: LetterSpec, kind: string) => {
    latest.current = next;
    change(next, kind);
  };
  return {
    write: (name: TextName, doc: Doc) => apply({ ...latest.current, [name]: doc }, name),
    /** Adds a table of the rows that a step leads to. @returns its id */
    addTable: (step: Step): string => {
      const added = addTable(latest.current, schema, step);
      apply(added.spec, "table");
      return added.id;
    },
  };
}

type PreviewProps = { letter: OneLetter | null; turn: ComponentProps<typeof PagesDesk>["turn"]; none: string; waiting: boolean };

/** The letter that is looked at, on its pages. @param none what is said where there is no letter at all */
const LetterPreview = ({ letter, turn, none, waiting }: PreviewProps) => (
  <PagesDesk label={COMMON.letter} turn={turn}>
    {letter?.notes.map((note) => (
      <Notice key={note} tone="look">
        {note}
      </Notice>
    ))}
    {letter && <PageList pages={letter.pages} />}
    {letter?.count === 0 && <Notice tone="look">{none}</Notice>}
    {!letter && waiting && <p className="text-center text-soft">{COMMON.layingOut}</p>}
  </PagesDesk>
);

/** What stands in the way of a letter, each with its place in it. */
function LetterProblems({ problems, failure, spec }: { problems: Problem[]; failure: string | undefined; spec: LetterSpec }) {
  if (problems.length === 0 && failure === undefined) return null;
  return (
    <div className="px-5 pb-3">
      <Notice tone="wrong">
        {problems.length > 0 ? problems.map((p) => <p key={`${p.path.join(" ")} ${p.code}`}>{placeInLetter(p.path, spec) + sentence(p)}</p>) : failure}
      </Notice>
    </div>
  );
}
