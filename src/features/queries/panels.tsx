"use client";

import { aliasesOf } from "@/core/expression/expr";
import { type Amount, type Proof, type ProofPick, type ProofStep, proofColumn, proofColumns } from "@/core/proof/proof";
import { compileRows } from "@/core/query/compile";
import { sqlite } from "@/core/query/dialect/sqlite";
import * as edit from "@/core/query/edit";
import type { Plan } from "@/core/query/plan";
import { defaultText } from "@/core/query/resolve";
import type { Parameter, ParameterValues, QuerySpec } from "@/core/query/spec";
import { plural } from "@/core/schema/schema";
import { RELATIVE_DATES, type RelativeDate } from "@/core/types/date";
import { decimalText } from "@/core/types/decimal";
import { cellWriter, counted, writeCount } from "@/core/types/format";
import { scaleOf } from "@/core/types/valueType";
import { Notice } from "@/ui/Notice";
import { useLocale } from "../shell/Shell";
import { ValueInput } from "./editors";

type ProofProps = {
  spec: QuerySpec;
  plan: Plan | null;
  proof: Proof | null;
  failure: string | null;
  running: boolean;
  pick: ProofPick | undefined;
  onPick: (pick: ProofPick | undefined) => void;
  change: (next: QuerySpec) => void;
};

/** The account of how the rows and the chosen figure came about; every number opens its rows. */
export function ProofPanel({ spec, plan, proof, failure, running, pick, onPick, change }: ProofProps) {
  const locale = useLocale();
  if (failure) return <Notice tone="wrong">The proof could not be made: {failure}</Notice>;
  if (!plan || !proof) return <p className="text-soft">{running ? "Counting…" : "The proof appears when the query runs."}</p>;
  const figures = proofColumns(plan);
  const write = proof.figure && cellWriter(proof.figure.type, {}, locale);
  const source = plan.source.table.label;
  const same = (p: ProofPick) => JSON.stringify(p) === JSON.stringify(pick);

  const line = (label: React.ReactNode, amount: Amount, to: ProofPick, style: "main" | "part" | "total" = "part", warn = false) => {
    const figure = write?.(amount.figure);
    return (
      <tr
        key={`${JSON.stringify(to)}`}
        className={
          { main: "border-t border-ink", part: "text-soft", total: "border-t border-b-[3px] border-ink font-semibold [border-bottom-style:double]" }[style]
        }
      >
        <th scope="row" className={`py-1 text-left font-normal ${style === "part" ? "pl-3" : ""} ${style === "total" ? "font-semibold" : ""}`}>
          {label}
        </th>
        <td className="py-1 pl-1 text-right align-top">
          <button
            type="button"
            disabled={amount.rows === 0}
            aria-pressed={same(to)}
            onClick={() => onPick(same(to) ? undefined : to)}
            className={`rounded px-0.5 enabled:underline enabled:decoration-dotted enabled:underline-offset-4 enabled:hover:bg-bottle-tint aria-pressed:bg-bottle-tint ${warn && amount.rows > 0 ? "font-semibold text-ochre" : ""}`}
          >
            {writeCount(amount.rows, locale)}
          </button>
        </td>
        {write && <td className={`py-1 pl-1 text-right align-top ${figure?.negative ? "text-vermilion" : ""}`}>{figure?.text || "–"}</td>}
      </tr>
    );
  };

  const stepLines = (step: ProofStep) => {
    switch (step.kind) {
      case "condition":
        return [line(`left out by ${step.label}`, step.leftOut, { part: "leftOut", id: step.id })];
      case "kept":
        return [line("kept", step.amount, { part: "kept" }, "main")];
      case "join":
        return [
          line(`${step.label} found`, step.found, { part: "found", id: step.id }),
          line(`${step.label} missing${step.unmatched === "only" ? ", left out" : ""}`, step.missing, { part: "missing", id: step.id }, "part", true),
          ...(step.leadsTo === "many" ? [line(`repeated by ${step.label}`, step.repeated, { part: "repeated", id: step.id }, "part", true)] : []),
        ];
      default:
        return step satisfies never;
    }
  };

  return (
    <div className={`grid gap-4 ${running ? "opacity-60" : ""}`}>
      {figures.length > 1 && (
        <label className="flex items-center justify-between gap-2 text-small text-soft">
          following
          <select className="field w-40" value={proofColumn(plan, spec.proofColumn)?.id} onChange={(e) => change({ ...spec, proofColumn: e.target.value })}>
            {figures.map((c) => (
              <option key={c.id} value={c.id}>
                {c.heading}
              </option>
            ))}
          </select>
        </label>
      )}
      <table className="w-full text-small" data-testid="proof">
        <caption className="sr-only">How the rows{proof.figure ? ` and ${proof.figure.heading}` : ""} came about</caption>
        <thead>
          <tr className="text-tiny text-faint">
            <th className="font-normal">
              <span className="sr-only">Step</span>
            </th>
            <th className="pb-1 text-right font-normal">rows</th>
            {write && <th className="max-w-24 truncate pb-1 text-right font-normal">{proof.figure?.heading}</th>}
          </tr>
        </thead>
        <tbody>
          {line(source, proof.source, { part: "source" }, "main")}
          {proof.steps.flatMap(stepLines)}
          {line(proof.groups === null ? "in the sheet" : `in ${counted(proof.groups, "group", locale)}`, proof.sheet, { part: "sheet" }, "total")}
        </tbody>
      </table>
      {proof.agrees ? (
        <Notice tone="agrees">
          <b>✓ Proved.</b> The account above comes to what the query itself counts.
        </Notice>
      ) : (
        <Notice tone="wrong">
          <b>Does not agree.</b> The account comes to {counted(proof.accounted.rows, "row", locale)}, the query counts {writeCount(proof.sheet.rows, locale)}.
          The data may have changed while it was read: run it again.
        </Notice>
      )}
      {plan.limit !== null && (
        <Notice tone="look">The sheet keeps the first {counted(plan.limit, "row", locale)} of these; its footing is theirs alone.</Notice>
      )}
      {proof.steps
        .filter((s) => s.kind === "join")
        .map((step) => (
          <JoinNotices key={step.id} step={step} {...{ spec, plan, proof, source, onPick, change }} />
        ))}
    </div>
  );
}

