import type { LinesCheck } from "@/core/proof/lines";
import type { Proof } from "@/core/proof/proof";
import { type Locale, writeCount } from "@/core/types/format";
import { filled } from "@/ui/filled";
import { Notice } from "@/ui/Notice";
import { listed } from "../../listed";
import { COMMON } from "../../words";
import { useLocale } from "../../workspace/locale";
import { WORDS } from "../words";
import { saidValue } from "./saidValue";

/** What the proof comes to: sealed only where everything agrees and no total adds the same value again and again. */
export function Seal({ proof }: { proof: Proof }) {
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
