"use client";

import dynamic from "next/dynamic";
import { useMemo } from "react";
import * as edit from "@/core/folio/edit";
import { type RowCells, rowQuery } from "@/core/folio/panel";
import type { FolioSpec } from "@/core/folio/spec";
import type { LetterSpec } from "@/core/letter/spec";
import type { Schema, Table } from "@/core/schema/schema";
import type { Today } from "@/core/types/calendar";
import { writeCount } from "@/core/types/format";
import type { Sources } from "@/server/services/dashboards/sources";
import { BriefPopover } from "@/ui/Brief";
import { Notice } from "@/ui/Notice";
import { useUndo } from "@/ui/useUndo";
import { makeFile } from "../DeedsMenu";
import { Choice } from "../editors/parts";
import type { SavedObject } from "../keptObject";
import { Link } from "../Link";
import { UndoButtons } from "../UndoButtons";
import { useSavedObject } from "../useSavedObject";
import { COMMON } from "../words";
import { useLocale } from "../workspace/locale";
import { PageHeading } from "../workspace/PageHeading";
import { AddPanel } from "./AddPanel";
import { FolioFields } from "./FolioFields";
import { FolioPanel } from "./FolioPanel";
import { RowHistory } from "./RowHistory";
import { useQueryOnce } from "./useQueryOnce";
import { useWalk } from "./useWalk";
import { WORDS } from "./words";

const FolioShown = dynamic(() => import("./FolioShown").then((m) => m.FolioShown), { loading: () => null });

type Props = {
  table: Table;
  schema: Schema;
  today: Today;
  rowKey: string[];
  walk: string;
  at: number | null;
  saved: { id: string | null; spec: FolioSpec; revision: number };
  sources: Sources;
  colours: Record<string, number>;
  /** Letters that are written to rows of this table. */
  letters: SavedObject<LetterSpec>[];
};

/** The page of one row: its fields, and the rows that belong to it. */
export function FolioPage({ table, schema, today, rowKey, walk: walkId, at, saved, sources, colours, letters }: Props) {
  const { value: spec, change, undo, redo, canUndo, canRedo } = useUndo(saved.spec);
  const { edited, save } = useSavedObject("folio", "/tables", { ...saved, name: table.name }, spec, change, {
    place: table.name,
    words: WORDS.theFolioOf(table.label),
  });
  const { walk, go } = useWalk(table.name, walkId, at);
  const query = useMemo(() => rowQuery(table, rowKey), [table, rowKey.join("\u0000")]);
  const { plan, rows, failure, again } = useQueryOnce(query, schema, today, {}, 1);
  const row = rows?.[0];
  const cells: RowCells | null = row && plan ? Object.fromEntries(plan.columns.map((c, i) => [c.id, row[i] ?? null])) : null;
  const heading = edit.rowName(table, cells, rowKey);

  const shown = spec.shown ?? [];
  const freshId = () => edit.freshPanelId(spec);

  return (
    <div className="h-full overflow-auto">
      <div className="mx-auto max-w-6xl px-8 py-5">
        <div className="flex flex-wrap items-center gap-x-3 gap-y-2 pb-4">
          <PageHeading name={heading} />
          <Link href={walk?.back ?? `/tables/${encodeURIComponent(table.name)}`} className="text-small text-soft hover:text-ink">
            {table.label} · {walk ? WORDS.backTo(walk.label) : WORDS.allRows}
          </Link>
          <span className="ml-auto flex items-center gap-2">
            {walk && at !== null && <WalkButtons at={at} rows={walk.rows} go={go} />}
            <UndoButtons {...{ undo, redo, canUndo, canRedo }} />
            {letters.length > 0 && (
              <BriefPopover label={WORDS.letter} className="button">
                {(close) =>
                  letters.map((letter) => (
                    <Choice
                      key={letter.id}
                      onClick={() => {
                        close();
                        makeFile("/api/letters/export", { spec: letter.spec, key: rowKey, name: `${letter.name}, ${heading}` }, "pdf");
                      }}
                    >
                      {letter.name}
                    </Choice>
                  ))
                }
              </BriefPopover>
            )}
            {cells && <RowHistory {...{ table, schema, rowKey }} />}
            <BriefPopover label={COMMON.addAPanel} className="button">
              {(close) => (
                <AddPanel
                  table={table}
                  schema={schema}
                  freshId={freshId}
                  add={(panel) => {
                    if (panel) change(edit.addPanel(spec, panel));
                    close();
                  }}
                  sources={sources}
                  show={(next) => {
                    change(edit.addShown(spec, next));
                    close();
                  }}
                />
              )}
            </BriefPopover>
            <button type="button" className="button-primary" disabled={!edited} onClick={save}>
              {COMMON.save}
            </button>
          </span>
        </div>
        {failure && <Notice tone="wrong">{failure}</Notice>}
        {rows?.length === 0 && <Notice tone="look">{WORDS.thisRowDoesNotExist}</Notice>}
        {cells && plan && (
          <>
            <FolioFields {...{ plan, cells, table, schema, again }} today={today} spec={query} />
            {shown.map((s) => (
              <FolioShown
                key={`${s.id} ${rowKey.join(" ")}`}
                shown={s}
                {...{ table, cells, schema, today, sources, colours }}
                remove={() => change(edit.removeShown(spec, s.id))}
              />
            ))}
            {spec.panels.map((panel, i) => (
              <FolioPanel
                key={`${panel.id} ${rowKey.join(" ")}`}
                panel={panel}
                table={table}
                cells={cells}
                schema={schema}
                today={today}
                first={i === 0}
                heading={heading}
                onChange={(next) => change(edit.setPanel(spec, panel.id, next))}
                onMove={(by) => change(edit.movePanel(spec, panel.id, by))}
              />
            ))}
            {spec.panels.some((p) => p.hideEmpty) && <p className="pt-6 text-small text-faint">{WORDS.panelsWithoutRowsAreHidden}</p>}
            {spec.panels.length === 0 && <p className="py-6 text-soft">{WORDS.noPanelsYetAddOne}</p>}
          </>
        )}
      </div>
    </div>
  );
}

function WalkButtons({ at, rows, go }: { at: number; rows: number; go: (place: number) => Promise<void> }) {
  const locale = useLocale();
  return (
    <>
      <button type="button" className="button" aria-label={COMMON.previousRow} disabled={at === 0} onClick={() => void go(at - 1)}>
        ‹
      </button>
      <span className="text-small text-soft">{COMMON.partOf(writeCount(at + 1, locale), writeCount(rows, locale))}</span>
      <button type="button" className="button" aria-label={COMMON.nextRow} disabled={at >= rows - 1} onClick={() => void go(at + 1)}>
        ›
      </button>
    </>
  );
}
