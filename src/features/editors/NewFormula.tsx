import { useState } from "react";
import { COMMON } from "../words";

export function FormulaInput({ value, onChange }: { value: string; onChange: (next: string) => void }) {
  return (
    <label className="grid gap-0.5 text-small">
      {COMMON.formula}
      <textarea className="field h-20 font-mono text-small" spellCheck={false} value={value} onChange={(e) => onChange(e.target.value)} />
    </label>
  );
}

/** A formula while it is written for the first time. */
export function NewFormula({ help, add }: { help: string; add: (text: string) => void }) {
  const [formula, setFormula] = useState("");
  return (
    <div className="grid gap-2 pt-2">
      <FormulaInput value={formula} onChange={setFormula} />
      <p className="text-small text-soft">{help}</p>
      <button type="button" className="button-primary justify-self-start" disabled={formula.trim() === ""} onClick={() => add(formula)}>
        {COMMON.add}
      </button>
    </div>
  );
}
