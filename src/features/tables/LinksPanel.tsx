"use client";

import { useState } from "react";
import { comparisonWords } from "@/core/brief/brief";
import type { LinkSpec } from "@/core/schema/linkSpec";
import { comparisons, findColumn, findTable, type Schema, stepsFrom, type Table } from "@/core/schema/schema";
import { writeCount } from "@/core/types/format";
import type { LinkSuggestion } from "@/server/jobs/links/evidence";
import { filled } from "@/ui/filled";
import { Notice } from "@/ui/Notice";
import { Link } from "../Link";
import { useAnswer } from "../useAnswer";
import { COMMON } from "../words";
import { useLocale } from "../workspace/locale";
import { LinkMaker } from "./LinkMaker";
import { removeLink } from "./removeLink";
import { WORDS } from "./words";

type Props = { table: Table; schema: Schema; onSaved: () => void };

/** The links of a table seen from its rows; those the data suggests; and a way to make one by hand. */
export function LinksPanel({ table, schema, onSaved }: Props) {
  const [making, setMaking] = useState<LinkSpec | "blank" | null>(null);
  const broken = schema.broken?.filter((b) => b.kind === "link" && b.table === table.name) ?? [];
  if (making)
    return (
      <LinkMaker
        table={table}
        schema={schema}
        first={making === "blank" ? null : making}
        onDone={(saved) => {
          setMaking(null);
          if (saved) onSaved();
        }}
      />
    );
  return (
    <div className="grid gap-4">
      <ul>
        {stepsFrom(schema, table.name).map(({ step, far }) => (
          <LinkLine key={`${step.link} ${step.toward}`} step={step} far={far} table={table} schema={schema} onSaved={onSaved} />
        ))}
        {stepsFrom(schema, table.name).length === 0 && <p className="text-soft">{WORDS.thisTableHasNoLinks}</p>}
      </ul>
      {broken.map((b) => (
        <Notice key={b.id} tone="wrong">
          {filled(
            WORDS.linkBroken,
            b.label,
            b.why,
            <button type="button" className="link" onClick={() => void removeLink(b.id, b.label, onSaved)}>
              {COMMON.remove}
            </button>,
          )}
        </Notice>
      ))}
      <button type="button" className="button justify-self-start" onClick={() => setMaking("blank")}>
        {WORDS.newLink}
      </button>
      <Suggestions table={table} schema={schema} choose={setMaking} />
    </div>
  );
}

type LineProps = Props & Pick<ReturnType<typeof stepsFrom>[number], "step" | "far">;

function LinkLine({ step, far, table, schema, onSaved }: LineProps) {
  const link = schema.links.find((l) => l.id === step.link);
  const other = findTable(schema, far.table);
  const words = link
    ? comparisons(link, step.toward)
        .map((c) => comparisonWords(c, table, other))
        .join(COMMON.and)
    : "";
  return (
    <li className="border-b border-hairline py-1">
      <span className="flex items-baseline gap-1.5">
        <span className={far.leadsTo === "many" ? "text-ochre" : "text-soft"}>{far.leadsTo}</span>
        <Link className="link" href={`/tables/${encodeURIComponent(far.table)}`}>
          {far.name}
        </Link>
        {link?.madeBy === "person" && (
          <button
            type="button"
            aria-label={WORDS.removeLinkTo(far.name)}
            className="small-button ml-auto text-vermilion"
            onClick={() => void removeLink(link.id, far.name, onSaved)}
          >
            ×
          </button>
        )}
      </span>
      <span className="text-small text-soft">
        {words}
        {link && (
          <>
            {" · "}
            <Link className="link" href={`/links/${encodeURIComponent(link.id)}`} aria-label={WORDS.matchesOf(far.name)}>
              {WORDS.linkMatches}
            </Link>
          </>
        )}
      </span>
    </li>
  );
}

function Suggestions({ table, schema, choose }: { table: Table; schema: Schema; choose: (spec: LinkSpec) => void }) {
  const locale = useLocale();
  const { answer, failure, running } = useAnswer<LinkSuggestion[]>("/api/links/suggest", { table: table.name }, { settleMs: 0 });
  const percent = (part: number, whole: number) =>
    new Intl.NumberFormat(locale.locale, { style: "percent", maximumFractionDigits: 0 }).format(whole === 0 ? 0 : part / whole);
  if (failure) return <Notice tone="look">{failure.message}</Notice>;
  return (
    <div>
      <h3 className="caption pb-1">{WORDS.suggestedLinks}</h3>
      {running && !answer && <p className="text-soft">{WORDS.comparingValues}</p>}
      {answer?.length === 0 && <p className="text-soft">{WORDS.noMatchingColumnsFoundIn}</p>}
      <ul>
        {answer?.slice(0, 8).map((s) => (
          <li key={JSON.stringify(s.spec)} className="border-b border-hairline py-1">
            <button type="button" className="link text-left" onClick={() => choose(s.spec)}>
              {endWords(schema, s.spec.a)} = {endWords(schema, s.spec.b)}
            </button>
            <p className="text-small text-soft">
              {WORDS.suggestion(percent(s.found, s.values), percent(s.used, s.farValues), s.likeness > 0.5 ? WORDS.similarNames : "")}
              {s.alike > 0 && WORDS.alike(writeCount(s.alike, locale))}
            </p>
          </li>
        ))}
      </ul>
    </div>
  );
}

function endWords(schema: Schema, end: LinkSpec["a"]): string {
  const table = findTable(schema, end.table);
  const column = table && findColumn(table, end.columns[0] ?? "");
  return `${table?.label ?? end.table}.${column?.label ?? end.columns[0]}`;
}
