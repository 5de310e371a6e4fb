"use client";

import { addressWith, openedWith } from "@/core/query/address";
import { queryOfTable } from "@/core/query/choices";
import { otherSide, type Side } from "@/core/query/onOneSide";
import type { ParameterValues, QuerySpec } from "@/core/query/spec";
import type { Table } from "@/core/schema/schema";
import { cellWriter, counted, listed, writeCount } from "@/core/types/format";
import type { OneSide } from "@/server/services/queries/onOneSide";
import { Notice } from "@/ui/Notice";
import { Link } from "../../Link";
import { useAnswer } from "../../useAnswer";
import { COMMON } from "../../words";
import { useLocale } from "../../workspace/locale";
import { WORDS } from "../words";

type Props = {
  spec: QuerySpec;
  values: ParameterValues;
  side: Side;
  sides: Partial<Record<Side, Table>>;
  /** How many rows the side has alone. */
  rows: number;
  /** Shows them. */
  open: () => void;
};

/** Why rows stand on one side alone: what they have in common, and which steps of the other side's query left them out. */
export function OneSideNotice({ spec, values, side, sides, rows, open }: Props) {
  const locale = useLocale();
  const { answer } = useAnswer<OneSide>("/api/query/oneside", rows > 0 ? { spec, values, side } : null);
  if (!answer || rows === 0 || answer.looked === 0) return null;
  const { looked, shared, lost } = answer;
  const other = sides[otherSide(side)];
  const said = shared.map(({ column, cell }) => {
    const value = cellWriter(column.type, column.format ?? {}, locale)(cell).text;
    return cell === null ? WORDS.haveNo(column.label) : WORDS.haveThe(column.label, value);
  });
  const others = shared[0]?.others ?? 0;
  if (said.length === 0 && !lost) return null;
  return (
    <Notice tone="look">
      {looked < rows && <span>{WORDS.ofTheFirst(writeCount(looked, locale))} </span>}
      {said.length > 0 && (
        <>
          <b>{WORDS.allAlike(looked === 1, counted(looked, "row", locale), side, listed(said, locale))}</b>{" "}
          {others === 0 ? WORDS.noOtherHas(sides[side]?.label ?? side) : WORDS.othersHave(counted(others, "other row", locale), sides[side]?.label ?? side)}
        </>
      )}
      {lost && other && (lost.steps.length > 0 || lost.absent > 0) && (
        <div className={said.length > 0 ? "mt-2" : ""}>
          <b>{WORDS.whereLost(counted(looked, "row", locale), side, other.label)}</b>
          <ul className="mt-1 grid gap-0.5">
            {lost.steps.map((step) => (
              <LostLine key={step.words} words={step.words} rows={step.rows} to={pathTo(other, values, step)} />
            ))}
            {lost.absent > 0 && <LostLine words={WORDS.notAmong(lost.source)} rows={lost.absent} to={null} />}
          </ul>
        </div>
      )}
      <span className="mt-1 block">
        <button type="button" className="link" onClick={open}>
          {WORDS.seeThe(writeCount(rows, locale))}
        </button>
      </span>
    </Notice>
  );
}

/** The query of a side, opened with the rows of one of its steps. */
function pathTo(other: Table, values: ParameterValues, { pick }: { pick: NonNullable<OneSide["lost"]>["steps"][number]["pick"] }): string {
  return openedWith(addressWith(`/queries/${queryOfTable(other.name)}`, values), { pick });
}

function LostLine({ words, rows, to }: { words: string; rows: number; to: string | null }) {
  const locale = useLocale();
  return (
    <li className="flex justify-between gap-2">
      {to ? (
        <Link href={to} className="link text-left" title={COMMON.seeTheRows}>
          {words}
        </Link>
      ) : (
        words
      )}
      <span className="tabular-nums">{writeCount(rows, locale)}</span>
    </li>
  );
}
