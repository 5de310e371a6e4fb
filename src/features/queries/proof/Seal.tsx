import type { Proof } from "@/core/proof/proof";
import { heldWords, notRecountedWords, repeatingTotals, VERDICT_WORDS, verdictOf } from "@/core/proof/verdict";
import { listed, writeCount } from "@/core/types/format";
import { filled } from "@/ui/filled";
import { Notice } from "@/ui/Notice";
import { COMMON } from "../../words";
import { useLocale } from "../../workspace/locale";
import { WORDS } from "../words";
import { saidValue } from "./saidValue";

/** What the proof comes to: sealed only where everything agrees and no total adds the same value again and again. */
export function Seal({ proof }: { proof: Proof }) {
  const locale = useLocale();
  const verdict = verdictOf(proof);
  if (verdict === "differs") return <Disagreement proof={proof} />;
  const held = heldWords(proof, locale);
  const open = notRecountedWords(proof.lines, locale);
  const repeating = repeatingTotals(proof);
  return (
    <Notice tone={verdict === "proved" ? "agrees" : "look"}>
      {verdict === "repeats" ? (
        filled(WORDS.repeatsNote, <b>{VERDICT_WORDS.repeats}</b>, held, listed(repeating, locale), repeating.length === 1 ? "adds" : "add")
      ) : (
        <>
          <b>{verdict === "proved" ? COMMON.proved : VERDICT_WORDS[verdict]}</b> {held}
        </>
      )}
      {open}
    </Notice>
  );
}

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
      const write = saidValue(t.type, locale);
      return { what: t.heading, sheet: write(t.sheet), recount: write(t.accounted) };
    });
  const lines = (proof.lines?.different ?? []).map(({ heading, line, type, sheet, recount }) => {
    const write = saidValue(type, locale);
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
