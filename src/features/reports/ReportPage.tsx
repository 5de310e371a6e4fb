"use client";

import { useRouter } from "next/navigation";
import { useEffect, useMemo, useRef, useState } from "react";
import { toast } from "sonner";
import type { PlanParameter } from "@/core/query/plan";
import type { QuerySpec } from "@/core/query/spec";
import type { ReportFormat } from "@/core/report/choices";
import * as edit from "@/core/report/edit";
import type { Gone } from "@/core/report/gone";
import type { ReportOutline } from "@/core/report/layOut";
import type { Page, Part } from "@/core/report/page";
import { placeInReport } from "@/core/report/place";
import { planGroupRows } from "@/core/report/rowsBehind";
import type { ReportSpec } from "@/core/report/spec";
import type { Schema } from "@/core/schema/schema";
import type { Today } from "@/core/types/calendar";
import type { ReportCheck } from "@/server/reports/service";
import { Margin } from "@/ui/Margin";
import { Notice } from "@/ui/Notice";
import { useUndo } from "@/ui/useUndo";
import { useAhead } from "../ahead/AnswersAhead";
import { AskError, ask, isAbort, sentenceOf } from "../ask";
import { makeFile } from "../DeedsMenu";
import { CellRows } from "../pivots/CellRows";
import { SavedHeader } from "../SavedHeader";
import { useSavedObject } from "../useSavedObject";
import { COMMON } from "../words";
import { FindInReport } from "./FindInReport";
import { headingOf } from "./headings";
import { Pager, PagesDesk } from "./PagedView";
import { PageParts } from "./PageParts";
import { pagesAsked } from "./pagesAsked";
import type { Closing } from "./panels/Closings";
import { ColumnsPanel } from "./panels/ColumnsPanel";
import { GonePanel } from "./panels/GonePanel";
import { GroupsPanel } from "./panels/GroupsPanel";
import { PagePanel } from "./panels/PagePanel";
import { RelatedPanel } from "./panels/RelatedPanel";
import { ReportContents } from "./ReportContents";
import { ReportProof } from "./ReportProof";
import type { ReportColumn } from "./reportColumn";
import { tabOf } from "./tabs";
import { useGlance } from "./useGlance";
import { WORDS } from "./words";

type Laid = {
  pages: Page[];
  outline: ReportOutline;
  columns: ReportColumn[];
  printed: ReportColumn[];
  gone: Gone[];
  parameters: PlanParameter[];
  proof: ReportCheck;
};
type Props = {
  saved: { id: string; name: string; spec: ReportSpec; revision: number };
  query: QuerySpec | null;
  schema: Schema;
  today: Today;
  queries: { id: string; name: string }[];
  closings: Closing[];
};

/** How wide a page is at 100 %, in rem. */
const PAGE_REM = 46;
const ZOOMS = [50, 75, 100, 125, 150, 200] as const;