/** The totals that a join to many inflates: those of tables that were there before it. */
function inflatedBy(plan: Plan, id: string): string[] {
  const at = plan.joins.findIndex((j) => j.id === id);
  const after = new Set<string>();
  for (const join of plan.joins.slice(at)) if (join.id === id || after.has(join.from)) after.add(join.alias);
  return plan.columns.filter((c) => c.totalled && ![...aliasesOf(c.expr)].some((alias) => after.has(alias))).map((c) => c.heading);
}

function JoinNotices({
  step,
  spec,
  plan,
  proof,
  source,
  onPick,
  change,
}: Pick<ProofProps, "spec" | "change" | "onPick"> & { step: Extract<ProofStep, { kind: "join" }>; proof: Proof; source: string; plan: Plan }) {
  const locale = useLocale();
  const write = proof.figure && cellWriter(proof.figure.type, {}, locale);
  const amount = (a: Amount) => (write && a.figure !== null ? write(a.figure).text : null);
  const name = step.label;
  const from = spec.joins.find((own) => own.id === step.id)?.from;
  const before = proof.steps.find((s) => s.kind === "join" && s.id === from);
  // What the table before already lacked is told there.
  const told = before?.kind === "join" && before.missing.rows === step.missing.rows;
  const missing = amount(step.missing);
  const inflated = amount(step.repeated);
  const others = inflatedBy(plan, step.id).filter((heading) => heading !== proof.figure?.heading);
  return (
    <>
      {step.missing.rows > 0 && !told && (
        <Notice tone="look">
          <b>
            {counted(step.missing.rows, source, locale, plural(source))} {step.missing.rows === 1 ? "has" : "have"} no {name}.
          </b>{" "}
          {step.unmatched === "keep" ? (
            <>
              Kept, with the {name}’s columns empty.{missing && ` An exact match would leave out ${missing}.`}
            </>
          ) : (
            <>Left out{missing && `, and with them ${missing}`}.</>
          )}
          <span className="mt-1 flex gap-3">
            <button type="button" className="link" onClick={() => onPick({ part: "missing", id: step.id })}>
              See the {writeCount(step.missing.rows, locale)}
            </button>
            <button type="button" className="link" onClick={() => change(edit.setUnmatched(spec, step.id, step.unmatched === "keep" ? "only" : "keep"))}>
              {step.unmatched === "keep" ? "Leave them out" : "Keep them"}
            </button>
          </span>
        </Notice>
      )}
      {step.repeated.rows > 0 && (
        <Notice tone="look">
          <b>Bringing {step.label} repeats rows.</b> {counted(step.repeated.rows, "row", locale)} more than there were, one up to{" "}
          {writeCount(step.times, locale)} times.
          {inflated && ` The total of ${proof.figure?.heading} is ${inflated} more than without the repeats.`}
          {others.length > 0 && ` Counted again too: ${others.join(", ")}.`}
          <span className="mt-1 flex gap-3">
            <button type="button" className="link" onClick={() => onPick({ part: "repeated", id: step.id })}>
              See them
            </button>
            <button type="button" className="link" onClick={() => change(edit.removeJoin(spec, step.id))}>
              Let {name} go
            </button>
          </span>
        </Notice>
      )}
    </>
  );
}

