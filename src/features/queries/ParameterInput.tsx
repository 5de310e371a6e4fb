"use client";

import { pickedFor } from "@/core/query/fromCell";
import { defaultText, linesOf, PARAMETER_TYPES } from "@/core/query/parameters";
import type { PlanParameter } from "@/core/query/plan";
import type { Condition, Parameter, ParameterValues, QuerySpec } from "@/core/query/spec";
import type { Today } from "@/core/types/calendar";
import type { ValueType } from "@/core/types/valueType";
import { BriefPopover } from "@/ui/Brief";
import { RowInput } from "../editors/RowInput";
import { ValueInput } from "../editors/ValueInput";
import { useAnswer } from "../useAnswer";
import { OccurringValues } from "./editors/ValueChoices";
import { WORDS } from "./words";

type Props = {
  /** Whose parameter it is. */ spec: QuerySpec;
  parameter: Parameter;
  values: ParameterValues;
  today: Today;
  setValues: (next: ParameterValues) => void;
};

/** What there is to choose for a parameter: its fixed list, or the values of a column as they are now. */
function useChoices({ name, from, choices = [] }: Parameter, values: ParameterValues): string[] {
  const { [name]: _, ...others } = values;
  // What cannot be read, as while another parameter is missing, offers nothing yet.
  const { answer } = useAnswer<string[]>("/api/query/choices", from ? { ...from, values: others } : null, { settleMs: 0 });
  return from ? (answer ?? []) : choices;
}

/** A value that something the query is made of asks for: a derived field, or a query it reads. */
export function AskedInput({ asked, values, setValues }: { asked: PlanParameter } & Pick<Props, "values" | "setValues">) {
  const { name, type, period = false, text } = asked;
  const set = (value: string) => setValues({ ...values, [name]: value });
  return <ValueInput type={type} period={period} label={name} value={values[name] || (text ?? "")} onChange={set} />;
}

/** The value of a parameter, typed or chosen; its default stands there until one is given. */
export function ParameterInput({ spec, parameter, values, today, setValues }: Props) {
  const { name, type } = parameter;
  const bySearch = type === "choice" && parameter.from?.shown !== undefined;
  const choices = useChoices(bySearch ? { name, type } : parameter, values);
  const usual = defaultText(parameter, today);
  const set = (text: string) => setValues({ ...values, [name]: text });
  const condition = choices.length === 0 && !parameter.from ? pickedFor(spec, name) : undefined;
  if (condition && (type === "several" || type === "text" || type === "whole"))
    return (
      <OccurringInput
        {...{ spec, values, condition, name, set }}
        text={values[name] || (usual ?? "")}
        several={type === "several"}
        type={PARAMETER_TYPES[type]}
      />
    );
  if (type === "several") return <SeveralInput name={name} choices={choices} text={values[name] || (usual ?? "")} set={set} />;
  if (type !== "choice")
    return <ValueInput type={PARAMETER_TYPES[type]} period={type === "period"} label={name} value={values[name] || (usual ?? "")} onChange={set} />;
  const chosen = values[name] ?? "";
  if (bySearch && parameter.from) return <RowInput name={name} from={parameter.from} values={values} value={chosen || (usual ?? "")} set={set} />;
  return (
    <select className="field" aria-label={name} value={chosen} onChange={(e) => set(e.target.value)}>
      <option value="">{usual ?? (parameter.optional ? WORDS.anyValue : "–")}</option>
      {chosen !== "" && !choices.includes(chosen) && <option>{chosen}</option>}
      {choices.map((c) => (
        <option key={c}>{c}</option>
      ))}
    </select>
  );
}

type OccurringProps = {
  spec: QuerySpec;
  values: ParameterValues;
  /** What the value is compared by. */
  condition: Condition;
  name: string;
  text: string;
  set: (text: string) => void;
  several: boolean;
  type: ValueType;
};

/** A value, or several, picked from those that occur in the field it is compared with; or typed. */
function OccurringInput({ spec, values, condition, name, text, set, several, type }: OccurringProps) {
  const chosen = linesOf(text);
  const { [name]: _, ...others } = values;
  const occurring = (toggle: (value: string) => void) => <OccurringValues {...{ spec, condition, chosen, toggle }} values={others} first />;
  if (several)
    return (
      <BriefPopover label={chosen.length > 0 ? chosen.join(", ") : WORDS.chooseValues} name={name} className="field truncate text-left">
        {() => (
          <>
            {occurring((value) => set((chosen.includes(value) ? chosen.filter((c) => c !== value) : [...chosen, value]).join("\n")))}
            <p className="caption pt-3 pb-1">{WORDS.valuesOnePerLine}</p>
            <textarea className="field h-16" aria-label={WORDS.valuesOnePerLine} value={text} onChange={(e) => set(e.target.value)} />
          </>
        )}
      </BriefPopover>
    );
  return (
    <span className="flex items-center gap-1">
      <ValueInput type={type} label={name} value={text} onChange={set} />
      <BriefPopover label="▾" name={WORDS.valuesFor(name)} className="small-button">
        {(close) =>
          occurring((value) => {
            set(chosen.includes(value) ? "" : value);
            close();
          })
        }
      </BriefPopover>
    </span>
  );
}

/** Several values: ticked in a list, or where there is none typed, a line each. */
function SeveralInput({ name, choices, text, set }: { name: string; choices: string[]; text: string; set: (text: string) => void }) {
  const chosen = linesOf(text);
  if (choices.length === 0)
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
