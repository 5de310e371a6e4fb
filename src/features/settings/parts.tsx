import type { ReactNode } from "react";

/** The heading of a group of settings, and who they are for. */
export const Heading = ({ words, beside }: { words: string; beside: string }) => (
  <h2 className="flex items-baseline gap-2 border-b border-rule pb-1">
    <span className="font-serif text-[1.125rem] font-semibold">{words}</span>
    <span className="text-small text-faint">{beside}</span>
  </h2>
);

const ROW = "grid grid-cols-[12rem_1fr] items-center gap-3 max-sm:grid-cols-1";

/** A setting with its label beside it. */
export const Labelled = ({ words, children }: { words: string; children: ReactNode }) => (
  <label className={ROW}>
    {words}
    {children}
  </label>
);

/** Several controls under one label. */
export const Group = ({ words, children }: { words: string; children: ReactNode }) => (
  <fieldset className={ROW}>
    <legend className="sr-only">{words}</legend>
    <span aria-hidden="true" className="self-start pt-1">
      {words}
    </span>
    {children}
  </fieldset>
);
