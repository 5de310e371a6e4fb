"use client";

import { aliasesOf } from "@/core/expression/expr";
import type { Amount, ProofStep } from "@/core/proof/account";
import { type Proof, type ProofPick, proofColumn, proofColumns } from "@/core/proof/proof";
import * as edit from "@/core/query/edit";
import type { Plan } from "@/core/query/plan";
import type { QuerySpec } from "@/core/query/spec";
import { plural } from "@/core/schema/schema";
import { cellWriter, counted, writeCount } from "@/core/types/format";
import { Notice } from "@/ui/Notice";
import { useLocale } from "../shell/Shell";

type ProofProps = {
  spec: QuerySpec;
  plan: Plan | null;
  proof: Proof | null;
  failure: string | null;
  running: boolean;
  pick: ProofPick | undefined;
  onPick: (pick: ProofPick | undefined) => void;
  change: (next: QuerySpec) => void;
};

/** The account of how the rows and the chosen figure came about; every number opens its rows. */
export function ProofPanel({ spec, plan, proof, failure, running, pick, onPick, change }: ProofProps) {
  const locale = useLocale();
  if (failure) return <Notice tone="wrong">The proof could not be made: {failure}</Notice>;
  if (!plan || !proof) return <p className="text-soft">{running ? "Counting…" : "The proof appears when the query runs."}</p>;
  const figures = proofColumns(plan);
  const write = proof.figure && cellWriter(proof.figure.type, {}, locale);
  const source = plan.source.table.label;
  const same = (p: ProofPick) => JSON.stringify(p) === JSON.stringify(pick);

  const line = (label: React.ReactNode, amount: Amount, to: ProofPick, style: "main" | "part" | "total" = "part", warn = false) => {
    const figure = write?.(amount.figure);
    return (
      <tr
        key={`${JSON.stringify(to)}`}
        className={
          { main: "border-t border-ink", part: "text-soft", total: "border-t border-b-[3px] border-ink font-semibold [border-bottom-style:double]" }[style]
        }
      >
        <th scope="row" className={`py-1 text-left font-normal ${style === "part" ? "pl-3" : ""} ${style === "total" ? "font-semibold" : ""}`}>
          {label}
        </th>
        <td className="py-1 pl-1 text-right align-top">
          <button
            type="button"
            disabled={amount.rows === 0}
            aria-pressed={same(to)}
            onClick={() => onPick(same(to) ? undefined : to)}
            className={`rounded px-0.5 enabled:underline enabled:decoration-dotted enabled:underline-offset-4 enabled:hover:bg-bottle-tint aria-pressed:bg-bottle-tint ${warn && amount.rows > 0 ? "font-semibold text-ochre" : ""}`}
          >
            {writeCount(amount.rows, locale)}
          </button>
        </td>
        {write && <td className={`py-1 pl-1 text-right align-top ${figure?.negative ? "text-vermilion" : ""}`}>{figure?.text || "–"}</td>}
      </tr>
    );
  };

  const stepLines = (step: ProofStep) => {
    switch (step.kind) {
      case "condition":
        return [line(`left out by ${step.label}`, step.leftOut, { part: "leftOut", id: step.id })];
      case "kept":
        return [line("kept", step.amount, { part: "kept" }, "main")];
      case "join":
        return [
          line(`${step.label} found`, step.found, { part: "found", id: step.id }),
          line(`${step.label} missing${step.unmatched === "only" ? ", left out" : ""}`, step.missing, { part: "missing", id: step.id }, "part", true),
          ...(step.leadsTo === "many" ? [line(`repeated by ${step.label}`, step.repeated, { part: "repeated", id: step.id }, "part", true)] : []),
        ];
      default:
        return step satisfies never;
    }
  };

  return (
    <div className={`grid gap-4 ${running ? "opacity-60" : ""}`}>
      {figures.length > 1 && (
        <label className="flex items-center justify-between gap-2 text-small text-soft">
          following
          <select className="field w-40" value={proofColumn(plan, spec.proofColumn)?.id} onChange={(e) => change({ ...spec, proofColumn: e.target.value })}>
            {figures.map((c) => (
              <option key={c.id} value={c.id}>
                {c.heading}
              </option>
            ))}
          </select>
        </label>
      )}
      <table className="w-full text-small" data-testid="proof">
        <caption className="sr-only">How the rows{proof.figure ? ` and ${proof.figure.heading}` : ""} came about</caption>
        <thead>
          <tr className="text-tiny text-faint">
            <th className="font-normal">
              <span className="sr-only">Step</span>
            </th>
            <th className="pb-1 text-right font-normal">rows</th>
            {write && <th className="max-w-24 truncate pb-1 text-right font-normal">{proof.figure?.heading}</th>}
          </tr>
        </thead>
        <tbody>
          {line(source, proof.source, { part: "source" }, "main")}
          {proof.steps.flatMap(stepLines)}
          {line(proof.groups === null ? "in the sheet" : `in ${counted(proof.groups, "group", locale)}`, proof.sheet, { part: "sheet" }, "total")}
        </tbody>
      </table>
      {proof.agrees ? (
        <Notice tone="agrees">
          <b>✓ Proved.</b> The account above comes to what the query itself counts.
        </Notice>
      ) : (
        <Notice tone="wrong">
          <b>Does not agree.</b> The account comes to {counted(proof.accounted.rows, "row", locale)}, the query counts {writeCount(proof.sheet.rows, locale)}.
          The data may have changed while it was read: run it again.
        </Notice>
      )}
      {plan.limit !== null && (
        <Notice tone="look">The sheet keeps the first {counted(plan.limit, "row", locale)} of these; its footing is theirs alone.</Notice>
      )}
      {proof.steps
        .filter((s) => s.kind === "join")
        .map((step) => (
          <JoinNotices key={step.id} step={step} {...{ spec, plan, proof, source, onPick, change }} />
        ))}
    </div>
  );
}

