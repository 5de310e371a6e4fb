import { useEffect, useRef, useState } from "react";
import { toast } from "sonner";
import type { FilterValues } from "@/core/dashboard/spec";
import { ask, sentenceOf } from "../ask";

const KEEP_MS = 400;

/** What a viewer chooses in a dashboard's filters; it is kept for them, a moment after they have chosen it. */
export function useFilterValues(dashboard: string, own: FilterValues) {
  const [values, setValues] = useState<FilterValues>(own);
  const first = useRef(true);
  useEffect(() => {
    if (first.current) {
      first.current = false;
      return;
    }
    const timer = setTimeout(() => {
      ask("/api/dashboards/values", { dashboard, values }).catch((error) => toast.error(sentenceOf(error)));
    }, KEEP_MS);
    return () => clearTimeout(timer);
  }, [values, dashboard]);
  return [values, setValues] as const;
}
