"use client";

import type { Amount, ProofStep } from "@/core/proof/account";
import { minus, proofColumn, proofColumns } from "@/core/proof/followed";
import type { LinesCheck } from "@/core/proof/lines";
import type { Proof, ProofPick, RepeatsCheck } from "@/core/proof/proof";
import { canOpenUnmatched } from "@/core/proof/unmatched";
import type { JoinWay } from "@/core/query/choices";
import * as edit from "@/core/query/edit";
import { setWay } from "@/core/query/editJoins";
import { isSwayed } from "@/core/query/home";
import { isLinked, JOIN_WAYS } from "@/core/query/joinWays";
import type { Plan } from "@/core/query/plan";
import { totalFirst } from "@/core/query/related";
import type { QuerySpec } from "@/core/query/spec";
import { plural, type Schema } from "@/core/schema/schema";
import { cellWriter, counted, type Locale, writeCount } from "@/core/types/format";
import type { Cell } from "@/core/types/valueType";
import { filled } from "@/ui/filled";
import { Notice } from "@/ui/Notice";
import { COMMON } from "../words";
import { useLocale } from "../workspace/locale";
import { JoinBar } from "./JoinBar";
import { WORDS } from "./words";

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
  const figures = proofColumns(plan);
  const write = proof.figure && cellWriter(proof.figure.type, {}, locale);
  const source = plan.source.table.label;
  const worked = plan.columns.filter((c) => c.figure === "formula" && c.foot && !c.hidden);
  const same = (p: ProofPick) => JSON.stringify(p) === JSON.stringify(pick);

  const line = (label: React.ReactNode, amount: Amount, to: ProofPick, style: "main" | "part" | "total" = "part", warn = false, opens = true) => {
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
            disabled={amount.rows === 0 || !opens}
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
        return [line(step.words ?? WORDS.leftOutBy(step.label), step.leftOut, { part: "leftOut", id: step.id })];
      case "groups":
        return [line(step.words ?? WORDS.groupsLeftOut(step.label), step.leftOut, { part: "leftOutGroups", id: step.id })];
      case "kept":
        return [line("kept", step.amount, { part: "kept" }, "main")];
      case "join":
        return [
          <JoinBar key={`bar ${step.id}`} step={step} />,
          line(WORDS.foundRows(step.label), step.found, { part: "found", id: step.id }),
          line(WORDS.missingRows(step.label, JOIN_WAYS[step.way].keepsNear ? "" : WORDS.leftOut), step.missing, { part: "missing", id: step.id }, "part", true),
          ...(step.added ? [line(WORDS.addedRows(step.label), step.added, { part: "added", id: step.id }, "part", true)] : []),
          ...(step.unmatched > 0
            ? [
                line(
                  WORDS.unmatchedRows(step.label),
                  { rows: step.unmatched, figure: null },
                  { part: "unmatched", id: step.id },
                  "part",
                  false,
                  opensUnmatched(plan, step.id),
                ),
              ]
            : []),
          ...(step.leadsTo === "many" ? [line(WORDS.repeatedBy(step.label), step.repeated, { part: "repeated", id: step.id }, "part", true)] : []),
        ];
      default:
        return step satisfies never;
    }
  };

  return (
    <div className={`grid gap-4 ${running ? "opacity-60" : ""}`}>
      {figures.length > 1 && (
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
      )}
      <table className="w-full text-small" data-testid="proof">
        <caption className="sr-only">{WORDS.accountOfTheRows(proof.figure ? WORDS.andFigure(proof.figure.heading) : "")}</caption>
        <thead>
          <tr className="text-tiny text-faint">
            <th className="font-normal">
              <span className="sr-only">{WORDS.step}</span>
            </th>
            <th className="pb-1 text-right font-normal">{COMMON.rows}</th>
            {write && <th className="max-w-24 truncate pb-1 text-right font-normal">{proof.figure?.heading}</th>}
          </tr>
        </thead>
        <tbody>
          {line(source, proof.source, { part: "source" }, "main")}
          {proof.steps.flatMap(stepLines)}
          {line(proof.groups === null ? WORDS.inTheSheet : WORDS.inGroups(counted(proof.groups, "group", locale)), proof.sheet, { part: "sheet" }, "total")}
        </tbody>
      </table>
      <Seal proof={proof} />
      {proof.repeats.map((repeats) => (
        <RepeatsNotice key={repeats.column} repeats={repeats} spec={spec} change={change} />
      ))}
      {plan.columns.filter(isSwayed).map((c) => (
        <Notice key={c.id} tone="look">
          {WORDS.countsRepeats(c.heading, c.home?.words ?? COMMON.rows)}
        </Notice>
      ))}
      {worked.length > 0 && (
        <Notice tone="agrees">{WORDS.workedOutAnew(worked.map((c) => c.heading).join(COMMON.and), worked.length === 1 ? "is" : "are")}</Notice>
      )}
      {plan.limit !== null && <Notice tone="look">{WORDS.firstRowsOnly(counted(plan.limit, "row", locale))}</Notice>}
      {plan.firstOf && (
        <Notice tone="look">
          {WORDS.firstOfEachOnly(
            counted(plan.firstOf.rows, "row", locale),
            listed(
              plan.columns.filter((c) => plan.firstOf?.per.includes(c.id)).map((c) => c.heading),
              locale,
            ),
          )}
        </Notice>
      )}
      {proof.steps
        .filter((s) => s.kind === "join")
        .map((step) => (
          <JoinNotices key={step.id} step={step} {...{ spec, schema, proof, source, onPick, change }} />
        ))}
    </div>
  );
}

