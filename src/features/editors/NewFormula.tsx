import { useMemo, useState } from "react";
import { isProblem } from "@/core/expression/check";
import { resolveQuery } from "@/core/query/resolve";
import type { QuerySpec } from "@/core/query/spec";
import { FIRST_VALUES, type FormulaOver, firstValues, formulaNames, formulaProblem, formulaType } from "@/core/query/writtenFormula";
import type { Schema } from "@/core/schema/schema";
import { usualDay } from "@/core/types/calendar";
import { cellWriter } from "@/core/types/format";
import { sentence } from "@/core/types/problem";
import { type Cell, TYPE_WORDS, type ValueType } from "@/core/types/valueType";
import { useAnswer } from "../useAnswer";
import { COMMON } from "../words";
import { useLocale } from "../workspace/locale";
import { FormulaField } from "./FormulaField";

type Props = { spec: QuerySpec; schema: Schema; over?: FormulaOver };
type Written = { text: string; onChange: (next: string) => void; focused?: boolean };

/** What a formula may name, and what it comes to as it is written. */
function useWritten({ spec, schema, over = "rows" }: Props, text: string) {
  const names = useMemo(() => formulaNames(spec, schema, over).map(({ name, written, type }) => ({ formulaName: name, written, type })), [spec, schema, over]);
  const found = useMemo(() => formulaType(spec, schema, text, over), [spec, schema, text, over]);
  return { names, found, over, spec, schema };
}

/** The field of a formula: names are offered, and what it comes to, or what is wrong with it, is said below. */
function WrittenField({ names, found, over, spec, schema, ...written }: ReturnType<typeof useWritten> & Written) {
  const problem = formulaProblem(found);
  const help = over === "figures" ? COMMON.figureFormulaHelp : COMMON.formulaHelp;
  const note = problem ? (
    <span className="text-vermilion">{sentence(problem)}</span>
  ) : found && !isProblem(found) ? (
    COMMON.comesTo(TYPE_WORDS[found.kind])
  ) : (
    help
  );
  const type = found && !isProblem(found) ? found : null;
  return (
    <>
      <FormulaField {...written} fields={names} problem={problem} note={note} figures={over === "figures"} />
      <FirstValues asked={type && firstValues(spec, written.text, over)} schema={schema} type={type ?? { kind: "text" }} />
    </>
  );
}

/** What a formula comes to in the first rows, or groups, once it can be read. Its line is kept, so that nothing below it moves when that comes. */
function FirstValues({ asked, schema, type }: { asked: QuerySpec | null; schema: Schema; type: ValueType }) {
  const locale = useLocale();
  const plan = asked && resolveQuery(asked, schema, { today: usualDay("2000-01-01"), values: {} });
  const { answer } = useAnswer<Cell[][]>("/api/query/rows", plan?.ok ? { spec: asked, values: {}, offset: 0, rows: FIRST_VALUES } : null);
  const write = cellWriter(type, {}, locale);
  const words =
    plan?.ok && answer && answer.length > 0 ? COMMON.firstValues(answer.map((row) => write(row.at(-1) ?? null).text || COMMON.emptyValue).join(" · ")) : "";
  return <p className="min-h-5 truncate text-small text-soft">{words}</p>;
}

/** A formula of a query, changed as it is typed. */
export function FormulaInput({ text, onChange, ...props }: Props & Written) {
  return <WrittenField {...useWritten(props, text)} text={text} onChange={onChange} />;
}

/** A formula while it is written for the first time. */
export function NewFormula({ add, start = "", ...props }: Props & { add: (text: string) => void; start?: string }) {
  const [formula, setFormula] = useState(start);
  const written = useWritten(props, formula);
  return (
    <div className="grid w-full gap-2 pt-2">
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
