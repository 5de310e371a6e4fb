import { useDeferredValue, useMemo } from "react";
import type { ProofPick } from "@/core/proof/proof";
import { planProofRows } from "@/core/proof/proofRows";
import { missingParameter } from "@/core/query/parameters";
import { resolveQuery } from "@/core/query/resolve";
import type { ParameterValues, QuerySpec } from "@/core/query/spec";
import type { Schema } from "@/core/schema/schema";
import type { Today } from "@/core/types/calendar";
import { useSignedIn } from "../workspace/person";
import { useRun } from "./useRun";

/**
 * A query as it is asked while it is worked on: its plan, its answer, and what stands in the way of one.
 * @param pick the rows behind one number of its proof, in place of its own
 */
export function useAsked(spec: QuerySpec, schema: Schema, today: Today, values: ParameterValues, pick: ProofPick | undefined) {
  const { knownAs } = useSignedIn();
  const settled = useDeferredValue(spec);
  const resolved = useMemo(() => resolveQuery(settled, schema, { today, values, person: knownAs }), [settled, schema, today, values, knownAs]);
  const plan = resolved.ok ? resolved.value : null;
  const picked = plan && pick ? planProofRows(plan, pick) : null;
  const run = useRun(plan ? { spec: settled, values, pick: picked ? pick : undefined } : null, picked ?? plan);
  const problems = resolved.ok ? (run.failure?.body.problems ?? []) : resolved.problems;
  // One that is missing is known by its problem alone: nothing is planned until it is given.
  const missing = problems.filter((p) => p.code === "parameterMissing").map(missingParameter);
  /** The parameters to give that are not the query's own: those of the fields and queries it is made of. */
  const asked = [...(plan?.parameters ?? []), ...missing].filter((p) => !spec.parameters.some((own) => own.name === p.name));
  return { settled, plan, picked, run, problems, asked };
}