/** Whether the rows of a joined table that nothing matches can be opened. */
const opensUnmatched = (plan: Plan, id: string): boolean => plan.joins.some((j) => j.id === id && canOpenUnmatched(j));

/** What the proof comes to: sealed only where everything agrees and no total adds the same value again and again. */
function Seal({ proof }: { proof: Proof }) {
  const locale = useLocale();
  if (!proof.agrees) return <Disagreement proof={proof} />;
  const floating = proof.totals.filter((t) => t.within > 0).map((t) => t.heading);
  const repeating = proof.repeats.filter((r) => r.counted === "every").map((r) => r.heading);
  const held = (
    <>
      {WORDS.provedBy(
        proof.groups === null ? "rows" : WORDS.rowsGroups,
        `${proof.totals.length > 0 ? WORDS.andTotals : ""}${proof.lines?.lines ? WORDS.andLines : ""}`,
        floating.length > 0 ? WORDS.floatingNumbersEqualWithinRounding(listed(floating, locale)) : "",
      )}
    </>
  );
  const open = notRecounted(proof.lines, locale);
  if (repeating.length === 0 && open !== "")
    return (
      <Notice tone="look">
        <b>{WORDS.provedInPart}</b> {held}
        {open}
      </Notice>
    );
  if (repeating.length === 0)
    return (
      <Notice tone="agrees">
        <b>{COMMON.proved}</b> {held}
      </Notice>
    );
  return (
    <Notice tone="look">
      {filled(WORDS.repeatsNote, <b>{WORDS.agreesWithRepeats}</b>, held, listed(repeating, locale), repeating.length === 1 ? "adds" : "add")}
      {open}
    </Notice>
  );
}

/** What of the sheet's lines was not recounted, and why; empty where all was. */
function notRecounted(check: LinesCheck | null, locale: Locale): string {
  if (!check?.skipped) return "";
  const what = check.headings.length > 0 ? listed(check.headings, locale) : WORDS.firstOfEach;
  return WORDS.linesNotRecounted(what, check.skipped.why === "many" ? WORDS.tooManyLines(writeCount(check.skipped.most, locale)) : WORDS.floatingOrder);
}