const TYPES: Parameter["type"][] = ["text", "whole", "decimal", "date", "yesno", "choice"];
const TYPE_NAMES: Record<Parameter["type"], string> = {
  text: "text",
  whole: "whole number",
  decimal: "decimal",
  date: "date",
  yesno: "yes/no",
  choice: "one of a list",
};
const VALUE_TYPES = {
  text: { kind: "text" },
  whole: { kind: "whole" },
  decimal: { kind: "decimal", scale: 6 },
  date: { kind: "date" },
  yesno: { kind: "yesno" },
  choice: { kind: "text" },
} as const;

/** The parameters of a query: today's values, and how each is asked for. */
export function ParametersPanel({
  spec,
  values,
  today,
  change,
  setValues,
}: {
  spec: QuerySpec;
  values: ParameterValues;
  today: string;
  change: (next: QuerySpec) => void;
  setValues: (next: ParameterValues) => void;
}) {
  const update = (i: number, next: Partial<Parameter>) => change({ ...spec, parameters: spec.parameters.map((p, k) => (k === i ? { ...p, ...next } : p)) });
  const rename = (i: number, name: string) => {
    const was = spec.parameters[i]?.name;
    if (!/^[\p{L}_][\p{L}\p{N}_ ]*$/u.test(name) || spec.parameters.some((p, k) => k !== i && p.name === name)) return;
    const conditions = spec.conditions.map((c) => ({ ...c, values: c.values.map((v) => (v.kind === "parameter" && v.name === was ? { ...v, name } : v)) }));
    change({ ...spec, conditions, parameters: spec.parameters.map((p, k) => (k === i ? { ...p, name } : p)) });
  };
  const add = () => {
    let name = "parameter";
    for (let n = 2; spec.parameters.some((p) => p.name === name); n++) name = `parameter ${n}`;
    change({ ...spec, parameters: [...spec.parameters, { name, type: "text", optional: true }] });
  };
  return (
    <div className="grid gap-4">
      {spec.parameters.length === 0 && <p className="text-soft">Nothing is asked for. Open a value in the brief and choose “Ask for it when run”.</p>}
      {spec.parameters.map((p, i) => (
        <fieldset key={`parameter ${i}`} className="border-b border-hairline pb-3">
          <legend className="pb-1 font-semibold text-ochre">{p.name}</legend>
          {p.type === "choice" ? (
            <select className="field" aria-label={p.name} value={values[p.name] ?? ""} onChange={(e) => setValues({ ...values, [p.name]: e.target.value })}>
              <option value="">{defaultText(p, today) ?? "–"}</option>
              {p.choices?.map((c) => (
                <option key={c}>{c}</option>
              ))}
            </select>
          ) : (
            <ValueInput
              type={VALUE_TYPES[p.type]}
              label={p.name}
              value={values[p.name] || (defaultText(p, today) ?? "")}
              onChange={(v) => setValues({ ...values, [p.name]: v })}
            />
          )}
          {values[p.name] && (
            <button
              type="button"
              className="link pt-1 text-small"
              onClick={() => {
                const { [p.name]: _, ...rest } = values;
                setValues(rest);
              }}
            >
              Back to the default
            </button>
          )}
          <details className="pt-1 text-small">
            <summary className="text-soft">How it is asked for</summary>
            <div className="grid gap-2 bg-sheet p-2">
              <label className="grid gap-0.5">
                Name
                <input
                  className="field"
                  defaultValue={p.name}
                  key={p.name}
                  onBlur={(e) => rename(i, e.target.value.trim())}
                  onKeyDown={(e) => {
                    if (e.key === "Enter") e.currentTarget.blur();
                  }}
                />
              </label>
              <label className="grid gap-0.5">
                Type
                <select className="field" value={p.type} onChange={(e) => update(i, { type: e.target.value as Parameter["type"], default: undefined })}>
                  {TYPES.map((t) => (
                    <option key={t} value={t}>
                      {TYPE_NAMES[t]}
                    </option>
                  ))}
                </select>
              </label>
              {p.type === "choice" && (
                <label className="grid gap-0.5">
                  Choices, a line each
                  <textarea className="field h-20" value={p.choices?.join("\n") ?? ""} onChange={(e) => update(i, { choices: e.target.value.split("\n") })} />
                </label>
              )}
              <label className="grid gap-0.5">
                When nothing is given
                {p.type === "date" && (
                  <select
                    className="field"
                    value={p.default?.kind === "relative" ? p.default.date : "fixed"}
                    onChange={(e) =>
                      update(i, { default: e.target.value === "fixed" ? undefined : { kind: "relative", date: e.target.value as RelativeDate } })
                    }
                  >
                    <option value="fixed">a fixed date</option>
                    {(Object.keys(RELATIVE_DATES) as RelativeDate[]).map((d) => (
                      <option key={d} value={d}>
                        {RELATIVE_DATES[d].words}
                      </option>
                    ))}
                  </select>
                )}
                {p.default?.kind !== "relative" && (
                  <ValueInput
                    type={VALUE_TYPES[p.type]}
                    label={`Default of ${p.name}`}
                    value={p.default?.text ?? ""}
                    onChange={(v) => update(i, { default: v === "" ? undefined : { kind: "fixed", text: v } })}
                  />
                )}
              </label>
              <label className="flex gap-2">
                <input type="checkbox" className="accent-bottle" checked={p.optional ?? false} onChange={(e) => update(i, { optional: e.target.checked })} />
                May be left empty; its conditions then fall away
              </label>
              <button
                type="button"
                className="text-left font-semibold text-vermilion hover:underline"
                onClick={() =>
                  change({
                    ...spec,
                    parameters: spec.parameters.filter((_, k) => k !== i),
                    conditions: spec.conditions.filter((c) => !c.values.some((v) => v.kind === "parameter" && v.name === p.name)),
                  })
                }
              >
                Remove, with the conditions that use it
              </button>
            </div>
          </details>
        </fieldset>
      ))}
      <button type="button" className="link justify-self-start" onClick={add}>
        Add a parameter
      </button>
    </div>
  );
}

/** The SQL that runs, with its bound values apart. */
export function SqlPanel({ plan }: { plan: Plan | null }) {
  if (!plan) return <p className="text-soft">The SQL appears when the query can run.</p>;
  const sql = compileRows(plan, sqlite);
  return (
    <div className="grid gap-3">
      <pre className="overflow-x-auto border border-rule bg-sheet p-2 font-mono text-tiny leading-5 whitespace-pre-wrap">{sql.text}</pre>
      <table className="w-full text-small">
        <caption className="caption pb-1 text-left">Bound values</caption>
        <tbody>
          {sql.values.map((v) => (
            <tr key={v.name} className="border-t border-hairline">
              <th scope="row" className="py-1 text-left font-mono font-normal">
                @{v.name}
              </th>
              <td className="py-1 text-right">
                {v.value === null ? "empty" : scaleOf(v.type) > 0 ? decimalText(BigInt(v.value), scaleOf(v.type)) : v.value}
                {v.parameter && <span className="text-ochre"> {v.parameter}</span>}
              </td>
            </tr>
          ))}
          {sql.values.length === 0 && (
            <tr>
              <td className="text-soft">none</td>
            </tr>
          )}
        </tbody>
      </table>
    </div>
  );
}
