import { useMemo, useState } from "react";
import { isProblem } from "@/core/expression/check";
import type { QuerySpec } from "@/core/query/spec";
import { type FormulaOver, formulaNames, formulaProblem, formulaType } from "@/core/query/writtenFormula";
import type { Schema } from "@/core/schema/schema";
import { sentence } from "@/core/types/problem";
import { TYPE_WORDS } from "@/core/types/valueType";
import { COMMON } from "../words";
import { FormulaField } from "./FormulaField";

type Props = { spec: QuerySpec; schema: Schema; over?: FormulaOver };
type Written = { text: string; onChange: (next: string) => void; focused?: boolean };

/** What a formula may name, and what it comes to as it is written. */
function useWritten({ spec, schema, over = "rows" }: Props, text: string) {
  const names = useMemo(() => formulaNames(spec, schema, over).map(({ name, written, type }) => ({ formulaName: name, written, type })), [spec, schema, over]);
  const found = useMemo(() => formulaType(spec, schema, text, over), [spec, schema, text, over]);
  return { names, found, over };
}

/** The field of a formula: names are offered, and what it comes to, or what is wrong with it, is said below. */
function WrittenField({ names, found, over, ...written }: ReturnType<typeof useWritten> & Written) {
  const problem = formulaProblem(found);
  const help = over === "figures" ? COMMON.figureFormulaHelp : COMMON.formulaHelp;
  const note = problem ? (
    <span className="text-vermilion">{sentence(problem)}</span>
  ) : found && !isProblem(found) ? (
    COMMON.comesTo(TYPE_WORDS[found.kind])
  ) : (
    help
  );
  return <FormulaField {...written} fields={names} problem={problem} note={note} figures={over === "figures"} />;
}

/** A formula of a query, changed as it is typed. */
export function FormulaInput({ text, onChange, ...props }: Props & Written) {
  return <WrittenField {...useWritten(props, text)} text={text} onChange={onChange} />;
}

/** A formula while it is written for the first time. */
export function NewFormula({ add, ...props }: Props & { add: (text: string) => void }) {
  const [formula, setFormula] = useState("");
  const written = useWritten(props, formula);
  return (
    <div className="grid gap-2 pt-2">
      <WrittenField {...written} text={formula} onChange={setFormula} focused />
      <button
        type="button"
        className="button-primary justify-self-start"
        disabled={formula.trim() === "" || formulaProblem(written.found) !== null}
        onClick={() => add(formula)}
      >
        {COMMON.add}
      </button>
    </div>
  );
}