const listed = (words: string[], { locale }: { locale: string }): string => new Intl.ListFormat(locale, { type: "conjunction" }).format(words);

/** What the query says and what the recount says, where they differ. */
function Disagreement({ proof }: { proof: Proof }) {
  const locale = useLocale();
  const rows =
    proof.accounted.rows === proof.sheet.rows
      ? []
      : [{ what: COMMON.rowsHeading, sheet: writeCount(proof.sheet.rows, locale), recount: writeCount(proof.accounted.rows, locale) }];
  const groups =
    proof.groups === proof.accountedGroups
      ? []
      : [{ what: WORDS.groups, sheet: writeCount(proof.groups ?? 0, locale), recount: writeCount(proof.accountedGroups ?? 0, locale) }];
  const totals = proof.totals
    .filter((t) => !t.agrees)
    .map((t) => {
      const write = (cell: Cell) => cellWriter(t.type, {}, locale)(cell).text || "nothing";
      return { what: t.heading, sheet: write(t.sheet), recount: write(t.accounted) };
    });
  const lines = (proof.lines?.different ?? []).map(({ heading, line, type, sheet, recount }) => {
    const write = (cell: Cell) => cellWriter(type, {}, locale)(cell).text || "nothing";
    return { what: WORDS.line(heading, writeCount(line, locale)), sheet: write(sheet), recount: write(recount) };
  });
  return (
    <Notice tone="wrong">
      {filled(
        WORDS.theQueryAndTheRecount,
        <b>{COMMON.doesNotAgree}</b>,
        [...rows, ...groups, ...totals, ...lines].map((line) => (
          <span key={line.what} className="block">
            {WORDS.difference(line.what, line.sheet, line.recount)}
          </span>
        )),
      )}
    </Notice>
  );
}

/** Of a column whose values a link repeats: which rows its total counts, and the other way to count them. */
function RepeatsNotice({ repeats, spec, change }: Pick<ProofProps, "spec" | "change"> & { repeats: RepeatsCheck }) {
  const locale = useLocale();
  const { column, heading, type, of, rows, once, every, counted: how, groups } = repeats;
  const write = (cell: Cell) => cellWriter(type, {}, locale)(cell).text || "nothing";
  const set = (everyRow: boolean | undefined) => change(edit.changeColumn(spec, column, { everyRow }));
  const whose = rows === null ? of : `${writeCount(rows, locale)} ${of}`;
  if (how === "every")
    return (
      <Notice tone="look">
        <b>{WORDS.addsEveryRow(heading, write(every))}</b>{" "}
        {rows === null
          ? WORDS.noKeyApart(of)
          : filled(
              WORDS.onceTotal,
              whose,
              write(once),
              <span className="mt-1 flex gap-3">
                <button type="button" className="link" onClick={() => set(undefined)}>
                  {WORDS.countEachOnce}
                </button>
              </span>,
            )}
      </Notice>
    );
  const more = groups !== null && once !== null && String(groups) !== String(once) ? minus(groups, once, type.kind !== "floating") : null;
  return (
    <p className="text-small text-soft">
      {filled(
        WORDS.countedOnce,
        <b className="font-semibold text-ink">{heading}</b>,
        whose,
        more !== null && WORDS.someAreInSeveralGroups(write(groups), write(more)),
        <button type="button" className="link" onClick={() => set(true)}>
          {WORDS.addEveryRowInstead}
        </button>,
        write(every),
      )}
    </p>
  );
}

/** The same way to join with rows that find no match left out where they are kept, and kept where they are left out. */
const TURNED: Record<JoinWay, JoinWay> = { keep: "only", only: "keep", other: "both", both: "other", has: "hasNone", hasNone: "has", every: "every" };

