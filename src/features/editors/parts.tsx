"use client";

import { useEffect, useRef, useState } from "react";
import { foundFields, type ReachedField, reachable, withReached } from "@/core/query/reach";
import type { Operand, ParameterValues, QuerySpec } from "@/core/query/spec";
import type { Schema, Table } from "@/core/schema/schema";
import type { ValueType } from "@/core/types/valueType";
import { onEnter } from "@/ui/onEnter";
import { COMMON } from "../words";
import { NewFormula } from "./NewFormula";

/** What every editor of a phrase works on. */
export type EditorProps = {
  spec: QuerySpec;
  schema: Schema;
  change: (next: QuerySpec) => void;
  close: () => void;
  /** What is given for the query's parameters, where values are offered from its rows. */
  values?: ParameterValues;
  /** In a rollup: the table of the row the figure belongs to. */
  parent?: Table | undefined;
};

type ChoiceProps = {
  chosen?: boolean;
  /** The key that does it without the popover. */
  hint?: string | undefined;
  onClick: () => void;
  children: React.ReactNode;
};

/** One of several choices in a popover. */
export function Choice({ chosen, hint, onClick, children }: ChoiceProps) {
  return (
    <button type="button" aria-pressed={chosen ?? false} onClick={onClick} className={`menu-item ${chosen ? "font-semibold text-bottle" : ""}`}>
      {hint && <kbd className="float-right pl-3 font-sans text-tiny leading-5 text-faint">{hint}</kbd>}
      <span>
        {chosen ? "✓ " : ""}
        {children}
      </span>
    </button>
  );
}

/** Something that is so or not, with its words beside it. */
export const Tick = ({ checked, set, children }: { checked: boolean; set: (checked: boolean) => void; children: React.ReactNode }) => (
  <label className="flex gap-2 text-small">
    <input type="checkbox" className="accent-bottle" checked={checked} onChange={(e) => set(e.target.checked)} />
    {children}
  </label>
);

/** What a popover turns to when one of its choices leads on: the keyboard goes on in its first field. */
export function LedOn({ children }: { children: React.ReactNode }) {
  const held = useRef<HTMLDivElement>(null);
  useEffect(() => held.current?.querySelector<HTMLElement>("input, textarea, button")?.focus(), []);
  return <div ref={held}>{children}</div>;
}

/** The way out of a popover that takes the phrase away. */
export const Remove = ({ onClick, children }: { onClick: () => void; children: React.ReactNode }) => (
  <button type="button" onClick={onClick} className="mt-2 w-full border-t border-hairline pt-2 text-left font-semibold text-vermilion hover:underline">
    {children}
  </button>
);

/** Picks a field within reach: of tables already brought first, then along links. */
export function FieldPicker({
  spec,
  schema,
  caption,
  pick,
  remove,
  close,
  only,
  formula = false,
  parts = false,
}: EditorProps & {
  caption: string;
  /** Whether a formula over fields can be picked in place of a field. */
  formula?: boolean;
  /** Whether a part of a date can be picked in place of it. */
  parts?: boolean;
  pick: (spec: QuerySpec, operand: Operand) => void;
  remove?: () => void;
  only?: (type: ValueType) => boolean;
}) {
  const [wanted, setWanted] = useState("");
  const [writing, setWriting] = useState(false);
  const offered = reachable(spec, schema, wanted.trim() ? 2 : 1).filter((f) => !only || only(f.type));
  const fields = foundFields(offered, wanted, parts);
  const choose = (field: ReachedField) => {
    const { spec: brought, operand } = withReached(spec, field);
    pick(brought, operand);
    close();
  };
  if (writing)
    return (
      <LedOn>
        <p className="caption pb-1">{caption}</p>
        <NewFormula
          spec={spec}
          schema={schema}
          add={(text) => {
            pick(spec, { kind: "formula", text });
            close();
          }}
        />
      </LedOn>
    );
  return (
    <>
      <p className="caption pb-1">{caption}</p>
      <input
        className="field mb-2"
        placeholder={COMMON.findAField}
        aria-label={COMMON.findAField}
        value={wanted}
        onChange={(e) => setWanted(e.target.value)}
        onKeyDown={onEnter(() => fields[0] && choose(fields[0]))}
      />
      <div className="max-h-56 overflow-auto">
        {fields.slice(0, 80).map((f) => (
          <Choice key={f.words} onClick={() => choose(f)}>
            {f.words}
          </Choice>
        ))}
        {fields.length === 0 && <p className="text-soft">{COMMON.noMatchingField}</p>}
      </div>
      {formula && (
        <button type="button" className="link pt-2" onClick={() => setWriting(true)}>
          {COMMON.aFormula}
        </button>
      )}
      {remove && (
        <Remove
          onClick={() => {
            remove();
            close();
          }}
        >
          {COMMON.remove}
        </Remove>
      )}
    </>
  );
}
