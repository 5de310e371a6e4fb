import { useEffect, useRef } from "react";
import { stepsSeen, WALK_QUERY, type WalkStep } from "@/core/desk/walk";
import type { ProofPick } from "@/core/proof/proof";
import { checkControls } from "@/core/query/controls";
import type { Plan } from "@/core/query/plan";
import type { QuerySpec } from "@/core/query/spec";
import type { FootingAnswer } from "@/server/services/queries/service";
import { ask } from "../ask";

/** A query as it stands on the screen: its rows, or those behind a number of its proof. */
type Shown = { spec: QuerySpec; plan: Plan | null; footing: FootingAnswer | null; pick: ProofPick | undefined };

function stepsOf({ spec, plan, footing, pick }: Shown): WalkStep[] {
  const checks = plan && footing && !pick ? checkControls(spec, plan, footing).filter((c) => c.control.value !== "") : [];
  return stepsSeen({ missing: pick?.part === "missing", controls: checks.map((c) => c.agrees) });
}

/**
 * Ticks off the steps of the demo's walk that its query shows, as it stands on the screen.
 * @param query the saved query's id; any but the walk's ticks nothing off
 */
export function useWalkSteps(query: string | null, shown: Shown): void {
  const told = useRef(new Set<string>());
  const steps = query === WALK_QUERY ? stepsOf(shown).join(" ") : "";
  useEffect(() => {
    for (const step of steps.split(" ").filter((s) => s && !told.current.has(s))) {
      told.current.add(step);
      void ask("/api/desk/walk", { step }).catch(() => told.current.delete(step));
    }
  }, [steps]);
}
