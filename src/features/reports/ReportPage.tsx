"use client";

import { useRouter } from "next/navigation";
import { useEffect, useRef, useState } from "react";
import { toast } from "sonner";
import type { QuerySpec } from "@/core/query/spec";
import type { ReportFormat } from "@/core/report/choices";
import * as edit from "@/core/report/edit";
import type { Part } from "@/core/report/page";
import { planGroupRows } from "@/core/report/rowsBehind";
import type { ReportSpec } from "@/core/report/spec";
import type { Schema } from "@/core/schema/schema";
import type { Today } from "@/core/types/calendar";
import { Margin } from "@/ui/Margin";
import { useUndo } from "@/ui/useUndo";
import { ask, sentenceOf } from "../ask";
import { makeFile } from "../DeedsMenu";
import { CellRows } from "../pivots/CellRows";
import { SavedHeader } from "../SavedHeader";
import { useSavedObject } from "../useSavedObject";
import { COMMON } from "../words";
import { PagesDesk } from "./PagedView";
import { PageParts } from "./PageParts";
import { PagesBar, type View, widthOf } from "./PagesBar";
import { ColumnsPanel } from "./panels/ColumnsPanel";
import { GonePanel } from "./panels/GonePanel";
import { GroupsPanel } from "./panels/GroupsPanel";
import { PagePanel } from "./panels/PagePanel";
import type { PrintedItem } from "./panels/panel";
import { RelatedPanel } from "./panels/RelatedPanel";
import { partName } from "./partName";
import { ReportContents } from "./ReportContents";
import { ReportProblems } from "./ReportProblems";
import { ReportProof } from "./ReportProof";
import { tabOf } from "./tabs";
import { useReportPages } from "./useReportPages";
import { WORDS } from "./words";

type Props = {
  saved: { id: string; name: string; spec: ReportSpec; revision: number };
  query: QuerySpec | null;
  schema: Schema;
  today: Today;
  queries: { id: string; name: string }[];
  items: PrintedItem[];
};

