"use client";

import type { Pivot } from "@/core/pivot/pivot";
import { agreesWithRecount, type PivotRecount } from "@/core/pivot/seal";
import type { PivotSpec } from "@/core/pivot/spec";
import { cellWriter, counted, listed } from "@/core/types/format";
import { type Cell, whole } from "@/core/types/valueType";
import { filled } from "@/ui/filled";
import { Notice } from "@/ui/Notice";
import { AsOf } from "../AsOf";
import { useAnswer } from "../useAnswer";
import { COMMON } from "../words";
import { useLocale } from "../workspace/locale";
import { WORDS } from "./words";

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
  const wanted = question && pivot?.asOf ? { ...question, asOf: pivot.asOf } : question;
  const { answer: recount, asked, failure } = useAnswer<PivotRecount>("/api/pivots/recount", wanted, { settleMs: 0 });
  if (!pivot) return <p className="text-soft">{WORDS.theProofAppearsWithThe}</p>;
  const { proof } = pivot;
  const format = (figure: string) => spec.figures.find((f) => f.id === figure)?.format ?? {};
  const { rows } = proof;
  const counts = {
    figure: "rows",
    heading: COMMON.rowsHeading,
    type: whole,
    ...rows,
    overlaps: null,
    agrees: rows.down === rows.query && rows.across === rows.query,
  };
  const empties = [...pivot.axes.down.map((_, i) => ["down", i] as const), ...pivot.axes.across.map((_, i) => ["across", i] as const)].flatMap(([side, i]) => {
    const count = pivot[side].reduce((sum, h) => sum + (h.level === i + 1 && h.key === null && !h.rest ? h.rows : 0), 0);
    return count > 0 ? [{ side, i, count, field: pivot.axes[side][i]?.heading.toLowerCase() ?? "" }] : [];
  });
  return (
    <div className="grid gap-4">
      {pivot.asOf && (
        <p className="first-letter:uppercase">
          <AsOf moment={pivot.asOf} />
        </p>
      )}
      {question && failure && <Notice tone="wrong">{failure.message}</Notice>}
      {question && !failure && <Seal pivot={pivot} recount={JSON.stringify(asked) === JSON.stringify(wanted) ? recount : null} />}
      {[...proof.figures, counts].map((f) => {
        const write = (cell: Cell) => cellWriter(f.type, "percent" in format(f.figure) ? {} : format(f.figure), locale)(cell).text || "–";
        return (
          <table key={f.figure} className="w-full">
            <caption className="caption pb-1 text-left">{f.heading}</caption>
            <tbody>
              {f.down !== undefined && pivot.down.length > 1 && <Row words={WORDS.downAllRows} value={write(f.down)} />}
              {f.across !== undefined && pivot.across.length > 1 && <Row words={WORDS.acrossAllColumns} value={write(f.across)} />}
              <Row words={WORDS.queryFooting} value={write(f.query)} />
              <tr className="border-t border-b-[3px] border-ink font-semibold [border-bottom-style:double]">
                <th scope="row" className="py-1 text-left">
                  {f.agrees && f.overlaps ? (
                    filled(WORDS.eachOnce, f.overlaps, <span className="text-bottle">✓</span>)
                  ) : f.agrees ? (
                    <>
                      {WORDS.crossFoots} <span className="text-bottle">✓</span>
                    </>
                  ) : (
                    <span className="text-vermilion">{WORDS.doesNotCrossFoot}</span>
                  )}
                </th>
                <td className="py-1 text-right">{f.agrees ? (f.overlaps ? write(f.query) : WORDS.out(write(f.type.kind === "floating" ? 0 : "0"))) : ""}</td>
              </tr>
            </tbody>
          </table>
        );
      })}
      {proof.figures.some((f) => f.overlaps) && <p className="text-small text-soft">{WORDS.someOfTheRowsCounted}</p>}
      {!proof.agrees && <Notice tone="wrong">{WORDS.theTotalsAboveDifferThe}</Notice>}
      {proof.figures.length === 0 && <p className="text-small text-soft">{WORDS.theseFiguresDoNotAdd}</p>}
      {empties.map(({ side, i, count, field }) => (
        <Notice key={`${side} ${i}`} tone="look">
          <b>{WORDS.rowsWithout(counted(count, "row", locale), count === 1 ? "has" : "have", field)}</b> {WORDS.underNo(field)}{" "}
          <button type="button" className="link" onClick={() => onEmpties(i, side)}>
            {COMMON.seeTheRows}
          </button>
        </Notice>
      ))}
    </div>
  );
}

/** The recount's word on the totals; it comes after the figures. */
function Seal({ pivot, recount }: { pivot: Pivot; recount: PivotRecount | null }) {
  const locale = useLocale();
  const { wholes } = pivot.proof;
  if (!pivot.proof.agrees) return null;
  if (!recount) return <p className="text-small text-soft">{WORDS.recountingTheRows}</p>;
  if (!agreesWithRecount(pivot.proof, recount))
    return (
      <Notice tone="wrong">
        <b>{COMMON.doesNotAgree}</b> {WORDS.aRecountOfTheRows}
      </Notice>
    );
  return (
    <Notice tone="agrees">
      <b>{COMMON.proved}</b> {pivot.asOf ? WORDS.aRecountOfTheCopy : WORDS.aRecountRowByRow}
      {wholes.length > 0 &&
        ` ${WORDS.wholesRecounted(
          listed(
            wholes.map((w) => w.heading),
            locale,
          ),
        )}`}
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
