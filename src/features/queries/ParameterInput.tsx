import { defaultText, PARAMETER_TYPES } from "@/core/query/operands";
import type { Parameter, ParameterValues } from "@/core/query/spec";
import type { Today } from "@/core/types/calendar";
import { ValueInput } from "../editors/ValueInput";

type Props = { parameter: Parameter; values: ParameterValues; today: Today; setValues: (next: ParameterValues) => void };

/** The value of a parameter, typed or chosen; its default stands there until one is given. */
export function ParameterInput({ parameter, values, today, setValues }: Props) {
  const { name, type, choices } = parameter;
  const usual = defaultText(parameter, today);
  const set = (text: string) => setValues({ ...values, [name]: text });
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
