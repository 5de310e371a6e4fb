import { defaultText, linesOf, PARAMETER_TYPES } from "@/core/query/parameters";
import type { Parameter, ParameterValues } from "@/core/query/spec";
import type { Today } from "@/core/types/calendar";
import { ValueInput } from "../editors/ValueInput";
import { WORDS } from "./words";

type Props = { parameter: Parameter; values: ParameterValues; today: Today; setValues: (next: ParameterValues) => void };

/** The value of a parameter, typed or chosen; its default stands there until one is given. */
export function ParameterInput({ parameter, values, today, setValues }: Props) {
  const { name, type, choices } = parameter;
  const usual = defaultText(parameter, today);
  const set = (text: string) => setValues({ ...values, [name]: text });
  if (type === "several") return <SeveralInput parameter={parameter} text={values[name] || (usual ?? "")} set={set} />;
  if (type !== "choice") return <ValueInput type={PARAMETER_TYPES[type]} label={name} value={values[name] || (usual ?? "")} onChange={set} />;
  return (
    <select className="field" aria-label={name} value={values[name] ?? ""} onChange={(e) => set(e.target.value)}>
      <option value="">{usual ?? "–"}</option>
      {choices?.map((c) => (
        <option key={c}>{c}</option>
      ))}
    </select>
  );
}

/** Several values: ticked in a list, or where there is none typed, a line each. */
function SeveralInput({ parameter: { name, choices }, text, set }: { parameter: Parameter; text: string; set: (text: string) => void }) {
  const chosen = linesOf(text);
  if (!choices?.length)
    return <textarea className="field h-16" aria-label={name} title={WORDS.valuesOnePerLine} value={text} onChange={(e) => set(e.target.value)} />;
  const toggle = (choice: string) => set(choices.filter((c) => chosen.includes(c) !== (c === choice)).join("\n"));
  return (
    <fieldset className="grid max-h-32 gap-0.5 overflow-auto px-1" aria-label={name}>
      {choices.map((choice) => (
        <label key={choice} className="flex items-center gap-2">
          <input type="checkbox" className="accent-bottle" checked={chosen.includes(choice)} onChange={() => toggle(choice)} />
          {choice}
        </label>
      ))}
    </fieldset>
  );
}
