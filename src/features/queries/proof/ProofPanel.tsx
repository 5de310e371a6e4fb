"use client";

import { proofColumn, proofColumns } from "@/core/proof/followed";
import type { Proof, ProofPick } from "@/core/proof/proof";
import { isSwayed } from "@/core/query/home";
import type { Plan } from "@/core/query/plan";
import type { QuerySpec } from "@/core/query/spec";
import type { Schema } from "@/core/schema/schema";
import { asOfWords, counted, listed } from "@/core/types/format";
import { Notice } from "@/ui/Notice";
import { COMMON } from "../../words";
import { useLocale } from "../../workspace/locale";
import { WORDS } from "../words";
import { AccountTable } from "./AccountTable";
import { JoinNotices } from "./JoinNotices";
import { RepeatsNotice } from "./RepeatsNotice";
import { Seal } from "./Seal";

type ProofProps = {
  spec: QuerySpec;
  schema: Schema;
  plan: Plan | null;
  proof: Proof | null;
  failure: string | null;
  running: boolean;
  pick: ProofPick | undefined;
  onPick: (pick: ProofPick | undefined) => void;
  change: (next: QuerySpec) => void;
};

/** The account of how the rows and the chosen figure came about; every number opens its rows. */
export function ProofPanel({ spec, schema, plan, proof, failure, running, pick, onPick, change }: ProofProps) {
  const locale = useLocale();
  if (failure) return <Notice tone="wrong">{WORDS.theProofFailed(failure)}</Notice>;
  if (!plan || !proof) return <p className="text-soft">{running ? COMMON.counting : WORDS.theProofAppearsWhenThe}</p>;
  return (
    <div className={`grid gap-4 ${running ? "opacity-60" : ""}`}>
      <FollowedFigure plan={plan} spec={spec} change={change} />
      <AccountTable plan={plan} proof={proof} pick={pick} onPick={onPick} />
      <Seal proof={proof} />
      {proof.repeats.map((repeats) => (
        <RepeatsNotice key={repeats.column} repeats={repeats} spec={spec} change={change} />
      ))}
      <SheetNotices plan={plan} />
      {proof.steps
        .filter((s) => s.kind === "join")
        .map((step) => (
          <JoinNotices key={step.id} step={step} source={plan.source.table.label} {...{ spec, schema, proof, onPick, change }} />
        ))}
      {proof.asOf ? (
        <p className="text-small text-soft">{WORDS.answeredAsOf(asOfWords(proof.asOf, new Date(), locale))}</p>
      ) : (
        proof.answeredBy && <p className="text-small text-soft">{WORDS.answeredBy[proof.answeredBy]}</p>
      )}
    </div>
  );
}

/** Which figure the account follows, where there are several. */
function FollowedFigure({ plan, spec, change }: { plan: Plan; spec: QuerySpec; change: (next: QuerySpec) => void }) {
  const figures = proofColumns(plan);
  if (figures.length < 2) return null;
  return (
    <label className="flex items-center justify-between gap-2 text-small text-soft">
      {WORDS.figure}
      <select className="field w-40" value={proofColumn(plan, spec.proofColumn)?.id} onChange={(e) => change({ ...spec, proofColumn: e.target.value })}>
        {figures.map((c) => (
          <option key={c.id} value={c.id}>
            {c.heading}
          </option>
        ))}
      </select>
    </label>
  );
}

/** What is to be known of the sheet's columns and of how many of its rows are shown. */
function SheetNotices({ plan }: { plan: Plan }) {
  const locale = useLocale();
  const worked = plan.columns.filter((c) => c.figure === "formula" && c.foot && !c.hidden);
  const per = plan.firstOf?.per ?? [];
  return (
    <>
      {plan.columns.filter(isSwayed).map((c) => (
        <Notice key={c.id} tone="look">
          {WORDS.countsRepeats(c.heading, c.home?.words ?? COMMON.rows)}
        </Notice>
      ))}
      {worked.length > 0 && (
        <Notice tone="agrees">
          {WORDS.workedOutAnew(
            listed(
              worked.map((c) => c.heading),
              locale,
            ),
            worked.length === 1 ? "is" : "are",
          )}
        </Notice>
      )}
      {plan.limit !== null && <Notice tone="look">{WORDS.firstRowsOnly(counted(plan.limit, "row", locale))}</Notice>}
      {plan.firstOf && (
        <Notice tone="look">
          {WORDS.firstOfEachOnly(
            counted(plan.firstOf.rows, "row", locale),
            listed(
              plan.columns.filter((c) => per.includes(c.id)).map((c) => c.heading),
              locale,
            ),
          )}
        </Notice>
      )}
    </>
  );
}