/** The page of one report: contents on the left, the page itself, its settings and proof in the margin. */
export function ReportPage({ saved, query: savedQuery, schema, today, queries, items }: Props) {
  const router = useRouter();
  const { value: spec, change, undo, redo, canUndo, canRedo } = useUndo(saved.spec);
  const object = useSavedObject("report", "/reports", saved, spec, change);
  const { stored } = object;
  const [view, setView] = useState<View>({ two: false, zoom: 100 });
  const [selected, setSelected] = useState<Part | null>(null);
  const [tab, setTab] = useState(0);
  const [rows, setRows] = useState<Figure | null>(null);
  /** The queries that the report was laid over while it is open, so that undo finds them again. */
  const known = useRef(new Map(savedQuery ? [[saved.spec.query, savedQuery]] : []));
  const query = spec.own ?? known.current.get(spec.query) ?? null;
  const desk = useRef<HTMLElement>(null);
  const { laid, failure, at, setAt, count, pages } = useReportPages(spec, view.two ? 2 : 1);
  useEffect(() => {
    desk.current?.scrollTo({ top: 0 });
  }, [at]);

  const columns = laid?.columns ?? [];
  const select = (part: Part | null) => {
    setSelected(part);
    const wanted = part && tabOf(part);
    if (wanted !== null && wanted !== undefined) setTab(wanted);
  };
  async function repoint(source: Pick<ReportSpec, "query" | "own">): Promise<void> {
    try {
      const made = await ask<{ spec: ReportSpec; query: QuerySpec }>("/api/report/repoint", { spec, ...source });
      if (!made.spec.own) known.current.set(made.spec.query, made.query);
      change(made.spec);
    } catch (error) {
      toast.error(sentenceOf(error));
    }
  }
  const name = spec.title || stored.name;
  const nameOf = (part: Part): string => partName(part, spec, columns);
  const panel = { spec, change, columns, query, schema, today, items, selected, select };
  const figure = selected?.kind === "footing" ? selected : null;
  return (
    <div className="flex h-full">
      <ReportContents spec={spec} outline={laid?.outline ?? null} at={at} go={setAt} />
      <section className="flex min-w-0 flex-1 flex-col">
        <div className="px-5 pt-4 pb-3">
          <SavedHeader
            object={object}
            history={{ undo, redo, canUndo, canRedo }}
            deeds={[
              ...FILES.map(({ words, format }) => ({ words, disabled: !laid, act: () => makeFile("/api/report/export", { spec, name }, format) })),
              ...(spec.own ? [] : [{ words: COMMON.openQuery, act: () => router.push(`/queries/${spec.query}`) }]),
            ]}
          />
        </div>
        {rows && query ? (
          <FigureRows figure={rows} spec={spec} query={query} schema={schema} today={today} name={stored.name} back={() => setRows(null)} />
        ) : (
          <PagesDesk
            label={COMMON.page}
            ref={desk}
            turn={null}
            bar={pages.length > 0 && <PagesBar spec={spec} at={at} count={count} go={setAt} view={view} setView={setView} />}
          >
            {failure && <ReportProblems failure={failure} spec={spec} columns={columns} select={select} />}
            <GonePanel {...panel} gone={laid?.gone ?? []} />
            <div className={`mx-auto grid w-full gap-4 ${view.two ? "grid-cols-2" : ""}`} style={widthOf(view)}>
              {pages.map((page) => (
                <PageParts
                  key={page.number}
                  page={page}
                  spec={spec}
                  change={change}
                  nameOf={nameOf}
                  selected={selected}
                  select={select}
                  groupBy={(column) => change(edit.groupByColumn(spec, column))}
                />
              ))}
            </div>
            {pages.length === 0 && !failure && <p className="text-center text-soft">{COMMON.layingOut}</p>}
          </PagesDesk>
        )}
      </section>
      <Margin
        selected={tab}
        onSelect={setTab}
        parts={[
          {
            name: WORDS.groups,
            content: (
              <div className="grid gap-5">
                {figure && query && (
                  <button
                    type="button"
                    className="button justify-self-start"
                    onClick={() => setRows({ keys: figure.keys.map((k) => (typeof k === "object" ? null : k)), words: nameOf(figure) })}
                  >
                    {WORDS.rowsBehindFigure}
                  </button>
                )}
                <GroupsPanel {...panel} />
                {laid && <ReportProof {...laid} brief />}
              </div>
            ),
          },
          { name: COMMON.columns, content: <ColumnsPanel {...panel} /> },
          { name: WORDS.related, content: <RelatedPanel {...panel} /> },
          {
            name: COMMON.page,
            content: <PagePanel {...panel} queries={queries} parameters={laid?.parameters ?? []} repoint={(source) => void repoint(source)} />,
          },
          { name: COMMON.proof, content: laid ? <ReportProof {...laid} /> : <p className="text-soft">{WORDS.theProofAppearsWhenThe}</p> },
        ]}
      />
    </div>
  );
}

/** A figure of a group: what makes the group, and what the figure is called. */
type Figure = { keys: (string | number | null)[]; words: string };
type FigureProps = { figure: Figure; spec: ReportSpec; query: QuerySpec; schema: Schema; today: Today; name: string; back: () => void };

/** The rows behind a figure of a group, instead of the pages. */
function FigureRows({ figure: { keys, words }, spec, query, schema, today, name, back }: FigureProps) {
  const plan = planGroupRows(spec, query, schema, { today, values: spec.parameters }, keys);
  return (
    <div className="flex min-h-0 flex-1 flex-col gap-2 px-5">
      <CellRows
        question={{ spec: query, values: {}, group: { report: spec, keys } }}
        plan={plan.ok ? plan.value : null}
        words={words}
        name={name}
        back={back}
      />
    </div>
  );
}

const FILES: { words: string; format: ReportFormat }[] = [
  { words: COMMON.printToPDF, format: "pdf" },
  { words: WORDS.exportHtml, format: "html" },
  { words: WORDS.exportWorkbook, format: "xlsx" },
  { words: WORDS.exportRows, format: "csv" },
  { words: WORDS.exportTotals, format: "totals" },
];
