import { useMemo } from "react";
import { MARK_SIGNS, type Mark, marksOfRow } from "@/core/query/marks";
import type { Plan } from "@/core/query/plan";
import type { Cell } from "@/core/types/valueType";
import type { SheetMark } from "@/ui/sheetParts";
import { useLocale } from "../../workspace/locale";
import type { Question } from "../questions";
import { markWords } from "./markWords";
import { useSizes } from "./useSizes";

/** The marks of a row's cells, by their places in the plan, with their signs and the words of their rules. */
export function useMarks(marks: readonly Mark[], plan: Plan, question: Question | undefined): (cells: Cell[]) => Map<number, SheetMark[]> {
  const locale = useLocale();
  const sizes = useSizes(marks, question);
  const words = useMemo(() => new Map(marks.map((mark) => [mark.id, markWords(mark, plan.columns, locale)])), [marks, plan, locale]);
  return (cells) => {
    const found = marksOfRow(marks, plan.columns, cells, sizes);
    return new Map([...found].map(([at, own]) => [at, own.map((m) => ({ ...m, sign: MARK_SIGNS[m.tone], words: words.get(m.id) ?? "" }))]));
  };
}
