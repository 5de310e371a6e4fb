import { useDeferredValue, useMemo, useRef } from "react";
import type { ProofPick } from "@/core/proof/proof";
import { planProofRows } from "@/core/proof/proofRows";
import { missingParameter } from "@/core/query/parameters";
import type { Plan } from "@/core/query/plan";
import { resolveQuery } from "@/core/query/resolve";
import type { ParameterValues, QuerySpec } from "@/core/query/spec";
import { waitingIn, withoutWaiting } from "@/core/query/waiting";
import type { Schema } from "@/core/schema/schema";
import type { Today } from "@/core/types/calendar";
import { useSignedIn } from "../workspace/person";
import type { Question } from "./questions";
import { useRun } from "./useRun";

type Asking = { question: Question; plan: Plan };

/**
 * A query as it is asked while it is worked on: its plan, its answer, and what stands in the way of one.
 * `settled` is the description that is asked, with the schema it is asked on. `behind` says that the rows in sight are those of before the last changes.
 * @param pick the rows behind one number of its proof, in place of its own
 */
export function useAsked(spec: QuerySpec, schema: Schema, today: Today, values: ParameterValues, pick: ProofPick | undefined) {
  const { knownAs } = useSignedIn();
  // Together: with the schema of another description, where it says what a comparison's rows are, it is a question that the server refuses.
  const latest = useDeferredValue(useMemo(() => ({ spec, schema }), [spec, schema]));
  // What waits for a value is not asked yet: the sheet keeps the rows it has.
  const settled = useMemo(() => ({ spec: withoutWaiting(latest.spec), schema: latest.schema }), [latest]);
  const resolved = useMemo(() => resolveQuery(settled.spec, settled.schema, { today, values, person: knownAs }), [settled, today, values, knownAs]);
  const plan = resolved.ok ? resolved.value : null;
  const picked = plan && pick ? planProofRows(plan, pick) : null;
  const question: Asking | null = plan ? { question: { spec: settled.spec, values, pick: picked ? pick : undefined }, plan: picked ?? plan } : null;
  // What cannot be asked leaves the rows in sight that were answered last.
  const last = useRef<Asking | null>(null);
  if (question) last.current = question;
  const shown = question ?? last.current;
  const run = useRun(shown?.question ?? null, shown?.plan ?? null);
  const problems = resolved.ok ? (run.failure?.body.problems ?? []) : resolved.problems;
  // One that is missing is known by its problem alone: nothing is planned until it is given.
  const missing = problems.filter((p) => p.code === "parameterMissing").map(missingParameter);
  /** The parameters to give that are not the query's own: those of the fields and queries it is made of. */
  const asked = [...(plan?.parameters ?? []), ...missing].filter((p) => !spec.parameters.some((own) => own.name === p.name));
  return { settled, plan, picked, run, problems, asked, behind: plan === null && run.shown !== null, waiting: waitingIn(latest.spec) };
}
