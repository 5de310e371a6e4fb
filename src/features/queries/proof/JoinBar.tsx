import type { ProofStep } from "@/core/proof/account";
import { writeCount } from "@/core/types/format";
import { useLocale } from "../../workspace/locale";
import { WORDS } from "../words";

/** How each part is drawn: told apart by its pattern, not by its colour alone. */
const LOOKS = {
  missing: "bg-[repeating-linear-gradient(45deg,var(--color-ochre)_0_2px,transparent_2px_5px)] border border-ochre",
  matched: "bg-bottle border border-bottle",
  repeated: "bg-[repeating-linear-gradient(90deg,var(--color-bottle)_0_2px,transparent_2px_4px)] border border-bottle",
  unmatched: "border border-dashed border-faint",
} as const;

/** What a join matched and did not, on either side, and what it repeated, as parts of one bar; the lines beneath give the numbers. */
export function JoinBar({ step }: { step: Extract<ProofStep, { kind: "join" }> }) {
  const locale = useLocale();
  const there = step.added?.rows ?? step.unmatched;
  const parts = [
    { look: LOOKS.missing, rows: step.missing.rows, words: WORDS.barMissing },
    { look: LOOKS.matched, rows: step.found.rows, words: WORDS.barMatched },
    { look: LOOKS.repeated, rows: step.repeated.rows, words: WORDS.barRepeated },
    { look: LOOKS.unmatched, rows: there, words: WORDS.barUnmatched },
  ].filter((p) => p.rows > 0);
  const said = parts.map((p) => `${writeCount(p.rows, locale)} ${p.words}`).join(", ");
  return (
    <tr className="border-t border-hairline">
      <td colSpan={3} className="pt-2 pb-0.5 pl-3">
        <span role="img" aria-label={said} title={said} className="flex h-2 gap-px">
          {parts.map((p) => (
            <span key={p.words} className={`min-w-1 rounded-[1px] ${p.look}`} style={{ flexGrow: p.rows, flexBasis: 0 }} />
          ))}
        </span>
      </td>
    </tr>
  );
}
