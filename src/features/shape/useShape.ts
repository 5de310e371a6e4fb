"use client";

import { useMemo } from "react";
import type { Schema, Table } from "@/core/schema/schema";
import { keyOf, parseCreateTable } from "@/core/shape/createTable";
import * as edit from "@/core/shape/edit";
import { planShape } from "@/core/shape/plan";
import type { ShapeSpec } from "@/core/shape/spec";
import { standsInTheWay } from "@/core/shape/survey";
import type { Today } from "@/core/types/calendar";
import { dateOrderOf } from "@/core/types/typed";
import type { ShapeNow } from "@/server/jobs/shape/run";
import type { ShapePreview } from "@/server/services/shape/service";
import { useUndo } from "@/ui/useUndo";
import { useAnswer } from "../useAnswer";
import { useLocale } from "../workspace/locale";
import { useKept } from "./useKept";

/**
 * A table's shape while it is changed: its description, what it comes to, and what stands in its way.
 * `surveyed` is the plan that `survey` is of: that of the change that was asked about, until the next one is answered.
 */
export function useShape(table: Table | null, now: ShapeNow, schema: Schema, today: Today) {
  const locale = useLocale();
  const start = useMemo(() => (table ? edit.startShape(table) : edit.startTable()), [table]);
  const { value: spec, change, undo, redo, canUndo, canRedo } = useUndo<ShapeSpec>(start);
  const forget = useKept(`shape ${table?.name ?? ""}`, spec, start, change);
  const sql = useMemo(() => (now.sql === null ? null : parseCreateTable(now.sql)), [now.sql]);
  const context = useMemo(
    () => ({ now: table && sql ? { table, sql } : null, tables: schema.tables, taken: now.taken, order: dateOrderOf(locale.locale), today }),
    [table, sql, schema.tables, now.taken, locale.locale, today],
  );
  const checked = useMemo(() => planShape(spec, context), [spec, context]);
  const plan = checked.ok ? checked.value : null;
  const idle = plan === null || plan.how === "nothing";
  const { answer, asked, failure, running } = useAnswer<ShapePreview, { spec: ShapeSpec }>("/api/tables/shape/survey", idle ? null : { spec });
  const survey = idle ? null : (answer?.survey ?? null);
  const surveyed = useMemo(() => {
    const planned = asked && planShape(asked.spec, context);
    return planned?.ok ? planned.value : null;
  }, [asked, context]);
  const current = survey !== null && !running && JSON.stringify(asked) === JSON.stringify({ spec });
  const key = sql ? keyOf(sql) : [];
  const keyNow = spec.columns.filter((c) => c.from !== null && key.includes(c.from)).map((c) => c.id);
  return {
    spec,
    change,
    history: { undo, redo, canUndo, canRedo },
    forget,
    sql,
    plan,
    survey,
    surveyed,
    uses: answer?.uses ?? null,
    failure,
    problems: checked.ok ? [] : checked.problems,
    /** The columns of the key, by their ids: as they are, and as they are to be. */
    keyed: { now: keyNow, ids: spec.key?.kind === "columns" ? spec.key.ids : spec.key ? [] : keyNow },
    /** Whether the change can be made: it was looked at as it stands, and nothing is in its way. */
    ready: current && plan !== null && !standsInTheWay(survey, plan),
  };
}

export type Shape = ReturnType<typeof useShape>;
