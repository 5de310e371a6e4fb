import type { PivotSpec } from "@/core/pivot/spec";
import type { Problem } from "@/core/types/problem";
import { WORDS } from "./words";

/** Where a pivot has more headings than can be shown: the way to its first 50 and the rest as one. */
export function TooMany({ problems, spec, change }: { problems: Problem[]; spec: PivotSpec; change: (next: PivotSpec) => void }) {
  const found = problems.find((p) => p.code === "pivotWide" || p.code === "pivotLong");
  if (!found) return null;
  const side = found.code === "pivotWide" ? "across" : "down";
  return (
    <button type="button" className="link" onClick={() => change({ ...spec, [side]: spec[side].map((a) => (a.first === null ? { ...a, first: 50 } : a)) })}>
      {WORDS.showTheFirst50The}
    </button>
  );
}
