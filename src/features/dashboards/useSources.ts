import { useMemo, useState } from "react";
import { toast } from "sonner";
import type { Sources } from "@/server/services/dashboards/sources";
import { ask, sentenceOf } from "../ask";

/** What tiles can be made from, and a way to have a query of its own over a table among it. */
export function useSources(given: Sources) {
  const [made, setMade] = useState<Sources["queries"]>([]);
  const sources = useMemo(() => ({ ...given, queries: [...given.queries, ...made] }), [given, made]);
  const ownQuery = async (table: string): Promise<string | undefined> => {
    const own = await ask<Sources["queries"][number]>("/api/query/own", { table }).catch((error) => void toast.error(sentenceOf(error)));
    if (own) setMade((before) => [...before, own]);
    return own?.id;
  };
  return { sources, ownQuery };
}
