import { type AccountLine, sheetLine, sourceLine, stepLines } from "@/core/proof/accountLines";
import type { Proof, ProofPick } from "@/core/proof/proof";
import type { Plan } from "@/core/query/plan";
import { cellWriter, writeCount } from "@/core/types/format";
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
        <AccountRow line={sourceLine(plan, proof)} {...shown} />
        {proof.steps.flatMap((step) => [
          ...(step.kind === "join" ? [<JoinBar key={`bar ${step.id}`} step={step} />] : []),
          ...stepLines(step, plan).map((line) => <AccountRow key={JSON.stringify(line.to)} line={line} {...shown} />),
        ])}
        <AccountRow line={sheetLine(proof, locale)} {...shown} />
      </tbody>
    </table>
  );
}

/** One line of the account; its number of rows opens them, and closes them again. */
function AccountRow({
  line: { label, amount, to, look, warn = false, opens = true },
  figure,
  pick,
  onPick,
}: {
  line: AccountLine;
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
