"use client";

import { useEffect, useState } from "react";
import type { EachSpec } from "@/core/schedule/eachSpec";
import type { ScheduleSpec } from "@/core/schedule/spec";
import type { EachColumns } from "@/server/services/scheduler/each";
import type { Subject } from "@/server/services/scheduler/state";
import { ask, sentenceOf } from "../ask";
import { COMMON } from "../words";
import { WORDS } from "./words";

type Props = { spec: ScheduleSpec; subjects: Subject[]; save: (next: ScheduleSpec) => void; close: () => void };

const NONE: EachColumns = { columns: [], parameters: [], filters: [] };

type To = EachSpec["match"][number]["to"];

/** What a row can be held against: columns of the subject's query, parameters of it, filters of a dashboard. */
const heldAgainst = ({ columns, parameters, filters }: EachColumns): { to: To; words: string }[] => [
  ...columns.flatMap((c) => (c.narrows ? [{ to: { kind: "column" as const, column: c.id }, words: c.heading }] : [])),
  ...parameters.map((name) => ({ to: { kind: "parameter" as const, name }, words: WORDS.parameterNamed(name) })),
  ...filters.map((f) => ({ to: { kind: "filter" as const, filter: f.id }, words: WORDS.filterNamed(f.label) })),
];

function useColumns(subject: ScheduleSpec["subject"], query: string | null): { found: EachColumns; failure: string } {
  const [state, setState] = useState({ found: NONE, failure: "" });
  useEffect(() => {
    const abort = new AbortController();
    ask<EachColumns>("/api/schedules/each/columns", { subject: { kind: subject.kind, id: subject.id }, query }, { signal: abort.signal }).then(
      (found) => setState({ found, failure: "" }),
      (error) => !abort.signal.aborted && setState({ found: NONE, failure: sentenceOf(error) }),
    );
    return () => abort.abort();
  }, [subject.kind, subject.id, query]);
  return state;
}

/** What there is one file for: the values of a column, or the rows of a query; how files are named, and where addresses are. */
export function EachEditor({ spec, subjects, save, close }: Props) {
  const [each, setEach] = useState(spec.each ?? null);
  const own = useColumns(spec.subject, null);
  const list = useColumns(spec.subject, each?.query ?? null);
  /** Saved as soon as it is whole: a run must not meet a query without the column that is compared. */
  const put = (next: EachSpec) => {
    setEach(next);
    if (next.match.every((m) => m.from !== "")) save({ ...spec, each: next });
  };
  const first: EachSpec = { query: null, match: [], fileName: "", to: null, skipEmpty: true };
  const choose = (column: string) => put({ ...(each ?? first), query: null, match: [{ from: column, to: { kind: "column", column } }], to: null });
  const [match] = each?.match ?? [];
  const narrowing = own.found.columns.filter((c) => c.narrows);
  const against = heldAgainst(own.found);
  const [closest] = against;
  return (
    <div className="grid gap-2">
      {(own.failure || list.failure) && <p className="text-small text-vermilion">{own.failure || list.failure}</p>}
      <label className="grid gap-0.5">
        {WORDS.oneFileForEach}
        <select
          className="field"
          value={each === null ? "" : each.query === null ? `c ${match?.from ?? ""}` : `q ${each.query}`}
          onChange={(e) => {
            const [kind, id] = [e.target.value.slice(0, 1), e.target.value.slice(2)];
            if (kind === "c") choose(id);
            else if (kind === "q" && closest) put({ ...(each ?? first), query: id, match: [{ from: "", to: closest.to }], to: null });
          }}
        >
          <option value="">{WORDS.chooseEach}</option>
          {narrowing.length > 0 && (
            <optgroup label={WORDS.valuesOfColumn}>
              {narrowing.map((c) => (
                <option key={c.id} value={`c ${c.id}`}>
                  {c.heading}
                </option>
              ))}
            </optgroup>
          )}
          {closest && (
            <optgroup label={WORDS.rowsOfQuery}>
              {subjects
                .filter((s) => s.kind === "query")
                .map((s) => (
                  <option key={s.id} value={`q ${s.id}`}>
                    {s.name}
                  </option>
                ))}
            </optgroup>
          )}
        </select>
      </label>
      {each && each.query !== null && match && (
        <>
          <ColumnSelect label={WORDS.itsColumn} value={match.from} columns={list.found.columns} set={(from) => put({ ...each, match: [{ ...match, from }] })} />
          <label className="grid gap-0.5">
            {WORDS.isTheSameAs}
            <select
              className="field"
              value={JSON.stringify(match.to)}
              onChange={(e) => {
                const chosen = against.find((a) => JSON.stringify(a.to) === e.target.value);
                if (chosen) put({ ...each, match: [{ ...match, to: chosen.to }] });
              }}
            >
              {against.map(({ to, words }) => (
                <option key={words} value={JSON.stringify(to)}>
                  {words}
                </option>
              ))}
            </select>
          </label>
        </>
      )}
      {each && (
        <>
          <FileName value={each.fileName} set={(fileName) => put({ ...each, fileName })} />
          <ColumnSelect
            label={WORDS.addressIn}
            value={each.to ?? ""}
            none={WORDS.noAddressColumn}
            columns={list.found.columns}
            set={(to) => put({ ...each, to: to || null })}
          />
          <label className="flex gap-2 text-small">
            <input type="checkbox" className="accent-bottle" checked={each.skipEmpty} onChange={(e) => put({ ...each, skipEmpty: e.target.checked })} />
            {WORDS.skipEmpty}
          </label>
          <button
            type="button"
            className="justify-self-start font-semibold text-vermilion hover:underline"
            onClick={() => {
              save({ ...spec, each: null });
              close();
            }}
          >
            {WORDS.oneFileForAll}
          </button>
        </>
      )}
      <p className="text-small text-soft">{spec.subject.kind === "dashboard" && !closest ? WORDS.eachNeedsFilter : WORDS.eachHelp}</p>
      <button type="button" className="button justify-self-end" onClick={close}>
        {COMMON.done}
      </button>
    </div>
  );
}

type SelectProps = { label: string; value: string; none?: string; columns: EachColumns["columns"]; set: (column: string) => void };

const ColumnSelect = ({ label, value, none, columns, set }: SelectProps) => (
  <label className="grid gap-0.5">
    {label}
    <select className="field" value={value} onChange={(e) => set(e.target.value)}>
      {(none !== undefined || value === "") && <option value="">{none ?? WORDS.chooseEach}</option>}
      {columns.map((c) => (
        <option key={c.id} value={c.id}>
          {c.heading}
        </option>
      ))}
    </select>
  </label>
);

/** A formula, kept when it is left: halfway through it names nothing. */
function FileName({ value, set }: { value: string; set: (value: string) => void }) {
  const [text, setText] = useState(value);
  return (
    <label className="grid gap-0.5">
      {WORDS.fileNameFormula}
      <input
        className="field font-mono text-small"
        value={text}
        placeholder="CONCAT_WS(' ', shipper, CURRENT_DATE)"
        spellCheck={false}
        onChange={(e) => setText(e.target.value)}
        onBlur={() => text !== value && set(text)}
      />
    </label>
  );
}
