import { useEffect, useState } from "react";
import { lastingValues } from "@/core/query/parameters";
import type { ParameterValues, QuerySpec } from "@/core/query/spec";
import { ask } from "../ask";

/** How long values stand before they are kept. */
const SETTLE_MS = 800;

/** What is given for a query's parameters; what has no default is kept for the person's next visit. @param id of the query, once it is saved */
export function useValues(id: string | null, { parameters }: QuerySpec, given: ParameterValues) {
  const [values, setValues] = useState(given);
  const [kept, setKept] = useState(() => JSON.stringify(lastingValues(parameters, given)));
  const lasting = JSON.stringify(lastingValues(parameters, values));
  useEffect(() => {
    if (id === null || lasting === kept) return;
    const timer = setTimeout(() => {
      setKept(lasting);
      // What could not be kept is asked for again: nothing is lost that was not typed.
      void ask("/api/query/values", { query: id, values: JSON.parse(lasting) }).catch(() => undefined);
    }, SETTLE_MS);
    return () => clearTimeout(timer);
  }, [id, lasting, kept]);
  return [values, setValues] as const;
}
