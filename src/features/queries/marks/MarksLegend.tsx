"use client";

import { MARK_SIGNS, type Mark, marksShown, removeMark, setMark } from "@/core/query/marks";
import type { PlanColumn } from "@/core/query/plan";
import type { QuerySpec } from "@/core/query/spec";
import type { Locale } from "@/core/types/format";
import { BriefPopover } from "@/ui/Brief";
import { MARK_BARS, MARK_GROUNDS, MARK_INKS } from "@/ui/sheetParts";
import { Remove } from "../../editors/parts";
import { useLocale } from "../../workspace/locale";
import { WORDS } from "../words";
import { MarkEditor } from "./MarkEditor";
import { markWords } from "./markWords";

type Props = { spec: QuerySpec; columns: readonly PlanColumn[]; change: (next: QuerySpec) => void };

/** What the marks of a sheet mean; each opens its rule. */
export function MarksLegend({ spec, columns, change }: Props) {
  const locale = useLocale();
  const shown = marksShown(spec.marks, columns);
  if (shown.length === 0) return null;
  return (
    <ul className="-mb-1 flex flex-wrap gap-x-4 gap-y-1 text-small" aria-label={WORDS.marksLegend}>
      {shown.map((mark) => (
        <li key={mark.id}>
          <BriefPopover label={<Said {...{ mark, columns, locale }} />} className="min-h-6 rounded px-1 hover:bg-bottle-tint">
            {(close) => (
              <>
                <MarkEditor mark={mark} columns={columns} change={(next) => change(setMark(spec, next))} />
                <Remove
                  onClick={() => {
                    change(removeMark(spec, mark.id));
                    close();
                  }}
                >
                  {WORDS.removeMark}
                </Remove>
              </>
            )}
          </BriefPopover>
        </li>
      ))}
    </ul>
  );
}

function Said({ mark, columns, locale }: { mark: Mark; columns: readonly PlanColumn[]; locale: Locale }) {
  const { look, tone } = mark;
  return (
    <span className="inline-flex items-center gap-1.5">
      {look === "bar" ? (
        <span aria-hidden="true" className={`h-1 w-5 opacity-70 ${MARK_BARS[tone]}`} />
      ) : (
        <span className={`px-1 text-tiny ${MARK_INKS[tone]} ${look === "shade" ? MARK_GROUNDS[tone] : ""}`}>{MARK_SIGNS[tone]}</span>
      )}
      {markWords(mark, columns, locale)}
    </span>
  );
}
