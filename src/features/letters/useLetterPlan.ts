import { useDeferredValue, useMemo } from "react";
import { planLetter } from "@/core/letter/plan";
import type { LetterSpec, Related } from "@/core/letter/spec";
import { tableOfPlan } from "@/core/query/planTable";
import { resolveQuery } from "@/core/query/resolve";
import type { QuerySpec } from "@/core/query/spec";
import type { Schema } from "@/core/schema/schema";
import type { Today } from "@/core/types/calendar";
import { withUnit } from "@/core/types/unit";

/** A letter as it is planned over its query, and the fields that can stand in it. */
export function useLetterPlan(spec: LetterSpec, query: QuerySpec, schema: Schema, today: Today) {
  const settled = useDeferredValue(spec);
  const inner = useMemo(() => resolveQuery(query, schema, { today, values: settled.parameters }), [query, schema, today, settled.parameters]);
  const planned = useMemo(
    () => (inner.ok ? planLetter(settled, query, schema, { today, values: settled.parameters }) : inner),
    [inner, settled, query, schema, today],
  );
  const fields = useMemo(
    () => (inner.ok ? tableOfPlan(inner.value).columns.map((c) => ({ type: c.type, formulaName: c.label, derived: c.derived !== undefined })) : []),
    [inner],
  );
  return { settled, planned, problems: planned.ok ? [] : planned.problems, fields };
}

/** The headings of a table within a letter; none where it cannot be resolved. */
export function headingsOf({ query }: Related, schema: Schema, today: Today): string[] {
  const resolved = resolveQuery({ ...query, conditions: [] }, schema, { today, values: {} });
  return resolved.ok ? resolved.value.columns.filter((c) => !c.hidden).map((c) => withUnit(c.heading, c.unit)) : [];
}