/** By how much the followed figure would read too high, were it added row by row; null where nothing, or more than one join, repeats it. */
function tooHighBy({ figure, repeats, steps }: Proof, locale: Locale): string | null {
  const { once, every } = repeats.find((r) => r.column === figure?.column) ?? {};
  const share = once == null || every == null || Number(once) === 0 ? 0 : Number(every) / Number(once) - 1;
  const repeating = steps.filter((s) => s.kind === "join" && s.repeated.rows > 0);
  if (share <= 0 || repeating.length !== 1) return null;
  return new Intl.NumberFormat(locale.locale, { style: "percent", maximumFractionDigits: 1 }).format(share);
}

function JoinNotices({
  step,
  spec,
  schema,
  proof,
  source,
  onPick,
  change,
}: Pick<ProofProps, "spec" | "schema" | "change" | "onPick"> & { step: Extract<ProofStep, { kind: "join" }>; proof: Proof; source: string }) {
  const locale = useLocale();
  const write = proof.figure && cellWriter(proof.figure.type, {}, locale);
  const amount = (a: Amount) => (write && a.figure !== null ? write(a.figure).text : null);
  const name = step.label;
  const from = spec.joins.find((own) => own.id === step.id)?.from;
  const before = proof.steps.find((s) => s.kind === "join" && s.id === from);
  // What the table before already lacked is told there.
  const told = before?.kind === "join" && before.missing.rows === step.missing.rows;
  const missing = amount(step.missing);
  const tooHigh = step.repeated.rows > 0 ? tooHighBy(proof, locale) : null;
  const totalled = step.repeated.rows > 0 ? totalFirst(spec, schema, step.id) : null;
  return (
    <>
      {step.missing.rows > 0 && !told && (
        <Notice tone="look">
          <b>{WORDS.rowsWithout(counted(step.missing.rows, source, locale, plural(source)), step.missing.rows === 1 ? "has" : "have", name)}</b>{" "}
          {JOIN_WAYS[step.way].keepsNear
            ? WORDS.keptWithEmptyColumns(name, missing ? WORDS.anExactMatchWouldLeave(missing) : "")
            : WORDS.leftOutMissing(missing ? WORDS.andWithThem(missing) : "")}
          <span className="mt-1 flex gap-3">
            <button type="button" className="link" onClick={() => onPick({ part: "missing", id: step.id })}>
              {WORDS.seeThe(writeCount(step.missing.rows, locale))}
            </button>
            <button type="button" className="link" onClick={() => change(setWay(spec, step.id, TURNED[step.way]))}>
              {JOIN_WAYS[step.way].keepsNear ? WORDS.leaveThemOut : WORDS.keepThem}
            </button>
          </span>
        </Notice>
      )}
      {step.repeated.rows > 0 && (
        <Notice tone="look">
          {filled(
            WORDS.repeatsRows,
            <b>{WORDS.joinRepeats(step.label)}</b>,
            counted(step.often, source, locale, plural(source)),
            writeCount(step.found.rows + step.missing.rows, locale),
            writeCount(step.times, locale),
            counted(step.repeated.rows, "row", locale),
            tooHigh && WORDS.wouldReadTooHigh(proof.figure?.heading ?? "", tooHigh),
            <span className="mt-1 flex flex-wrap gap-3">
              <button type="button" className="link" onClick={() => onPick({ part: "repeated", id: step.id })}>
                {COMMON.seeTheRows}
              </button>
              {totalled && (
                <button type="button" className="link" onClick={() => change(totalled)}>
                  {WORDS.totalFirst(name)}
                </button>
              )}
              {spec.joins.some((j) => j.id === step.id && isLinked(j)) && (
                <button type="button" className="link" onClick={() => change(setWay(spec, step.id, "has"))}>
                  {WORDS.keepWhetherThereIsOne}
                </button>
              )}
              <button type="button" className="link" onClick={() => change(edit.removeJoin(spec, step.id))}>
                {COMMON.removeNamed(name)}
              </button>
            </span>,
          )}
        </Notice>
      )}
    </>
  );
}
