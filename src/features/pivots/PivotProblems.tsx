import { addCount, firstPivot } from "@/core/pivot/edit";
import type { PivotSpec } from "@/core/pivot/spec";
import type { Table } from "@/core/schema/schema";
import { type Problem, sentence } from "@/core/types/problem";
import { isNumber } from "@/core/types/valueType";
import { Notice } from "@/ui/Notice";
import { TooMany } from "./TooMany";
import { WORDS } from "./words";

type Props = { problems: Problem[]; spec: PivotSpec; table: Table | null; change: (next: PivotSpec) => void };

/** Why a pivot has no figures, and the way to have some. */
export function PivotProblems({ problems, spec, table, change }: Props) {
  if (problems.length === 0) return null;
  const bare = spec.down.length + spec.across.length === 0;
  return (
    <Notice tone="wrong">
      {problems.map((p) => sentence(p)).join(" ")} <TooMany problems={problems} spec={spec} change={change} />
      {problems.some((p) => p.code === "pivotEmpty") && table && (
        <button
          type="button"
          className="link"
          onClick={() => change(bare ? firstPivot(spec, table, (c) => isNumber(c.type) && c.format?.grouping !== false) : addCount(spec))}
        >
          {bare ? WORDS.suggestALayout : WORDS.addRowCount}
        </button>
      )}
    </Notice>
  );
}
