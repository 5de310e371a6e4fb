import { useMemo } from "react";
import { asChanged, differingRows } from "@/core/derive/changed";
import type { DerivedField } from "@/core/derive/spec";
import type { Schema } from "@/core/schema/schema";
import type { Today } from "@/core/types/calendar";
import type { FootingAnswer } from "@/server/services/queries/service";
import { useAnswer } from "../useAnswer";
import { WORDS } from "./words";

/** In how many rows a changed derived field differs from what it is today; null while that is not known. */
export function useDifference(now: DerivedField | null, draft: DerivedField | null, schema: Schema, today: Today): number | null {
  const asked = useMemo(() => {
    if (!now || !draft) return null;
    const next = asChanged(draft, WORDS.changedField(now.label));
    const spec = differingRows(now, next, schema, today);
    return spec && { spec, values: {}, draft: next };
  }, [now, draft, schema, today]);
  const { answer, running } = useAnswer<FootingAnswer>("/api/query/footing", asked);
  return asked && answer && !running ? answer.rows : null;
}
