"use client";

import type { PlanParameter } from "@/core/query/plan";
import { COMMON } from "../words";
import { ValueInput } from "./ValueInput";

type Props = { parameters: PlanParameter[]; bound: Record<string, string>; change: (next: Record<string, string>) => void };

/** The parameters of a query as a saved object binds them; what is not bound keeps the query's default. */
export function BoundParameters({ parameters, bound, change }: Props) {
  if (parameters.length === 0) return null;
  return (
    <section className="grid gap-1">
      <h3 className="caption pb-1">{COMMON.parameters}</h3>
      {parameters.map((p) => (
        <label key={p.name} className="flex items-center justify-between gap-3 border-b border-hairline py-1">
          <span className="text-ochre">{p.name}</span>
          <span className="w-32 shrink-0">
            <ValueInput
              type={p.type}
              period={p.period ?? false}
              label={p.name}
              value={bound[p.name] ?? p.text ?? ""}
              onChange={(v) => change({ ...bound, [p.name]: v })}
            />
          </span>
        </label>
      ))}
      {Object.keys(bound).length > 0 && (
        <button type="button" className="link justify-self-start" onClick={() => change({})}>
          {COMMON.resetToQuery}
        </button>
      )}
    </section>
  );
}
