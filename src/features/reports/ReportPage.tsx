"use client";

import { useRouter } from "next/navigation";
import { useEffect, useMemo, useRef, useState } from "react";
import type { PlanParameter } from "@/core/query/plan";
import type { ReportOutline } from "@/core/report/layOut";
import type { Page } from "@/core/report/page";
import type { ReportSpec } from "@/core/report/spec";
import { cellWriter, counted, writeCount } from "@/core/types/format";
import type { Cell } from "@/core/types/valueType";
import type { FootingCheck } from "@/server/reports/service";
import { filled } from "@/ui/filled";
import { Margin } from "@/ui/Margin";
import { Notice } from "@/ui/Notice";
import { useUndo } from "@/ui/useUndo";
import { useAhead } from "../ahead/AnswersAhead";
import { ask, isAbort, sentenceOf } from "../ask";
import { makeFile } from "../DeedsMenu";
import { SavedHeader } from "../SavedHeader";
import { useSavedObject } from "../useSavedObject";
import { COMMON } from "../words";
import { useLocale } from "../workspace/locale";
import { PagesDesk } from "./PagedView";
import { PageView } from "./PageView";
import { pagesAsked } from "./pagesAsked";
import { type Closing, ColumnsPanel, GroupPanel, PagePanel } from "./panels";
import { ReportContents } from "./ReportContents";
import type { ReportColumn } from "./reportColumn";
import { useGlance } from "./useGlance";
import { WORDS } from "./words";

type Laid = {
  pages: Page[];
  outline: ReportOutline;
  columns: ReportColumn[];
  parameters: PlanParameter[];
  proof: { rows: { printed: number; query: number }; columns: FootingCheck[]; agrees: boolean };
};
type Props = { saved: { id: string; name: string; spec: ReportSpec; revision: number }; queries: { id: string; name: string }[]; closings: Closing[] };

/** The page of one report: contents on the left, the page itself, its settings and proof in the margin. */
export function ReportPage({ saved, queries, closings }: Props) {
  const router = useRouter();
  const { value: spec, change, undo, redo, canUndo, canRedo } = useUndo(saved.spec);
  const object = useSavedObject("report", "/reports", saved, spec, change);
  const { stored } = object;
  const ahead = useAhead();
  const [laid, setLaid] = useState(() => ahead<Laid>(pagesAsked(saved.spec, 1))?.answer ?? null);
  const [running, setRunning] = useState(laid === null);
  const came = useRef(laid !== null);
  const [at, setAt] = useState(1);
  const [failure, setFailure] = useState("");
  const desk = useRef<HTMLElement>(null);
  const key = useMemo(() => JSON.stringify(spec), [spec]);
  const pages = laid?.outline.pages ?? 1;

  useEffect(() => {
    const answered = came.current;
    came.current = false;
    if (answered) return;
    const abort = new AbortController();
    setRunning(true);
    const timer = setTimeout(() => {
      const { path, body } = pagesAsked(JSON.parse(key), at);
      ask<Laid>(path, body, { signal: abort.signal }).then(
        (answer) => {
          if (answer.outline.pages < at) return setAt(answer.outline.pages);
          setLaid(answer);
          setFailure("");
          setRunning(false);
        },
        (error) => {
          if (isAbort(error)) return;
          setFailure(sentenceOf(error));
          setRunning(false);
        },
      );
    }, 120);
    return () => {
      clearTimeout(timer);
      abort.abort();
    };
  }, [key, at]);
  useEffect(() => {
    desk.current?.scrollTo({ top: 0 });
  }, [at]);

  const glance = useGlance({ spec }, running && at === 1);
  const page = glance ?? laid?.pages[0];
  const panel = { spec, change, columns: laid?.columns ?? [] };
  return (
    <div className="flex h-full">
      <ReportContents outline={laid?.outline ?? null} at={at} go={setAt} />
      <section className="flex min-w-0 flex-1 flex-col">
        <div className="px-5 pt-4 pb-3">
          <SavedHeader
            object={object}
            history={{ undo, redo, canUndo, canRedo }}
            deeds={[
              {
                words: COMMON.printToPDF,
                disabled: !laid,
                act: () => makeFile("/api/report/pdf", { spec, name: spec.title || stored.name }, "pdf"),
              },
              { words: WORDS.schedule, act: () => router.push(`/schedules?new=1&report=${stored.id}`) },
              { words: COMMON.openQuery, act: () => router.push(`/queries/${spec.query}`) },
            ]}
          />
        </div>
        <PagesDesk label={COMMON.page} ref={desk} turn={page ? { noun: "page", at: at - 1, count: glance ? null : pages, go: (to) => setAt(to + 1) } : null}>
          {failure && (
            <div className="mx-auto max-w-xl">
              <Notice tone="wrong">{failure}</Notice>
            </div>
          )}
          {page && <PageView page={page} />}
          {!page && !failure && <p className="text-center text-soft">{COMMON.layingOut}</p>}
        </PagesDesk>
      </section>
      <Margin
        parts={[
          {
            name: WORDS.group,
            content: (
              <div className="grid gap-5">
                <GroupPanel {...panel} />
                {laid && <ReportProof laid={laid} brief />}
              </div>
            ),
          },
          { name: COMMON.columns, content: <ColumnsPanel {...panel} /> },
          { name: COMMON.page, content: <PagePanel {...panel} queries={queries} closings={closings} parameters={laid?.parameters ?? []} /> },
          { name: COMMON.proof, content: laid ? <ReportProof laid={laid} /> : <p className="text-soft">{WORDS.theProofAppearsWhenThe}</p> },
        ]}
      />
    </div>
  );
}

