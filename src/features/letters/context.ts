import { createContext, useContext } from "react";
import type { Problem } from "@/core/types/problem";
import type { Named } from "../editors/FormulaField";

/** What the parts of a letter's text need to know of the letter. */
export type LetterWork = {
  fields: Named[];
  /** By "fields formula", "conditions formula", "tables id". */
  problems: Map<string, Problem>;
  tables: { id: string; title: string; hideEmpty: boolean; headings: string[] }[];
  openTable: (id: string) => void;
};

export const LetterContext = createContext<LetterWork>({ fields: [], problems: new Map(), tables: [], openTable: () => {} });
export const useLetter = (): LetterWork => useContext(LetterContext);
