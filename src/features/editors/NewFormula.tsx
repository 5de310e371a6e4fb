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

/** A formula of a query: what it may name is offered, and what it comes to, or what is wrong with it, is said while it is written. */
export function FormulaInput({
  spec,
  schema,
  over = "rows",
  text,
  onChange,
  focused = false,
}: Props & { text: string; onChange: (next: string) => void; focused?: boolean }) {
  const names = useMemo(() => formulaNames(spec, schema, over).map(({ name, written, type }) => ({ formulaName: name, written, type })), [spec, schema, over]);
  const found = useMemo(() => formulaType(spec, schema, text, over), [spec, schema, text, over]);
  const problem = formulaProblem(found);
  const help = over === "figures" ? COMMON.figureFormulaHelp : COMMON.formulaHelp;
  const note = problem ? (
    <span className="text-vermilion">{sentence(problem)}</span>
  ) : found && !isProblem(found) ? (
    COMMON.comesTo(TYPE_WORDS[found.kind])
  ) : (
    help
  );
  return <FormulaField text={text} fields={names} problem={problem} onChange={onChange} note={note} focused={focused} figures={over === "figures"} />;
}

/** A formula while it is written for the first time. */
export function NewFormula({ add, ...props }: Props & { add: (text: string) => void }) {
  const [formula, setFormula] = useState("");
  const { spec, schema, over = "rows" } = props;
  const found = formulaType(spec, schema, formula, over);
  return (
    <div className="grid gap-2 pt-2">
      <FormulaInput {...props} text={formula} onChange={setFormula} focused />
      <button type="button" className="button-primary justify-self-start" disabled={found === null || isProblem(found)} onClick={() => add(formula)}>
        {COMMON.add}
      </button>
    </div>
  );
}
