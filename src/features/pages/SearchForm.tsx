"use client";

import type { FormEvent } from "react";
import type { Asked } from "@/core/page/asked";
import type { FormField } from "@/server/services/pages/answer";
import { ValueInput } from "../editors/ValueInput";
import { useAnswer } from "../useAnswer";
import type { Asking } from "./asking";
import { WORDS } from "./words";

type Given = Asked["fields"][number];
type Props = { asking: Asking; fields: FormField[]; form: Asked; change: (next: Asked) => void; search: (event: FormEvent) => void };

/** The form of a page that is searched: each field in its own way. */
export function SearchForm({ asking, fields, form, change, search }: Props) {
  const set = (i: number, next: Given) => change({ ...form, fields: form.fields.map((f, k) => (k === i ? next : f)) });
  return (
    <form onSubmit={search} className="flex flex-wrap items-end gap-x-4 gap-y-3 border border-rule bg-sheet px-4 py-3">
      {fields.map((field, i) => (
        <Field key={`${field.label} ${i}`} asking={asking} at={i} field={field} given={form.fields[i] ?? { values: [] }} set={(next) => set(i, next)} />
      ))}
      <button type="submit" className="button-primary">
        {WORDS.search}
      </button>
    </form>
  );
}

type FieldProps = { asking: Asking; at: number; field: FormField; given: Given; set: (next: Given) => void };

function Field(props: FieldProps) {
  const { field, given, set } = props;
  const [first = "", second = ""] = given.values;
  const one = (label: string, value: string, write: (next: string) => void) => (
    <ValueInput type={field.type} period={field.period ?? false} label={label} value={value} onChange={write} />
  );
  switch (field.input) {
    case "typed":
      return (
        <fieldset className="grid min-w-40 gap-0.5 text-small">
          <legend className="pb-0.5">{field.label}</legend>
          <span className="flex gap-1.5">
            {field.operators.length > 1 && (
              <select
                className="field w-32"
                aria-label={WORDS.comparisonFor(field.label)}
                value={given.operator ?? field.operators[0]?.name}
                onChange={(e) => set({ ...given, operator: e.target.value as "is" })}
              >
                {field.operators.map((o) => (
                  <option key={o.name} value={o.name}>
                    {o.words}
                  </option>
                ))}
              </select>
            )}
            {one(field.label, first, (v) => set({ ...given, values: [v] }))}
          </span>
        </fieldset>
      );
    case "range":
      return (
        <fieldset className="grid gap-0.5 text-small">
          <legend className="pb-0.5">{field.label}</legend>
          <span className="flex items-center gap-1.5">
            {one(WORDS.from(field.label), first, (v) => set({ ...given, values: [v, second] }))} {WORDS.between}{" "}
            {one(WORDS.to(field.label), second, (v) => set({ ...given, values: [first, v] }))}
          </span>
        </fieldset>
      );
    case "choice":
    case "several":
      return <Choices {...props} />;
    default:
      return field.input satisfies never;
  }
}

/** Values that occur, of which one or several are chosen. */
function Choices({ asking, at, field, given, set }: FieldProps) {
  const { answer: choices, failure } = useAnswer<string[]>(asking.path, { ...asking.with, question: { ask: "choices", field: String(at) } }, { settleMs: 0 });
  if (failure) return <p className="text-small text-vermilion">{failure.message}</p>;
  if (field.input === "choice")
    return (
      <label className="grid gap-0.5 text-small">
        {field.label}
        <select className="field w-44" value={given.values[0] ?? ""} onChange={(e) => set({ values: e.target.value === "" ? [] : [e.target.value] })}>
          <option value="">{WORDS.any}</option>
          {choices?.map((c) => (
            <option key={c} value={c}>
              {c}
            </option>
          ))}
        </select>
      </label>
    );
  return (
    <fieldset className="grid gap-0.5 text-small">
      <legend className="pb-0.5">{field.label}</legend>
      <span className="grid max-h-28 w-48 overflow-auto rounded border border-faint bg-sheet px-2 py-1 text-base">
        {choices?.map((c) => (
          <label key={c} className="flex min-h-6 items-center gap-2">
            <input
              type="checkbox"
              className="accent-bottle"
              checked={given.values.includes(c)}
              onChange={(e) => set({ values: e.target.checked ? [...given.values, c] : given.values.filter((v) => v !== c) })}
            />
            {c}
          </label>
        ))}
      </span>
    </fieldset>
  );
}
