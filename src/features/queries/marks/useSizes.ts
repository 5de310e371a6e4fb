import { useEffect, useState } from "react";
import { barColumns, greatestSize, type Mark, type Sizes } from "@/core/query/marks";
import type { Profile } from "@/core/query/profile";
import { ask } from "../../ask";
import type { Question } from "../questions";

/** The greatest size of each column that has bars, over all its rows; none until they are known. */
export function useSizes(marks: readonly Mark[] | undefined, question: Question | undefined): Sizes {
  const [sizes, setSizes] = useState<Sizes>({});
  const asked = JSON.stringify(question ? { question, columns: barColumns(marks) } : { columns: [] });
  useEffect(() => {
    const { question: of, columns } = JSON.parse(asked) as { question: Question; columns: string[] };
    if (columns.length === 0) return setSizes({});
    const stop = new AbortController();
    const each = columns.map(async (column): Promise<[string, number]> => {
      const { least, greatest } = await ask<Profile>("/api/query/profile", { ...of, column }, { signal: stop.signal });
      return [column, greatestSize(least, greatest)];
    });
    // Without them there are no bars; that the question fails is said where its rows are shown.
    Promise.all(each).then(
      (all) => setSizes(Object.fromEntries(all)),
      () => undefined,
    );
    return () => stop.abort();
  }, [asked]);
  return sizes;
}
