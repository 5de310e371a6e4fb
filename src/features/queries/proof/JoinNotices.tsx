import type { Amount, ProofStep } from "@/core/proof/account";
import type { Proof, ProofPick } from "@/core/proof/proof";
import type { JoinWay } from "@/core/query/choices";
import { removeJoin } from "@/core/query/edit";
import { setWay } from "@/core/query/editJoins";
import { isLinked, JOIN_WAYS } from "@/core/query/joinWays";
import { totalFirst } from "@/core/query/related";
import type { QuerySpec } from "@/core/query/spec";
import { plural, type Schema } from "@/core/schema/schema";
import { cellWriter, counted, type Locale, writeCount } from "@/core/types/format";
import { filled } from "@/ui/filled";
import { Notice } from "@/ui/Notice";
import { COMMON } from "../../words";
import { useLocale } from "../../workspace/locale";
import { WORDS } from "../words";

/** The same way to join with rows that find no match left out where they are kept, and kept where they are left out. */
const TURNED: Record<JoinWay, JoinWay> = { keep: "only", only: "keep", other: "both", both: "other", has: "hasNone", hasNone: "has", every: "every" };

type JoinProps = {
  step: Extract<ProofStep, { kind: "join" }>;
  spec: QuerySpec;
  schema: Schema;
  proof: Proof;
  /** The name of the table the query starts from. */
  source: string;
  onPick: (pick: ProofPick | undefined) => void;
  change: (next: QuerySpec) => void;
};

/** What a join left without a match or repeated, each with its remedies. */
export function JoinNotices(props: JoinProps) {
  const { step, spec, proof } = props;
  const from = spec.joins.find((own) => own.id === step.id)?.from;
  const before = proof.steps.find((s) => s.kind === "join" && s.id === from);
  // What the table before already lacked is told there.
  const told = before?.kind === "join" && before.missing.rows === step.missing.rows;
  return (
    <>
      {step.missing.rows > 0 && !told && <MissingNotice {...props} />}
      {step.repeated.rows > 0 && <RepeatingNotice {...props} />}
    </>
  );
}

function MissingNotice({ step, spec, proof: { figure }, source, onPick, change }: JoinProps) {
  const locale = useLocale();
  const written = (a: Amount) => (figure && a.figure !== null ? cellWriter(figure.type, {}, locale)(a.figure).text : null);
  const name = step.label;
  const missing = written(step.missing);
  const { keepsNear } = JOIN_WAYS[step.way];
  return (
    <Notice tone="look">
      <b>{WORDS.rowsWithout(counted(step.missing.rows, source, locale, plural(source)), step.missing.rows === 1 ? "has" : "have", name)}</b>{" "}
      {keepsNear
        ? WORDS.keptWithEmptyColumns(name, missing ? WORDS.anExactMatchWouldLeave(missing) : "")
        : WORDS.leftOutMissing(missing ? WORDS.andWithThem(missing) : "")}
      <span className="mt-1 flex gap-3">
        <button type="button" className="link" onClick={() => onPick({ part: "missing", id: step.id })}>
          {WORDS.seeThe(writeCount(step.missing.rows, locale))}
        </button>
        <button type="button" className="link" onClick={() => change(setWay(spec, step.id, TURNED[step.way]))}>
          {keepsNear ? WORDS.leaveThemOut : WORDS.keepThem}
        </button>
      </span>
    </Notice>
  );
}

function RepeatingNotice({ step, spec, schema, proof, source, onPick, change }: JoinProps) {
  const locale = useLocale();
  const tooHigh = tooHighBy(proof, locale);
  const totalled = totalFirst(spec, schema, step.id);
  return (
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
              {WORDS.totalFirst(step.label)}
            </button>
          )}
          {spec.joins.some((j) => j.id === step.id && isLinked(j)) && (
            <button type="button" className="link" onClick={() => change(setWay(spec, step.id, "has"))}>
              {WORDS.keepWhetherThereIsOne}
            </button>
          )}
          <button type="button" className="link" onClick={() => change(removeJoin(spec, step.id))}>
            {COMMON.removeNamed(step.label)}
          </button>
        </span>,
      )}
    </Notice>
  );
}

/** By how much the followed figure would read too high, were it added row by row; null where nothing, or more than one join, repeats it. */
function tooHighBy({ figure, repeats, steps }: Proof, locale: Locale): string | null {
  const { once, every } = repeats.find((r) => r.column === figure?.column) ?? {};
  const share = once == null || every == null || Number(once) === 0 ? 0 : Number(every) / Number(once) - 1;
  const repeating = steps.filter((s) => s.kind === "join" && s.repeated.rows > 0);
  if (share <= 0 || repeating.length !== 1) return null;
  return new Intl.NumberFormat(locale.locale, { style: "percent", maximumFractionDigits: 1 }).format(share);
}
