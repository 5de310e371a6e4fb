import { useEffect, useRef } from "react";
import { stepsSeen, WALK_QUERY } from "@/core/desk/walk";
import { ask } from "../ask";

/**
 * Ticks off the steps of the demo's walk that its query shows, as it stands on the screen.
 * @param query the saved query's id; any but the walk's ticks nothing off
 */
export function useWalkSteps(query: string | null, seen: Parameters<typeof stepsSeen>[0]): void {
  const told = useRef(new Set<string>());
  const steps = query === WALK_QUERY ? stepsSeen(seen).join(" ") : "";
  useEffect(() => {
    for (const step of steps.split(" ").filter((s) => s && !told.current.has(s))) {
      told.current.add(step);
      void ask("/api/desk/walk", { step }).catch(() => told.current.delete(step));
    }
  }, [steps]);
}
