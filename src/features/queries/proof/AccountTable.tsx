import type { Amount, ProofStep } from "@/core/proof/account";
import type { Proof, ProofPick } from "@/core/proof/proof";
import { canOpenUnmatched } from "@/core/proof/unmatched";
import { JOIN_WAYS } from "@/core/query/joinWays";
import type { Plan } from "@/core/query/plan";
import { cellWriter, counted, writeCount } from "@/core/types/format";
import { COMMON } from "../../words";
import { useLocale } from "../../workspace/locale";
import { ISSUE } from "../useNextIssue";
import { WORDS } from "../words";
import { JoinBar } from "./JoinBar";

const LINE_LOOKS = {
  main: "border-t border-ink",
  part: "text-soft",
  total: "border-t border-b-[3px] border-ink font-semibold [border-bottom-style:double]",
} as const;

type Line = { label: string; amount: Amount; to: ProofPick; look?: keyof typeof LINE_LOOKS; warn?: boolean; opens?: boolean };

/** What came in, what each step did, and what is shown: by rows and by the followed figure. */
export function AccountTable({
  plan,
  proof,
  pick,
  onPick,
}: {
  plan: Plan;
  proof: Proof;
  pick: ProofPick | undefined;
  onPick: (pick: ProofPick | undefined) => void;
}) {
  const locale = useLocale();
  const shown = { figure: proof.figure, pick, onPick };
  const sheet = proof.groups === null ? WORDS.inTheSheet : WORDS.inGroups(counted(proof.groups, "group", locale));
  return (
    <table className="w-full text-small" data-testid="proof">
      <caption className="sr-only">{WORDS.accountOfTheRows(proof.figure ? WORDS.andFigure(proof.figure.heading) : "")}</caption>
      <thead>
        <tr className="text-tiny text-faint">
          <th className="font-normal">
            <span className="sr-only">{WORDS.step}</span>
          </th>
          <th className="pb-1 text-right font-normal">{COMMON.rows}</th>
          {proof.figure && <th className="max-w-24 truncate pb-1 text-right font-normal">{proof.figure.heading}</th>}
        </tr>
      </thead>
      <tbody>
        <AccountLine line={{ label: plan.source.table.label, amount: proof.source, to: { part: "source" }, look: "main" }} {...shown} />
        {proof.steps.flatMap((step) => [
          ...(step.kind === "join" ? [<JoinBar key={`bar ${step.id}`} step={step} />] : []),
          ...stepLines(step, plan).map((line) => <AccountLine key={JSON.stringify(line.to)} line={line} {...shown} />),
        ])}
        <AccountLine line={{ label: sheet, amount: proof.sheet, to: { part: "sheet" }, look: "total" }} {...shown} />
      </tbody>
    </table>
  );
}

/** What one step did, a line for each part its rows fell into. */
function stepLines(step: ProofStep, plan: Plan): Line[] {
  switch (step.kind) {
    case "condition":
      return [{ label: step.words ?? WORDS.leftOutBy(step.label), amount: step.leftOut, to: { part: "leftOut", id: step.id } }];
    case "groups":
      return [{ label: step.words ?? WORDS.groupsLeftOut(step.label), amount: step.leftOut, to: { part: "leftOutGroups", id: step.id } }];
    case "kept":
      return [{ label: WORDS.kept, amount: step.amount, to: { part: "kept" }, look: "main" }];
    case "join":
      return joinLines(step, plan);
    default:
      return step satisfies never;
  }
}

function joinLines(step: Extract<ProofStep, { kind: "join" }>, plan: Plan): Line[] {
  const { id, label } = step;
  const opens = plan.joins.some((join) => join.id === id && canOpenUnmatched(join));
  return [
    { label: WORDS.foundRows(label), amount: step.found, to: { part: "found", id } },
    { label: WORDS.missingRows(label, JOIN_WAYS[step.way].keepsNear ? "" : WORDS.leftOut), amount: step.missing, to: { part: "missing", id }, warn: true },
    ...(step.added ? [{ label: WORDS.addedRows(label), amount: step.added, to: { part: "added", id } as const, warn: true }] : []),
    ...(step.unmatched > 0
      ? [{ label: WORDS.unmatchedRows(label), amount: { rows: step.unmatched, figure: null }, to: { part: "unmatched", id } as const, opens }]
      : []),
    ...(step.leadsTo === "many" ? [{ label: WORDS.repeatedBy(label), amount: step.repeated, to: { part: "repeated", id } as const, warn: true }] : []),
  ];
}

/** One line of the account; its number of rows opens them, and closes them again. */
function AccountLine({
  line: { label, amount, to, look = "part", warn = false, opens = true },
  figure,
  pick,
  onPick,
}: {
  line: Line;
  figure: Proof["figure"];
  pick: ProofPick | undefined;
  onPick: (pick: ProofPick | undefined) => void;
}) {
  const locale = useLocale();
  const written = figure && cellWriter(figure.type, {}, locale)(amount.figure);
  const picked = JSON.stringify(to) === JSON.stringify(pick);
  const labelLook = { main: "", part: "pl-3", total: "font-semibold" }[look];
  return (
    <tr className={LINE_LOOKS[look]}>
      <th scope="row" className={`py-1 text-left font-normal ${labelLook}`}>
        {label}
      </th>
      <td className="py-1 pl-1 text-right align-top">
        <button
          type="button"
          disabled={amount.rows === 0 || !opens}
          aria-pressed={picked}
          {...(warn && amount.rows > 0 && opens ? ISSUE : {})}
          onClick={() => onPick(picked ? undefined : to)}
          className={`rounded px-0.5 enabled:underline enabled:decoration-dotted enabled:underline-offset-4 enabled:hover:bg-bottle-tint aria-pressed:bg-bottle-tint ${warn && amount.rows > 0 ? "font-semibold text-ochre" : ""}`}
        >
          {writeCount(amount.rows, locale)}
        </button>
      </td>
      {written && <td className={`py-1 pl-1 text-right align-top ${written.negative ? "text-vermilion" : ""}`}>{written.text || "–"}</td>}
    </tr>
  );
}
