"use client";

import { useState } from "react";
import { writtenOut } from "@/core/posting/coerce";
import { addressWith, openedWith } from "@/core/query/address";
import { queryOfTable } from "@/core/query/choices";
import { type CompareState, ROWS_COMPARED, sidesOf } from "@/core/query/comparison";
import type { Side } from "@/core/query/onOneSide";
import {
  type Amount,
  comparedFigures,
  less,
  type Reconciliation,
  readReconciliation,
  reconcileQuery,
  sideAgrees,
  sideFooting,
  sideOf,
} from "@/core/query/reconcile";
import type { ParameterValues, QuerySpec } from "@/core/query/spec";
import { findColumn, findTable, type Schema, type Table } from "@/core/schema/schema";
import { cellWriter, counted, writeCount } from "@/core/types/format";
import { type Cell, exactOf, isMisfit, type ValueType, whole } from "@/core/types/valueType";
import type { FootingAnswer } from "@/server/services/queries/service";
import { Notice } from "@/ui/Notice";
import { Link } from "../../Link";
import { useAnswer } from "../../useAnswer";
import { COMMON } from "../../words";
import { useLocale } from "../../workspace/locale";
import { WORDS } from "../words";
import { OneSideNotice } from "./OneSideNotice";

type Props = { spec: QuerySpec; schema: Schema; values: ParameterValues /** Shows the rows of one state alone. */; show: (state: CompareState) => void };

/** How one side of a comparison comes to the other, each held against its own footing. */
export function ReconciliationPanel({ spec, schema, values, show }: Props) {
  const locale = useLocale();
  const { compare } = spec;
  const rows = findTable(schema, ROWS_COMPARED);
  const [chosen, setChosen] = useState<number | null>(null);
  const figures = rows && compare ? comparedFigures(rows, compare.fields.length) : [];
  const figure = chosen !== null && figures.includes(chosen) ? chosen : (figures[0] ?? null);
  const ready = compare !== undefined && rows !== undefined && !rows.rowsOf?.broken;
  const { answer } = useAnswer<Cell[][]>("/api/query/rows", ready ? { spec: reconcileQuery(spec, figure), values, offset: 0, rows: 10 } : null);
  const here = useSide(compare, "here", ready ? figure : undefined, values);
  const there = useSide(compare, "there", ready ? figure : undefined, values);
  if (!ready || !compare) return null;
  const column = figure === null ? undefined : findColumn(rows, `here ${figure}`);
  if (!answer) return <p className="text-soft">{COMMON.counting}</p>;
  const account = readReconciliation(answer, column?.type);
  const sides = sidesOf(compare, schema);
  const write = (sum: bigint | number) => (column ? cellWriter(column.type, {}, locale)(typeof sum === "bigint" ? sum.toString() : sum).text : "");
  const figureName = (at: number | null) => (findColumn(rows, `here ${at}`)?.label ?? "").replace(/ here$/, "");
  const label = (side: "here" | "there") => sides[side]?.label ?? side;
  const agrees = [here && sideAgrees(sideOf(account, "here"), here(column?.type)), there && sideAgrees(sideOf(account, "there"), there(column?.type))];
  return (
    <section className="grid gap-3" aria-label={WORDS.reconciliation}>
      {figures.length > 1 && (
        <label className="flex items-center justify-between gap-2 text-small text-soft">
          {WORDS.figure}
          <select className="field w-40" value={figure ?? ""} onChange={(e) => setChosen(Number(e.target.value))}>
            {figures.map((i) => (
              <option key={i} value={i}>
                {figureName(i)}
              </option>
            ))}
          </select>
        </label>
      )}
      <Account figure={figureName(figure)} {...{ account, label, write: column ? write : null }} open={show} />
      {/* Before what comes later, which would push it from under the pointer. */}
      <KeepControl
        {...{ sides, values }}
        column={figure === null ? null : (compare.fields[figure] ?? null)}
        amount={sideOf(account, "there")}
        type={column?.type}
      />
      {(["here", "there"] as const).map((side) => (
        <OneSideNotice key={side} {...{ spec, values, side, sides }} rows={account[`only ${side}`][side].rows} open={() => show(`only ${side}`)} />
      ))}
      {agrees.includes(false) ? (
        <Notice tone="wrong">{WORDS.sidesDiffer}</Notice>
      ) : (
        agrees.includes(true) && <Notice tone="agrees">{WORDS.sidesAgree(agrees[1] === undefined || agrees[1] === null ? label("here") : WORDS.both)}</Notice>
      )}
    </section>
  );
}

