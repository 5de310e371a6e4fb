import { namesWanted, showsNames } from "@/core/query/namedRows";
import type { Plan } from "@/core/query/plan";
import { cellWriter, writeCount } from "@/core/types/format";
import { withUnit } from "@/core/types/unit";
import { type Cell, isNumber } from "@/core/types/valueType";
import type { FootingAnswer } from "@/server/services/queries/service";
import { namedWriter, useRowNames } from "../queries/useRowNames";
import { COMMON } from "../words";
import { useLocale } from "../workspace/locale";

type Props = { plan: Plan; rows: Cell[][]; footing: FootingAnswer | null };

/** The first rows of a panel, with the footing of all of them. */
export function PanelTable({ plan, rows, footing }: Props) {
  const locale = useLocale();
  const nameOf = useRowNames(namesWanted(plan, rows));
  const shown = plan.columns.flatMap((c, at) =>
    c.hidden ? [] : [{ column: c, at, right: isNumber(c.type) && !showsNames(c), write: namedWriter(c, cellWriter(c.type, c.format, locale), nameOf) }],
  );
  const of = (n: number) => writeCount(n, locale);
  const counts = footing && (footing.rows > rows.length ? COMMON.partOf(of(rows.length), of(footing.rows)) : of(footing.rows));
  return (
    <div className="overflow-auto border border-rule bg-sheet">
      <table className="w-full">
        <thead>
          <tr className="border-b border-ink text-left text-small">
            {shown.map(({ column, right }) => (
              <th key={column.id} className={`border-r border-column px-2.5 py-1.5 ${right ? "text-right" : ""} ${column.derived ? "text-plum" : ""}`}>
                {withUnit(column.heading, column.unit)}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {rows.map((row, i) => (
            <tr key={`row ${i}`} className="border-b border-hairline">
              {shown.map(({ column, at, right, write }) => {
                const written = write(row[at] ?? null);
                return (
                  <td
                    key={column.id}
                    className={`border-r border-column px-2.5 py-1 ${right ? "text-right" : ""} ${written.negative || written.misfit ? "text-vermilion" : ""}`}
                  >
                    {written.text}
                  </td>
                );
              })}
            </tr>
          ))}
          {rows.length === 0 && (
            <tr>
              <td className="px-2.5 py-2 text-soft" colSpan={shown.length}>
                {COMMON.noRows}
              </td>
            </tr>
          )}
        </tbody>
        {footing && rows.length > 0 && (
          <tfoot>
            <tr className="border-t border-b-[3px] border-ink font-semibold [border-bottom-style:double]">
              {shown.map(({ column, write }, i) => {
                const total = column.id in footing.totals ? write(footing.totals[column.id] ?? null).text : "";
                return (
                  <td key={column.id} className={`border-r border-column px-2.5 py-1 ${isNumber(column.type) && total ? "text-right" : ""}`}>
                    {total || (i === 0 && counts)}
                  </td>
                );
              })}
            </tr>
          </tfoot>
        )}
      </table>
    </div>
  );
}