/** The page of one report: contents on the left, the page itself, its settings and proof in the margin. */
export function ReportPage({ saved, query: savedQuery, schema, today, queries, closings }: Props) {
  const router = useRouter();
  const { value: spec, change, undo, redo, canUndo, canRedo } = useUndo(saved.spec);
  const object = useSavedObject("report", "/reports", saved, spec, change);
  const { stored } = object;
  const ahead = useAhead();
  const [laid, setLaid] = useState(() => ahead<Laid>(pagesAsked(saved.spec, 1))?.answer ?? null);
  const [running, setRunning] = useState(laid === null);
  const came = useRef(laid !== null);
  const [at, setAt] = useState(1);
  const [two, setTwo] = useState(false);
  const [zoom, setZoom] = useState<number>(100);
  const [failure, setFailure] = useState<AskError | null>(null);
  const [selected, setSelected] = useState<Part | null>(null);
  const [tab, setTab] = useState(0);
  const [rows, setRows] = useState<{ keys: (string | number | null)[]; words: string } | null>(null);
  /** The queries that the report was laid over while it is open, so that undo finds them again. */
  const known = useRef(new Map(savedQuery ? [[saved.spec.query, savedQuery]] : []));
  const query = spec.own ?? known.current.get(spec.query) ?? null;
  const desk = useRef<HTMLElement>(null);
  const key = useMemo(() => JSON.stringify(spec), [spec]);
  const pages = laid?.outline.pages ?? 1;
  const shown = two ? 2 : 1;

  useEffect(() => {
    const answered = came.current;
    came.current = false;
    if (answered) return;
    const abort = new AbortController();
    setRunning(true);
    const timer = setTimeout(() => {
      const { path, body } = pagesAsked(JSON.parse(key), at, shown);
      ask<Laid>(path, body, { signal: abort.signal }).then(
        (answer) => {
          if (answer.outline.pages < at) return setAt(answer.outline.pages);
          setLaid(answer);
          setFailure(null);
          setRunning(false);
        },
        (error) => {
          if (isAbort(error)) return;
          setFailure(error instanceof AskError ? error : new AskError({ sentence: sentenceOf(error), code: "unforeseen", problems: [] }));
          setRunning(false);
        },
      );
    }, 60);
    return () => {
      clearTimeout(timer);
      abort.abort();
    };
  }, [key, at, shown]);
  useEffect(() => {
    desk.current?.scrollTo({ top: 0 });
  }, [at]);

  const glance = useGlance({ spec }, running && at === 1);
  const onShow = glance ? [glance] : (laid?.pages ?? []);
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
  const nameOf = (part: Part): string => partName(part, spec, columns);
  const panel = { spec, change, columns, query, schema, selected, select };
  const figure = selected?.kind === "footing" ? selected : null;
  const context = { today, values: spec.parameters };
  const rowsPlan = rows && query ? planGroupRows(spec, query, schema, context, rows.keys) : null;
  return (
    <div className="flex h-full">
      <ReportContents spec={spec} outline={laid?.outline ?? null} at={at} go={setAt} />
      <section className="flex min-w-0 flex-1 flex-col">
        <div className="px-5 pt-4 pb-3">
          <SavedHeader
            object={object}
            history={{ undo, redo, canUndo, canRedo }}
            deeds={[
              ...FILES.map(({ words, format }) => ({
                words,
                disabled: !laid,
                act: () => makeFile("/api/report/export", { spec, name: spec.title || stored.name }, format),
              })),
              { words: WORDS.schedule, act: () => router.push(`/schedules?new=1&report=${stored.id}`) },
              ...(spec.own ? [] : [{ words: COMMON.openQuery, act: () => router.push(`/queries/${spec.query}`) }]),
            ]}
          />
        </div>
        {rows && query ? (
          <div className="flex min-h-0 flex-1 flex-col gap-2 px-5">
            <CellRows
              question={{ spec: query, values: {}, group: { report: spec, keys: rows.keys } }}
              plan={rowsPlan?.ok ? rowsPlan.value : null}
              words={rows.words}
              name={stored.name}
              back={() => setRows(null)}
            />
          </div>
        ) : (
          <PagesDesk
            label={COMMON.page}
            ref={desk}
            turn={null}
            bar={
              onShow.length > 0 && (
                <>
                  <Pager noun="page" at={at - 1} count={glance ? null : pages} go={(to) => setAt(to + 1)} />
                  <select className="field w-20" aria-label={WORDS.previewing} value={zoom} onChange={(e) => setZoom(Number(e.target.value))}>
                    {ZOOMS.map((z) => (
                      <option key={z} value={z}>
                        {WORDS.zoomPercent(z)}
                      </option>
                    ))}
                  </select>
                  <label className="flex items-center gap-1.5 text-small max-[1100px]:hidden">
                    <input type="checkbox" className="accent-bottle" checked={two} onChange={(e) => setTwo(e.target.checked)} />
                    {WORDS.twoPages}
                  </label>
                  <FindInReport spec={spec} go={setAt} />
                </>
              )
            }
          >
            {failure && <ReportProblems failure={failure} spec={spec} columns={columns} select={select} />}
            <GonePanel {...panel} gone={laid?.gone ?? []} />
            <div
              className={two ? "mx-auto grid w-full grid-cols-2 gap-4" : "mx-auto grid w-full gap-4"}
              style={{ maxWidth: `${((two ? 2 : 1) * PAGE_REM * zoom) / 100}rem`, minWidth: zoom > 100 ? `${(PAGE_REM * zoom) / 100}rem` : undefined }}
            >
              {onShow.slice(0, shown).map((page) => (
                <PageParts
                  key={page.number}
                  page={page}
                  spec={spec}
                  change={change}
                  nameOf={nameOf}
                  selected={selected}
                  select={select}
                  groupBy={(id) => {
                    const column = spec.columns.find((c) => c.id === id);
                    if (column) change(edit.addLevel(spec, column.value));
                  }}
                />
              ))}
            </div>
            {onShow.length === 0 && !failure && <p className="text-center text-soft">{COMMON.layingOut}</p>}
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
            content: (
              <PagePanel {...panel} queries={queries} closings={closings} parameters={laid?.parameters ?? []} repoint={(source) => void repoint(source)} />
            ),
          },
          { name: COMMON.proof, content: laid ? <ReportProof {...laid} /> : <p className="text-soft">{WORDS.theProofAppearsWhenThe}</p> },
        ]}
      />
    </div>
  );
}

/** What stands in the way of a report, each with its place, which leads to the settings that mend it. */
function ReportProblems({ failure, spec, columns, select }: { failure: AskError; spec: ReportSpec; columns: ReportColumn[]; select: (part: Part) => void }) {
  const { sentence, problems } = failure.body;
  const nameOf = (id: string) => partName({ kind: "columnHeading", column: id }, spec, columns).replace(WORDS.partColumn(""), "");
  return (
    <div className="mx-auto w-full max-w-xl">
      <Notice tone="wrong">
        {problems.length === 0
          ? sentence
          : problems.map((p) => {
              const { words, part } = placeInReport(p.path, spec, nameOf);
              return (
                <p key={`${p.code} ${p.path.join(" ")}`}>
                  {part ? (
                    <button type="button" className="font-semibold underline" onClick={() => select(part)}>
                      {words}
                    </button>
                  ) : (
                    words
                  )}
                  {words && ": "}
                  {p.sentence}
                </p>
              );
            })}
      </Notice>
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

/** What a part of a page is called. */
function partName(part: Part, spec: ReportSpec, columns: ReportColumn[]): string {
  const heading = (id: string) => {
    const column = spec.columns.find((c) => c.id === id);
    return column ? headingOf(column, columns) : WORDS.missingColumn;
  };
  switch (part.kind) {
    case "heading":
      return WORDS.partHeading(part.level);
    case "columnHeading":
      return WORDS.partColumn(heading(part.column));
    case "value":
      return WORDS.partValues(heading(part.column));
    case "footing":
      return part.column === null ? WORDS.partFootingText : WORDS.partFooting(heading(part.column));
    case "related":
      return WORDS.partRelated(edit.relatedOf(spec, part.id)?.title ?? "");
    default:
      return WORDS.partNames[part.kind];
  }
}
