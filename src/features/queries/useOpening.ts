import { useRef, useState } from "react";
import type { PhraseTarget } from "@/core/brief/brief";
import type { QuerySpec } from "@/core/query/spec";
import { askedNext, nextValue } from "@/core/query/waiting";
import { phraseKey } from "../editors/phraseKey";

/** The phrase whose value a change asks for: of a new condition, the other side of a comparison, the fields it goes by. */
function askedBy(before: QuerySpec, after: QuerySpec): PhraseTarget | null {
  const value = askedNext(before, after);
  if (value) return { kind: "value", ...value };
  return after.compare && after.compare.there !== "" && after.compare.key.length === 0 ? { kind: "compare", part: "key" } : null;
}

/**
 * Which phrase of a query's sentence opens by itself: what a change asks for, and after one value of a condition the next.
 * @param change makes a description the next one
 */
export function useOpening(spec: QuerySpec, change: (next: QuerySpec) => void) {
  const [opening, setOpening] = useState<PhraseTarget | null>(() => (spec.compare?.there === "" ? { kind: "compare", part: "there" } : null));
  /** As it was changed last, before it is shown. */
  const latest = useRef(spec);
  latest.current = spec;
  return {
    opening: opening && phraseKey(opening),
    opened: () => setOpening(null),
    alter: (next: QuerySpec) => {
      setOpening(askedBy(spec, next));
      latest.current = next;
      change(next);
    },
    /** Closes an editor, and goes on to the next value where there is one to give. */
    closing: (target: PhraseTarget, close: () => void) => () => {
      close();
      // What a change of anything else asked for stays asked for.
      const next = target.kind === "value" ? nextValue(latest.current, target) : undefined;
      if (next) setOpening({ kind: "value", ...next });
    },
  };
}
