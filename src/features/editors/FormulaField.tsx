"use client";

import dynamic from "next/dynamic";
import { useMemo } from "react";
import { FORMULA_FORMS, FORMULA_FUNCTIONS } from "@/core/expression/formulaFunctions";
import { writtenName } from "@/core/expression/parse";
import { WRITTEN_FIGURES } from "@/core/query/aggregates";
import type { Column } from "@/core/schema/schema";
import { type Problem, sentence } from "@/core/types/problem";
import { TYPE_WORDS } from "@/core/types/valueType";
import { COMMON } from "../words";

const CodeField = dynamic(() => import("@/ui/CodeField"), { ssr: false, loading: () => <div className="field h-[4.5rem]" /> });

/** A column as a formula names it: what people made and what queries give by its label, what is stored by its name. */
export type Named = Pick<Column, "type"> & { formulaName: string /** Where it is not the name alone: a path. */; written?: string };

type Props = {
  label?: string;
  text: string;
  fields: Named[];
  problem: Problem | null;
  onChange: (next: string) => void;
  placeholder?: string;
  note: React.ReactNode;
  /** Whether figures over rows can be written too: SUM(…). */
  figures?: boolean;
  focused?: boolean;
};

/** A formula to be written: fields and functions are offered, and what cannot be read is underlined. */
export function FormulaField({ label = COMMON.formula, text, fields, problem, onChange, placeholder = "", note, focused = false, figures = false }: Props) {
  const words = useMemo(
    () => [
      ...fields.map((c) => ({ label: c.formulaName, kind: "field" as const, detail: TYPE_WORDS[c.type.kind], apply: c.written ?? writtenName(c.formulaName) })),
      ...Object.entries(FORMULA_FUNCTIONS).map(([name, f]) => ({
        label: name,
        kind: "function" as const,
        detail: f.form.slice(name.length),
        info: `${f.help}\n${f.example}`,
        apply: `${name}(`,
      })),
      ...(figures ? WRITTEN_FIGURES : []).map(({ word, help }) => ({ label: word, kind: "function" as const, info: help, apply: `${word}(` })),
      ...FORMULA_FORMS.map((f) => ({ label: f.form, kind: "function" as const, info: `${f.help}\n${f.example}`, apply: f.form })),
    ],
    [fields, figures],
  );
  const at = problem && typeof problem.detail.at === "number" ? problem.detail.at - 1 : null;
  return (
    <div className="grid gap-1 text-small">
      {label}
      <CodeField
        label={label}
        value={text}
        onChange={onChange}
        words={words}
        problem={problem && { at, message: sentence(problem) }}
        placeholder={placeholder}
        focused={focused}
      />
      <span className="text-soft">{note}</span>
    </div>
  );
}
