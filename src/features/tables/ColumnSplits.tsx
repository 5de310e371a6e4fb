"use client";

import { useRouter } from "next/navigation";
import { type ReactNode, useState } from "react";
import { type Column, storedColumns, type Table } from "@/core/schema/schema";
import * as edit from "@/core/shape/edit";
import type { ShapeSpec } from "@/core/shape/spec";
import { Choice, LedOn, Tick } from "../editors/parts";
import { keep, kept } from "../shape/useKept";
import { COMMON } from "../words";
import { WORDS } from "./words";

type Props = { table: Table; column: Column };

/** What divides a column into several or puts several together: each is begun in a change of the table's columns, which shows every row before. */
export function ColumnSplits({ table, column }: Props) {
  const router = useRouter();
  const [asked, setAsked] = useState<"split" | "join" | null>(null);
  const begin = (change: (spec: ShapeSpec) => ShapeSpec) => {
    const place = `shape ${table.name}`;
    keep(place, change(kept<ShapeSpec>(place) ?? edit.startShape(table)));
    router.push(`/tables/${encodeURIComponent(table.name)}/shape`);
  };
  const toggle = (what: typeof asked) => () => setAsked(asked === what ? null : what);
  return (
    <>
      <Choice onClick={toggle("split")}>{WORDS.splitColumn}</Choice>
      {asked === "split" && <Split begin={begin} column={column} />}
      <Choice onClick={toggle("join")}>{WORDS.joinColumns}</Choice>
      {asked === "join" && <Join begin={begin} table={table} column={column} />}
    </>
  );
}

type Begin = { begin: (change: (spec: ShapeSpec) => ShapeSpec) => void };

/** A small form below the choice that asks for it; it ends in a preview. */
const Asked = ({ ready, submit, children }: { ready: boolean; submit: () => void; children: ReactNode }) => (
  <LedOn>
    <form
      className="grid gap-1.5 py-1 text-small"
      onSubmit={(e) => {
        e.preventDefault();
        submit();
      }}
    >
      {children}
      <button type="submit" className="button-primary justify-self-start" disabled={!ready}>
        {COMMON.preview}
      </button>
    </form>
  </LedOn>
);

function Split({ begin, column }: Begin & { column: Column }) {
  const [separator, setSeparator] = useState(",");
  const [parts, setParts] = useState(2);
  return (
    <Asked ready={separator !== ""} submit={() => begin((spec) => edit.splitColumn(spec, column, { separator, parts }))}>
      <label className="flex items-center gap-2">
        {WORDS.separator}
        <input className="field w-20" aria-label={WORDS.separator} value={separator} onChange={(e) => setSeparator(e.target.value)} />
      </label>
      <label className="flex items-center gap-2">
        {WORDS.intoColumns}
        <input
          className="field w-16"
          type="number"
          min={2}
          max={20}
          aria-label={WORDS.intoColumns}
          value={parts}
          onChange={(e) => setParts(Math.min(20, Math.max(2, Math.round(Number(e.target.value)))))}
        />
      </label>
    </Asked>
  );
}

function Join({ begin, table, column }: Begin & Props) {
  const [chosen, setChosen] = useState<string[]>([]);
  const [between, setBetween] = useState(" ");
  const others = storedColumns(table).filter((c) => c.name !== column.name);
  return (
    <Asked
      ready={chosen.length > 0}
      submit={() => {
        const joined = [column, ...chosen.flatMap((name) => others.find((c) => c.name === name) ?? [])];
        begin((spec) => edit.joinColumns(spec, joined, between));
      }}
    >
      <fieldset className="grid max-h-40 gap-0.5 overflow-y-auto">
        <legend>{WORDS.joinWith}</legend>
        {others.map((c) => (
          <Tick key={c.name} checked={chosen.includes(c.name)} set={(on) => setChosen(on ? [...chosen, c.name] : chosen.filter((n) => n !== c.name))}>
            {c.label}
          </Tick>
        ))}
      </fieldset>
      <label className="flex items-center gap-2">
        {WORDS.between}
        <input className="field w-20" aria-label={WORDS.between} value={between} onChange={(e) => setBetween(e.target.value)} />
      </label>
    </Asked>
  );
}
