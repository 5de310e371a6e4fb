import { onTheRight, type ShownColumn, shownWriter } from "@/core/query/shownColumn";
import type { Locale } from "@/core/types/format";
import type { Cell } from "@/core/types/valueType";

/** What is shorter than this is not broken into lines. */
const SHORT = 24;

/** Writes rows of cells: of a column that is a number flush right, negative in vermilion. */
export function tdsWriter(columns: ShownColumn[], locale: Locale, look: string): (row: Cell[]) => React.ReactNode {
  const writers = columns.map((c) => shownWriter(c, locale));
  return (row) =>
    columns.map((c, k) => {
      const written = writers[k]?.(row[k] ?? null);
      const whole = (written?.text.length ?? 0) <= SHORT ? "whitespace-nowrap" : "";
      const tone = written?.negative || written?.misfit ? "text-vermilion" : "";
      return (
        <td key={c.id} className={`${look} ${onTheRight(c) ? "text-right" : ""} ${whole} ${tone}`}>
          {written?.text}
        </td>
      );
    });
}
