"use client";

import { useState } from "react";
import { comparisonWords } from "@/core/brief/brief";
import * as edit from "@/core/query/edit";
import { scopeOf } from "@/core/query/reach";
import { plural } from "@/core/schema/schema";
import { Choice, type EditorProps, Remove } from "../../editors/parts";
import { COMMON } from "../../words";
import { WORDS } from "../words";

/** The table a question starts from. */
export function SourceEditor({ spec, schema, change, close }: EditorProps) {
  const [wanted, setWanted] = useState("");
  const found = schema.tables.filter((t) => t.label.includes(wanted.toLowerCase()));
  return (
    <>
      <p className="caption pb-1">{WORDS.sourceTable}</p>
      <input className="field mb-2" placeholder={COMMON.findATable} value={wanted} onChange={(e) => setWanted(e.target.value)} aria-label={COMMON.findATable} />
      {found.map((t) => (
        <Choice
          key={t.name}
          chosen={t.name === spec.source}
          onClick={() => {
            if (t.name !== spec.source)
              change({
                version: 1,
                source: t.name,
                joins: [],
                conditions: [],
                grouped: false,
                columns: edit.firstColumns(schema, t.name),
                order: [],
                limit: null,
                parameters: spec.parameters,
              });
            close();
          }}
        >
          {t.label} <span className="text-soft">{t.rows.toLocaleString()}</span>
        </Choice>
      ))}
      <p className="pt-2 text-small text-soft">{WORDS.choosingAnotherTableStartsA}</p>
    </>
  );
}

/** How a brought table is matched, and the way to let it go. */
export function JoinEditor({ spec, schema, change, close, id }: EditorProps & { id: string }) {
  const scope = scopeOf(spec, schema);
  const join = scope.find((s) => s.id === id)?.join;
  const from = scope.find((s) => s.alias === join?.from)?.table;
  const words = join?.on.map((on) => comparisonWords(on, from, join.table)).join(COMMON.and);
  return (
    <>
      <p className="caption pb-1">{WORDS.joined}</p>
      <p>{words ?? WORDS.theLinkOfThisJoin}</p>
      {join && <p className="pt-1 text-small text-soft">{join.leadsTo === "many" ? WORDS.leadsToManyARow(plural(join.table.label)) : WORDS.leadsToOneNoRow}</p>}
      <Remove
        onClick={() => {
          change(edit.removeJoin(spec, id));
          close();
        }}
      >
        {WORDS.removeWithItsColumnsAnd}
      </Remove>
    </>
  );
}

/** Whether rows without a match stay. */
export function UnmatchedEditor({ spec, change, close, id }: EditorProps & { id: string }) {
  const join = spec.joins.find((j) => j.id === id);
  const set = (unmatched: "keep" | "only") => {
    change(edit.setUnmatched(spec, id, unmatched));
    close();
  };
  return (
    <>
      <p className="caption pb-1">{WORDS.rowsWithoutAMatch}</p>
      <Choice chosen={join?.unmatched === "keep"} onClick={() => set("keep")}>
        {WORDS.keepWithEmptyColumns}
      </Choice>
      <Choice chosen={join?.unmatched === "only"} onClick={() => set("only")}>
        {WORDS.leaveOut}
      </Choice>
    </>
  );
}
