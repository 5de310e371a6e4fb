import type { ReactNode } from "react";

/** One of several tables that a posting writes. */
export const Tab = ({ chosen, choose, children }: { chosen: boolean; choose: () => void; children: ReactNode }) => (
  <button
    type="button"
    role="tab"
    aria-selected={chosen}
    onClick={choose}
    className="rounded-t border border-b-0 border-rule px-3 py-1 text-small text-soft aria-selected:bg-sheet aria-selected:font-semibold aria-selected:text-ink"
  >
    {children}
  </button>
);
