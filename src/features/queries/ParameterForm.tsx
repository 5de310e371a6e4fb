import { isAsked } from "@/core/query/editParameters";
import type { PlanParameter } from "@/core/query/plan";
import type { ParameterValues, QuerySpec } from "@/core/query/spec";
import type { Today } from "@/core/types/calendar";
import { AskedInput, ParameterInput } from "./ParameterInput";
import { WORDS } from "./words";

type Props = { spec: QuerySpec; values: ParameterValues; today: Today; setValues: (next: ParameterValues) => void; asked: PlanParameter[] };

/** What a query asks for, above its sheet: its own parameters, and those of what it is made of. */
export function ParameterForm({ spec, values, today, setValues, asked }: Props) {
  const used = spec.parameters.filter((p) => isAsked(spec, p.name));
  if (used.length + asked.length === 0) return null;
  return (
    <form aria-label={WORDS.parametersAsked} onSubmit={(e) => e.preventDefault()} className="flex flex-wrap gap-x-4 gap-y-2 text-small">
      {used.map((parameter) => (
        <div key={parameter.name} className="flex items-center gap-2">
          <span className="text-ochre">{parameter.name}</span>
          <span className={parameter.type === "period" ? "" : "w-36"}>
            <ParameterInput spec={spec} parameter={parameter} values={values} today={today} setValues={setValues} />
          </span>
        </div>
      ))}
      {asked.map((p) => (
        <div key={p.name} className="flex items-center gap-2">
          <span className="text-ochre">{p.name}</span>
          <span className={p.period ? "" : "w-36"}>
            <AskedInput asked={p} values={values} setValues={setValues} />
          </span>
        </div>
      ))}
    </form>
  );
}
