import type { ReactNode } from "react";

/** The heading of a part of the desk, with a line under it and a word beside it. */
export const DeskHeading = ({ words, beside, strong = false }: { words: string; beside?: ReactNode; strong?: boolean }) => (
  <h2 className={`flex items-baseline gap-2 pt-6 pb-1.5 ${strong ? "border-b border-ink" : "border-b border-rule"}`}>
    <span className="font-serif text-[1.125rem] font-semibold">{words}</span>
    {beside !== undefined && <span className="text-small text-faint">{beside}</span>}
  </h2>
);
