"use client";

import type { Pivot } from "@/core/pivot/assemble";
import { agreesWithRecount, type PivotRecount } from "@/core/pivot/prove";
import type { PivotSpec } from "@/core/pivot/spec";
import { cellWriter, counted } from "@/core/types/format";
import { type Cell, whole } from "@/core/types/valueType";
import { Notice } from "@/ui/Notice";
import { useLocale } from "../shell/Shell";
import { useAnswer } from "../useAnswer";

type Props = {
  pivot: Pivot | null;
  spec: PivotSpec;
  /** What the pivot answers, for a recount of its totals; null where it is part of something else. */
  question: { spec: PivotSpec; values: object } | null;
  onEmpties: (field: number, side: "down" | "across") => void;
};

/** Totals down, totals across and the query's footing beside each other, and the rows that have no value in a field. */
export function PivotProof({ pivot, spec, question, onEmpties }: Props) {
  const locale = useLocale();
  const { answer: recount, asked } = useAnswer<PivotRecount>("/api/pivots/recount", question, 0);
  if (!pivot) return <p className="text-soft">The proof appears with the figures.</p>;
  const { proof } = pivot;
  const format = (figure: string) => spec.figures.find((f) => f.id === figure)?.format ?? {};
  const { rows } = proof;
  const counts = { figure: "rows", heading: "Rows", type: whole, ...rows, overlaps: null, agrees: rows.down === rows.query && rows.across === rows.query };
  const empties = [...pivot.axes.down.map((_, i) => ["down", i] as const), ...pivot.axes.across.map((_, i) => ["across", i] as const)].flatMap(([side, i]) => {
    const count = pivot[side].reduce((sum, h) => sum + (h.level === i + 1 && h.key === null && !h.rest ? h.rows : 0), 0);
    return count > 0 ? [{ side, i, count, field: pivot.axes[side][i]?.heading.toLowerCase() ?? "" }] : [];
  });
  return (
    <div className="grid gap-4">
      {question && <Seal pivot={pivot} recount={JSON.stringify(asked) === JSON.stringify(question) ? recount : null} />}
      {[...proof.figures, counts].map((f) => {
        const write = (cell: Cell) => cellWriter(f.type, "percent" in format(f.figure) ? {} : format(f.figure), locale)(cell).text || "–";
        return (
          <table key={f.figure} className="w-full">
            <caption className="caption pb-1 text-left">{f.heading}</caption>
            <tbody>
              {f.down !== undefined && pivot.down.length > 1 && <Row words="Down, all rows" value={write(f.down)} />}
              {f.across !== undefined && pivot.across.length > 1 && <Row words="Across, all columns" value={write(f.across)} />}
              <Row words="Query footing" value={write(f.query)} />
              <tr className="border-t border-b-[3px] border-ink font-semibold [border-bottom-style:double]">
                <th scope="row" className="py-1 text-left">
                  {f.agrees && f.overlaps ? (
                    <>
                      Each of the {f.overlaps} once <span className="text-bottle">✓</span>
                    </>
                  ) : f.agrees ? (
                    <>
                      Cross-foots <span className="text-bottle">✓</span>
                    </>
                  ) : (
                    <span className="text-vermilion">Does not cross-foot</span>
                  )}
                </th>
                <td className="py-1 text-right">{f.agrees ? (f.overlaps ? write(f.query) : `${write(f.type.kind === "floating" ? 0 : "0")} out`) : ""}</td>
              </tr>
            </tbody>
          </table>
        );
      })}
      {proof.figures.some((f) => f.overlaps) && (
        <p className="text-small text-soft">
          Some of the rows counted once stand under several headings, so the totals down and across come to more than the whole.
        </p>
      )}
      {!proof.agrees && <Notice tone="wrong">The totals above differ. The data may have changed while it was read: change something to count again.</Notice>}
      {proof.figures.length === 0 && (
        <p className="text-small text-soft">
          None of the figures adds up from its parts; each subtotal was worked out from the rows, and the rows themselves cross-foot.
        </p>
      )}
      {empties.map(({ side, i, count, field }) => (
        <Notice key={`${side} ${i}`} tone="look">
          <b>
            {counted(count, "row", locale)} {count === 1 ? "has" : "have"} no {field}
          </b>{" "}
          and stand under “No {field}”.{" "}
          <button type="button" className="link" onClick={() => onEmpties(i, side)}>
            See the rows
          </button>
        </Notice>
      ))}
    </div>
  );
}

/** The recount's word on the totals; it comes after the figures. */
function Seal({ pivot, recount }: { pivot: Pivot; recount: PivotRecount | null }) {
  if (!pivot.proof.agrees) return null;
  if (!recount) return <p className="text-small text-soft">Recounting the rows…</p>;
  if (!agreesWithRecount(pivot.proof, recount))
    return (
      <Notice tone="wrong">
        <b>Does not agree.</b> A recount of the rows comes to other totals. The data may have changed while it was read: change something to count again.
      </Notice>
    );
  return (
    <Notice tone="agrees">
      <b>✓ Proved.</b> A recount, row by row and without the pivot’s SQL, comes to the same rows and totals.
    </Notice>
  );
}

const Row = ({ words, value }: { words: string; value: string }) => (
  <tr className="border-t border-hairline">
    <th scope="row" className="py-1 text-left font-normal">
      {words}
    </th>
    <td className="py-1 text-right">{value}</td>
  </tr>
);