/** Grand footing, the groups' footings added together, and the query's own footing: three ways to one figure. */
function ReportProof({ laid, brief = false }: { laid: Laid; brief?: boolean }) {
  const locale = useLocale();
  const { proof, outline, columns } = laid;
  const write = (id: string, cell: Cell) => {
    const column = columns.find((c) => c.id === id);
    return column ? cellWriter(column.type, column.format, locale)(cell).text || "–" : "";
  };
  const last = proof.columns.at(-1);
  const apart = proof.columns.filter((c) => c.overlaps);
  const verdict = proof.agrees ? (
    <Notice tone={apart.length > 0 ? "look" : "agrees"}>
      {filled(
        WORDS.footsNote,
        <b>{apart.length > 0 ? WORDS.footsWithOverlaps : WORDS.foots}</b>,
        apart.length > 0
          ? WORDS.theRowsAddUpTo
          : outline.groups > 0
            ? WORDS.groupsAddUp(counted(outline.groups, WORDS.groupFooting, locale))
            : WORDS.theRowsAddUpTo,
        last && `, ${write(last.column, last.printed)}`,
      )}
    </Notice>
  ) : (
    <Notice tone="wrong">
      <b>{WORDS.doesNotFoot}</b> {WORDS.thePrintedFiguresAndThe}
    </Notice>
  );
  if (brief) return verdict;
  return (
    <div className="grid gap-4">
      {verdict}
      {apart.map((c) => (
        <Notice key={c.column} tone="look">
          {filled(
            WORDS.overlapping,
            <b>{WORDS.groupsMore(columns.find((x) => x.id === c.column)?.heading ?? "")}</b>,
            c.overlaps,
            write(c.column, c.query),
            write(c.column, c.groups),
          )}
        </Notice>
      ))}
      <table className="w-full text-small">
        <caption className="caption pb-1 text-left">{COMMON.rowsHeading}</caption>
        <tbody>
          <tr className="border-t border-hairline">
            <th scope="row" className="py-1 text-left font-normal">
              {WORDS.printed}
            </th>
            <td className="text-right">{writeCount(proof.rows.printed, locale)}</td>
          </tr>
          <tr className="border-t border-hairline">
            <th scope="row" className="py-1 text-left font-normal">
              {WORDS.inTheQuery}
            </th>
            <td className="text-right">{writeCount(proof.rows.query, locale)}</td>
          </tr>
        </tbody>
      </table>
      {proof.columns.map((c) => (
        <table key={c.column} className="w-full text-small">
          <caption className="caption pb-1 text-left">{columns.find((x) => x.id === c.column)?.heading}</caption>
          <tbody>
            <tr className="border-t border-hairline">
              <th scope="row" className="py-1 text-left font-normal">
                {WORDS.sumOfGroupFootings}
              </th>
              <td className="text-right">{write(c.column, c.groups)}</td>
            </tr>
            <tr className="border-t border-hairline">
              <th scope="row" className="py-1 text-left font-normal">
                {WORDS.queryFooting}
              </th>
              <td className="text-right">{write(c.column, c.query)}</td>
            </tr>
            <tr className="border-t border-b-[3px] border-ink font-semibold [border-bottom-style:double]">
              <th scope="row" className="py-1 text-left">
                {WORDS.grandTotal2} {c.agrees ? <span className="text-bottle">✓</span> : <span className="text-vermilion">{WORDS.differs}</span>}
              </th>
              <td className="text-right">{write(c.column, c.printed)}</td>
            </tr>
          </tbody>
        </table>
      ))}
    </div>
  );
}