/** The totals that a join to many inflates: those of tables that were there before it. */
function inflatedBy(plan: Plan, id: string): string[] {
  const at = plan.joins.findIndex((j) => j.id === id);
  const after = new Set<string>();
  for (const join of plan.joins.slice(at)) if (join.id === id || after.has(join.from)) after.add(join.alias);
  return plan.columns.filter((c) => c.totalled && ![...aliasesOf(c.expr)].some((alias) => after.has(alias))).map((c) => c.heading);
}

function JoinNotices({
  step,
  spec,
  plan,
  proof,
  source,
  onPick,
  change,
}: Pick<ProofProps, "spec" | "change" | "onPick"> & { step: Extract<ProofStep, { kind: "join" }>; proof: Proof; source: string; plan: Plan }) {
  const locale = useLocale();
  const write = proof.figure && cellWriter(proof.figure.type, {}, locale);
  const amount = (a: Amount) => (write && a.figure !== null ? write(a.figure).text : null);
  const name = step.label;
  const from = spec.joins.find((own) => own.id === step.id)?.from;
  const before = proof.steps.find((s) => s.kind === "join" && s.id === from);
  // What the table before already lacked is told there.
  const told = before?.kind === "join" && before.missing.rows === step.missing.rows;
  const missing = amount(step.missing);
  const inflated = amount(step.repeated);
  const others = inflatedBy(plan, step.id).filter((heading) => heading !== proof.figure?.heading);
  return (
    <>
      {step.missing.rows > 0 && !told && (
        <Notice tone="look">
          <b>
            {counted(step.missing.rows, source, locale, plural(source))} {step.missing.rows === 1 ? "has" : "have"} no {name}.
          </b>{" "}
          {step.unmatched === "keep" ? (
            <>
              Kept, with the {name}’s columns empty.{missing && ` An exact match would leave out ${missing}.`}
            </>
          ) : (
            <>Left out{missing && `, and with them ${missing}`}.</>
          )}
          <span className="mt-1 flex gap-3">
            <button type="button" className="link" onClick={() => onPick({ part: "missing", id: step.id })}>
              See the {writeCount(step.missing.rows, locale)}
            </button>
            <button type="button" className="link" onClick={() => change(edit.setUnmatched(spec, step.id, step.unmatched === "keep" ? "only" : "keep"))}>
              {step.unmatched === "keep" ? "Leave them out" : "Keep them"}
            </button>
          </span>
        </Notice>
      )}
      {step.repeated.rows > 0 && (
        <Notice tone="look">
          <b>Bringing {step.label} repeats rows.</b> {counted(step.repeated.rows, "row", locale)} more than there were, one up to{" "}
          {writeCount(step.times, locale)} times.
          {inflated && ` The total of ${proof.figure?.heading} is ${inflated} more than without the repeats.`}
          {others.length > 0 && ` Counted again too: ${others.join(", ")}.`}
          <span className="mt-1 flex gap-3">
            <button type="button" className="link" onClick={() => onPick({ part: "repeated", id: step.id })}>
              See them
            </button>
            <button type="button" className="link" onClick={() => change(edit.removeJoin(spec, step.id))}>
              Let {name} go
            </button>
          </span>
        </Notice>
      )}
    </>
  );
}
