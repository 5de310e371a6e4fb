"use client";

import { type ReactNode, useId, useRef } from "react";
import { writtenName } from "@/core/expression/parse";
import { OWN_FIELDS } from "@/core/report/texts";
import type { ReportColumn } from "./reportColumn";
import { WORDS } from "./words";

/* The fields of a report's settings. */

/** @param narrow leaves the words more room: numbers are short */
export const Row = ({ label, narrow = false, children }: { label: string; narrow?: boolean; children: ReactNode }) => (
  <label className="flex items-center justify-between gap-3 border-b border-hairline py-1">
    <span>{label}</span>
    <span className={`${narrow ? "w-24" : "w-36 max-[1100px]:w-28"} shrink-0 text-right`}>{children}</span>
  </label>
);

export const CheckRow = ({
  label,
  checked,
  set,
  disabled = false,
}: {
  label: string;
  checked: boolean;
  set: (checked: boolean) => void;
  disabled?: boolean;
}) => (
  <label className="flex items-center justify-between gap-3 border-b border-hairline py-1.5">
    <span>{label}</span>
    <input type="checkbox" className="size-4 shrink-0 accent-bottle" checked={checked} disabled={disabled} onChange={(e) => set(e.target.checked)} />
  </label>
);

type NumberRowProps = {
  label: string;
  value: number | null;
  least: number;
  most: number;
  step?: number;
  placeholder?: string;
  /** What an empty field means; where nothing is said it is left as it was. */
  empty?: () => void;
  set: (value: number) => void;
};

/** A number within bounds; while it is typed it is set as soon as it is one. */
export const NumberRow = ({ label, value, least, most, step = 1, placeholder, empty, set }: NumberRowProps) => (
  <Row label={label} narrow>
    <input
      type="number"
      min={least}
      max={most}
      step={step}
      className="field text-right"
      placeholder={placeholder}
      value={value ?? ""}
      onChange={(e) => {
        if (e.target.value === "") return empty?.();
        const typed = Number(e.target.value);
        if (!Number.isNaN(typed)) set(Math.max(least, Math.min(most, step === 1 ? Math.trunc(typed) : typed)));
      }}
    />
  </Row>
);

/** Stands out of the way until it is opened: settings of one of several. */
export function Folded({
  title,
  open,
  toggle,
  actions,
  children,
}: {
  title: ReactNode;
  open: boolean;
  toggle: () => void;
  actions?: ReactNode;
  children: ReactNode;
}) {
  const id = useId();
  return (
    <section className="border-b border-hairline">
      <h3 className="flex items-center justify-between gap-2">
        <button type="button" className="min-w-0 flex-1 truncate py-1.5 text-left font-semibold" aria-expanded={open} aria-controls={id} onClick={toggle}>
          <span aria-hidden="true" className="inline-block w-4 text-faint">
            {open ? "▾" : "▸"}
          </span>
          {title}
        </button>
        <span className="flex shrink-0 gap-1">{actions}</span>
      </h3>
      {open && (
        <div id={id} className="grid gap-0.5 pb-3 pl-4">
          {children}
        </div>
      )}
    </section>
  );
}

export const SmallButton = ({ label, tone = "text-bottle", onClick, children }: { label: string; tone?: string; onClick: () => void; children: ReactNode }) => (
  <button type="button" className={`small-button ${tone}`} aria-label={label} title={label} onClick={onClick}>
    {children}
  </button>
);

type TextProps = {
  label: string;
  value: string;
  set: (value: string) => void;
  columns: ReportColumn[];
  /** Names of what the page or group tells that can stand in it, besides columns. */
  own?: (keyof typeof OWN_FIELDS)[];
  placeholder?: string;
  lines?: number;
};

/** A text with fields in braces; fields are offered, and put in where the cursor is. */
export function TextWithFields({ label, value, set, columns, own = [], placeholder, lines = 1 }: TextProps) {
  const field = useRef<HTMLInputElement & HTMLTextAreaElement>(null);
  const insert = (name: string) => {
    const at = field.current?.selectionStart ?? value.length;
    set(`${value.slice(0, at)}{${name}}${value.slice(field.current?.selectionEnd ?? at)}`);
    field.current?.focus();
  };
  const id = useId();
  const props = { id, ref: field, className: "field", value, placeholder, onChange: (e: { target: { value: string } }) => set(e.target.value) };
  return (
    <div className="grid gap-0.5 py-1 text-small">
      <span className="flex items-center justify-between gap-2">
        <label htmlFor={id}>{label}</label>
        <select
          className="max-w-24 bg-transparent text-right font-semibold text-bottle"
          aria-label={WORDS.insertFieldIn(label)}
          value=""
          onChange={(e) => e.target.value && insert(e.target.value.slice(1))}
        >
          <option value="">{WORDS.insertField}</option>
          {own.map((name) => (
            <option key={name} value={`.${name}`}>
              {OWN_FIELDS[name]}
            </option>
          ))}
          {columns.map((c) => (
            <option key={c.id} value={`.${writtenName(c.heading.toLowerCase())}`}>
              {c.heading}
            </option>
          ))}
        </select>
      </span>
      {lines > 1 ? <textarea {...props} rows={lines} /> : <input {...props} />}
    </div>
  );
}

/** A formula on one line. */
export const FormulaRow = ({ label, value, set, placeholder }: { label: string; value: string; set: (value: string) => void; placeholder?: string }) => (
  <label className="grid gap-0.5 py-1 text-small">
    {label}
    <input className="field font-mono text-small" value={value} placeholder={placeholder} spellCheck={false} onChange={(e) => set(e.target.value)} />
  </label>
);