/** Takes what the other side comes to as a control total of the query here. */
function KeepControl({ sides, values, column, amount, type }: KeepProps) {
  const locale = useLocale();
  const id = sides.here && queryOfTable(sides.here.name);
  if (!id || !sides.here || sides.here === sides.there) return null;
  const of = type && column ? type : whole;
  const cell = typeof amount.sum === "bigint" ? amount.sum.toString() : amount.sum;
  const [shown, value] =
    column && type ? [cellWriter(of, {}, locale)(cell).text, writtenOut(cell, of)] : [counted(amount.rows, "row", locale), String(amount.rows)];
  const control = { column: column?.here ?? null, value, source: sides.there?.label ?? "" };
  return (
    <Link href={openedWith(addressWith(`/queries/${id}`, values), { control })} className="link justify-self-start text-small">
      {WORDS.keepAsControl(shown, sides.here.label)}
    </Link>
  );
}

type KeepProps = {
  sides: Partial<Record<Side, Table>>;
  values: ParameterValues;
  /** The fields whose figure it is; null: rows. */
  column: { here: string; there: string } | null;
  amount: Amount;
  type: ValueType | undefined;
};

/** What a side comes to by itself, once it is known. @param figure the place of a pair of fields; null: rows alone */
function useSide(compare: QuerySpec["compare"], side: "here" | "there", figure: number | null | undefined, values: ParameterValues) {
  const pair = compare && (figure == null ? compare.key[0] : compare.fields[figure]);
  // A query compared with itself is asked for other values: its other side cannot be asked by itself.
  const again = side === "there" && compare?.here === compare?.there;
  const asked = figure === undefined || !compare || !pair || again ? null : { spec: sideFooting(compare[side], pair[side]), values };
  const { answer } = useAnswer<FootingAnswer>("/api/query/footing", asked);
  if (asked === null || !answer) return null;
  return (type: { kind: string } | undefined): Amount => {
    const cell = answer.totals.figure ?? 0;
    const sum = isMisfit(cell) ? 0 : cell;
    return { rows: answer.rows, sum: type?.kind === "floating" ? Number(sum) : figure === null ? 0n : (exactOf(sum) ?? 0n) };
  };
}

type AccountProps = {
  /** What the figure is of. */
  figure: string;
  account: Reconciliation;
  label: (side: "here" | "there") => string;
  write: ((sum: bigint | number) => string) | null;
  open: (state: keyof Reconciliation) => void;
};

function Account({ account, figure, label, write, open }: AccountProps) {
  const locale = useLocale();
  const line = (words: string, amount: { rows?: number; sum: bigint | number }, look: string, act?: () => void) => (
    <tr key={words + look} className={look}>
      <th scope="row" className={`py-0.5 text-left ${look.includes("font-semibold") ? "" : "font-normal"}`}>
        {act ? (
          <button type="button" className="min-h-6 text-left hover:text-bottle hover:underline" onClick={act}>
            {words}
          </button>
        ) : (
          words
        )}
      </th>
      <td className="py-0.5 text-right tabular-nums">{amount.rows === undefined ? "" : writeCount(amount.rows, locale)}</td>
      {write && <td className="py-0.5 pl-2 text-right tabular-nums">{write(amount.sum)}</td>}
    </tr>
  );
  const part = (state: keyof Reconciliation, side: "here" | "there") => line(state, account[state][side], "text-soft [&>th]:pl-3", () => open(state));
  const main = "border-t border-ink";
  const [here, there] = [sideOf(account, "here"), sideOf(account, "there")];
  const between = (state: keyof Reconciliation) => less(account[state].there.sum, account[state].here.sum);
  return (
    <table className="w-full text-small" data-testid="reconciliation">
      <caption className="sr-only">{WORDS.reconciliation}</caption>
      <thead>
        <tr className="text-tiny text-faint">
          <th>
            <span className="sr-only">{WORDS.step}</span>
          </th>
          <th className="pb-1 text-right font-normal">{COMMON.rows}</th>
          {write && <th className="max-w-24 truncate pb-1 text-right font-normal">{figure}</th>}
        </tr>
      </thead>
      <tbody>
        {line(label("here"), here, main)}
        {(["only here", "different", "doubled", "the same"] as const).map((state) => part(state, "here"))}
        {line(label("there"), there, main)}
        {(["only there", "different", "doubled", "the same"] as const).map((state) => part(state, "there"))}
        {write && line(WORDS.onlyThereLessOnlyHere, { sum: less(account["only there"].there.sum, account["only here"].here.sum) }, main)}
        {write && line(WORDS.byWhatDiffers, { sum: between("different") }, "text-soft [&>th]:pl-3")}
        {write && line(WORDS.byWhatIsDoubled, { sum: between("doubled") }, "text-soft [&>th]:pl-3")}
        {write && line(WORDS.withinTolerance, { sum: between("the same") }, "text-soft [&>th]:pl-3")}
        {write &&
          line(WORDS.thereLessHere, { sum: less(there.sum, here.sum) }, "border-t border-b-[3px] border-ink font-semibold [border-bottom-style:double]")}
      </tbody>
    </table>
  );
}
