"use client";

import type { PostingSpec } from "@/core/posting/spec";
import { findColumn, findTable, type Schema } from "@/core/schema/schema";
import { Choice } from "../editors/parts";
import { WORDS } from "./words";

type Props = {
  name: string;
  spec: PostingSpec;
  schema: Schema;
  queries: { id: string; name: string }[];
  change: (next: PostingSpec) => void;
  close: () => void;
};

/** The editor of one phrase of a posting's brief. */
export function PostingPhrase({ name, spec, schema, queries, change, close }: Props) {
  const pick = (next: Partial<PostingSpec>) => () => {
    change({ ...spec, ...next });
    close();
  };
  const table = findTable(schema, spec.target);
  switch (name) {
    case "source":
      return (
        <>
          <p className="caption pb-1">{WORDS.fromATable}</p>
          {schema.tables.map((t) => (
            <Choice
              key={t.name}
              chosen={spec.source.kind === "table" && spec.source.table === t.name}
              onClick={pick({ source: { kind: "table", table: t.name } })}
            >
              {t.label}
            </Choice>
          ))}
          {queries.length > 0 && <p className="caption pt-2 pb-1">{WORDS.orAQuery}</p>}
          {queries.map((q) => (
            <Choice
              key={q.id}
              chosen={spec.source.kind === "query" && spec.source.id === q.id}
              onClick={pick({ source: { kind: "query", id: q.id, values: {} } })}
            >
              {q.name}
            </Choice>
          ))}
          {spec.source.kind === "file" && <p className="pt-2 text-small text-soft">{WORDS.fileSource(spec.source.name)}</p>}
        </>
      );
    case "action":
      return (
        <>
          <Choice chosen={spec.action === "add"} onClick={pick({ action: "add" })}>
            {WORDS.add} <span className="text-small text-soft">{WORDS.rowsThatDoNotExist}</span>
          </Choice>
          <Choice chosen={spec.action === "change"} onClick={pick({ action: "change" })}>
            {WORDS.change} <span className="text-small text-soft">{WORDS.matchingRows}</span>
          </Choice>
          <Choice chosen={spec.action === "remove"} onClick={pick({ action: "remove" })}>
            {WORDS.remove} <span className="text-small text-soft">{WORDS.matchingRows}</span>
          </Choice>
        </>
      );
    case "target":
      return (
        <>
          <p className="caption pb-1">{WORDS.target}</p>
          {schema.tables
            .filter((t) => !t.view)
            .map((t) => (
              <Choice key={t.name} chosen={t.name === spec.target} onClick={pick(t.name === spec.target ? {} : { target: t.name, pairs: [], same: [] })}>
                {t.label}
              </Choice>
            ))}
        </>
      );
    case "same":
      return (
        <>
          <p className="caption pb-1">{WORDS.matchRowsBy}</p>
          {spec.pairs.map((p) => (
            <label key={p.column} className="flex gap-2 py-0.5">
              <input
                type="checkbox"
                className="accent-bottle"
                checked={spec.same.includes(p.column)}
                onChange={(e) => change({ ...spec, same: e.target.checked ? [...spec.same, p.column] : spec.same.filter((c) => c !== p.column) })}
              />
              {(table && findColumn(table, p.column)?.label) ?? p.column}
            </label>
          ))}
          {spec.pairs.length === 0 && <p className="text-soft">{WORDS.mapAColumnFirst}</p>}
        </>
      );
    case "present":
      return (
        <>
          <p className="caption pb-1">{WORDS.existingRows}</p>
          <Choice chosen={spec.present === "leave"} onClick={pick({ present: "leave" })}>
            {WORDS.leftUnchanged}
          </Choice>
          <Choice chosen={spec.present === "change"} onClick={pick({ present: "change" })}>
            {WORDS.updatedFromTheSource}
          </Choice>
          <Choice chosen={spec.present === "add"} onClick={pick({ present: "add" })}>
            {WORDS.addedAnyway}
          </Choice>
        </>
      );
    case "breaking":
      return (
        <>
          <p className="caption pb-1">{WORDS.rowsThatOtherRowsRefer}</p>
          <Choice chosen={spec.breaking === "refuse"} onClick={pick({ breaking: "refuse" })}>
            {WORDS.refused}
          </Choice>
          <Choice chosen={spec.breaking === "allow"} onClick={pick({ breaking: "allow" })}>
            {WORDS.removedAnyway} <span className="text-small text-soft">{WORDS.theReferencesThenLeadNowhere}</span>
          </Choice>
        </>
      );
    default:
      return null;
  }
}
