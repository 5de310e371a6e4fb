import dynamic from "next/dynamic";
import { useCallback, useEffect, useState } from "react";
import type { ProofPick } from "@/core/proof/proof";
import { showState } from "@/core/query/editComparison";
import type { Plan } from "@/core/query/plan";
import type { ParameterValues, QuerySpec } from "@/core/query/spec";
import type { Schema } from "@/core/schema/schema";
import type { Today } from "@/core/types/calendar";
import type { Problem } from "@/core/types/problem";
import { Margin } from "@/ui/Margin";
import { COMMON } from "../words";
import { ControlTotals } from "./ControlTotals";
import { ReconciliationPanel } from "./compare/ReconciliationPanel";
import { ProofPanel } from "./proof/ProofPanel";
import type { useAsked } from "./useAsked";
import { useNextIssue } from "./useNextIssue";
import type { Running } from "./useRun";

const SqlPanel = dynamic(() => import("./SqlPanel").then((m) => m.SqlPanel), { loading: () => null });
const ParametersPanel = dynamic(() => import("./ParametersPanel").then((m) => m.ParametersPanel), { loading: () => null });

const PROOF = 0;
/** Where the parameters stand in the margin: what is missing there is asked for at once. */
const PARAMETERS = 1;

type Props = {
  spec: QuerySpec;
  /** As it is asked: without what waits for a value. */
  schema: Schema;
  values: ParameterValues;
  setValues: (values: ParameterValues) => void;
  today: Today;
  plan: Plan | null;
  run: Running;
  pick: ProofPick | undefined;
  onPick: (pick: ProofPick | undefined) => void;
  problems: Problem[];
  /** Changes the query, and goes back to its own rows. */
  alter: (next: QuerySpec) => void;
  /** Changes what leaves its rows as they are. */
  change: (next: QuerySpec) => void;
} & Pick<ReturnType<typeof useAsked>, "settled" | "asked">;

/** The margin of a query: the reconciliation of a comparison, the proof and control totals; parameters; SQL. */
export function QueryMargin({ spec, settled, schema, values, setValues, today, asked, plan, run, pick, onPick, problems, alter, change }: Props) {
  const [part, setPart] = useMarginPart(problems);
  useNextIssue(useCallback(() => setPart(PROOF), [setPart]));
  // What stands beneath the account comes after it, or its button would move under the pointer.
  const stands = run.proof !== null || run.proofFailure !== null || !run.running || (spec.controls ?? []).length > 0;
  return (
    <Margin
      selected={part}
      onSelect={setPart}
      parts={[
        {
          name: COMMON.proof,
          content: (
            <div className="grid gap-6">
              {spec.compare && <ReconciliationPanel {...{ ...settled, values, show: (state) => alter(showState(spec, state)) }} />}
              <ProofPanel
                spec={spec}
                schema={schema}
                plan={plan}
                proof={run.proof}
                failure={run.proofFailure}
                running={run.running && !pick}
                pick={pick}
                onPick={onPick}
                change={alter}
              />
              {stands && <ControlTotals spec={spec} plan={plan} footing={pick ? null : run.footing} change={change} />}
            </div>
          ),
        },
        {
          name: COMMON.parameters,
          content: <ParametersPanel schema={schema} spec={spec} values={values} today={today} change={alter} setValues={setValues} asked={asked} />,
        },
        { name: "SQL", content: <SqlPanel plan={plan} /> },
      ]}
    />
  );
}

/** The part of the margin that is shown: the parameters as soon as one of them misses its value. */
function useMarginPart(problems: Problem[]) {
  const shown = useState(0);
  const [, setPart] = shown;
  const asks = problems.some((p) => p.code === "parameterMissing");
  useEffect(() => {
    if (asks) setPart(PARAMETERS);
  }, [asks, setPart]);
  return shown;
}
