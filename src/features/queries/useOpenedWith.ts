import { useEffect, useRef } from "react";
import type { ProofPick } from "@/core/proof/proof";
import { readOpenedWith } from "@/core/query/address";
import { withControl } from "@/core/query/controls";
import type { QuerySpec } from "@/core/query/spec";

/** Does once what the page's address was opened with: shows rows behind the proof, or adds a control total that is not kept yet. */
export function useOpenedWith(spec: QuerySpec, change: (next: QuerySpec) => void, setPick: (pick: ProofPick) => void): void {
  const latest = useRef({ spec, change, setPick });
  latest.current = { spec, change, setPick };
  useEffect(() => {
    const said = readOpenedWith(window.location.hash);
    if (!said) return;
    window.history.replaceState(null, "", window.location.pathname + window.location.search);
    const { spec: now, change: alter, setPick: show } = latest.current;
    if ("pick" in said) show(said.pick);
    else alter(withControl(now, said.control));
  }, []);
}
