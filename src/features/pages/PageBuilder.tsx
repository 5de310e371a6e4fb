"use client";

import { useDeferredValue, useMemo } from "react";
import type { PageSpec } from "@/core/page/spec";
import { probeValues } from "@/core/query/parameters";
import { resolveQuery } from "@/core/query/resolve";
import type { QuerySpec } from "@/core/query/spec";
import { findTable, type Schema } from "@/core/schema/schema";
import type { Today } from "@/core/types/calendar";
import { Margin } from "@/ui/Margin";
import { useUndo } from "@/ui/useUndo";
import type { SavedObject } from "../keptObject";
import { SavedHeader } from "../SavedHeader";
import { useSavedObject } from "../useSavedObject";
import { COMMON } from "../words";
import { DetailsPanel, FormPanel, ResultsPanel } from "./builderPanels";
import { PageBody } from "./PageBody";
import { PublishPanel } from "./PublishPanel";
import { WORDS } from "./words";

type Props = { saved: SavedObject<PageSpec>; query: QuerySpec | null; schema: Schema; today: Today };

/** The page on which a published page is built: how it looks, and in the margin what it asks, shows and to whom. */
export function PageBuilder({ saved, query, schema, today }: Props) {
  const { value: spec, change, undo, redo, canUndo, canRedo } = useUndo(saved.spec);
  const object = useSavedObject("page", "/pages", saved, spec, change);
  const settled = useDeferredValue(spec);
  const asking = useMemo(() => ({ path: "/api/pages/draft", with: { spec: settled } }), [settled]);
  const columns = useMemo(() => {
    const resolved = query && resolveQuery(query, schema, { today, values: probeValues(query.parameters) });
    return resolved?.ok ? resolved.value.columns.filter((c) => !c.hidden) : [];
  }, [query, schema, today]);
  const { subject } = spec;
  const table = query && !query.grouped ? findTable(schema, query.source) : undefined;
  const search = subject.kind === "search" ? { search: subject, change: (next: typeof subject) => change({ ...spec, subject: next }, "subject") } : null;
  return (
    <div className="flex h-full">
      <section className="flex min-w-0 flex-1 flex-col">
        <div className="px-5 pt-4 pb-3">
          <SavedHeader
            object={object}
            history={{ undo, redo, canUndo, canRedo }}
            deeds={[{ words: WORDS.useSignedIn, act: () => window.open(`/pages/${saved.id}?inside=1`, "_self") }]}
          />
        </div>
        {/* biome-ignore lint/a11y/noNoninteractiveTabindex: what scrolls must be reachable by keyboard (WCAG 2.1.1) */}
        <section aria-label={COMMON.page} tabIndex={0} className="min-h-0 flex-1 overflow-auto bg-desk px-5 py-5">
          <div className="mx-auto grid max-w-5xl gap-4 bg-paper px-6 py-5 shadow-md">
            <header className="grid gap-1 border-b border-ink pb-3">
              <input
                className="w-full rounded bg-transparent font-serif text-title font-semibold hover:bg-sheet focus:bg-sheet"
                aria-label={WORDS.pageTitle}
                value={spec.title}
                onChange={(e) => change({ ...spec, title: e.target.value }, "title")}
              />
              <textarea
                className="w-full resize-none rounded bg-transparent hover:bg-sheet focus:bg-sheet"
                aria-label={WORDS.introduction}
                placeholder={WORDS.introductionForVisitors}
                rows={spec.intro.split("\n").length}
                value={spec.intro}
                onChange={(e) => change({ ...spec, intro: e.target.value }, "intro")}
              />
            </header>
            <PageBody asking={asking} />
          </div>
        </section>
      </section>
      <Margin
        parts={[
          { name: WORDS.published, content: <PublishPanel id={saved.id} spec={spec} change={change} changed={object.changed} save={object.save} /> },
          ...(search
            ? [
                { name: WORDS.ask, content: <FormPanel {...search} columns={columns} parameters={query?.parameters ?? []} /> },
                { name: WORDS.sheet, content: <ResultsPanel {...search} columns={columns} table={table} /> },
                { name: WORDS.folio, content: <DetailsPanel {...search} table={table} schema={schema} /> },
              ]
            : []),
        ]}
      />
    </div>
  );
}
