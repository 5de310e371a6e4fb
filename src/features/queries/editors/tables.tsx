"use client";

import { useState } from "react";
import { comparisonWords } from "@/core/brief/brief";
import { JOIN_WAY_NAMES } from "@/core/query/choices";
import * as edit from "@/core/query/edit";
import { brings, JOIN_WAYS } from "@/core/query/joinWays";
import { scopeOf } from "@/core/query/reach";
import type { QuerySpec } from "@/core/query/spec";
import { findTable, plural, type Schema, stepsFrom } from "@/core/schema/schema";
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
                version: 2,
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

/** The end of a link that a join leads to. */
const farOf = (spec: QuerySpec, schema: Schema, id: string) => {
  const join = spec.joins.find((j) => j.id === id);
  return schema.links.find((l) => l.id === join?.link)?.[join?.toward ?? "a"];
};

/** How a joined table is matched, and the way to remove it. */
export function JoinEditor(props: EditorProps & { id: string }) {
  const { spec, schema, change, close, id } = props;
  const given = spec.joins.find((j) => j.id === id);
  if (given && !brings(given.way)) return <HavingEditor {...props} />;
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

/** What becomes of rows without a match, on either side. */
export function WayEditor({ spec, schema, change, close, id }: EditorProps & { id: string }) {
  const join = spec.joins.find((j) => j.id === id);
  const from = scopeOf(spec, schema).find((s) => s.id === join?.from);
  const far = farOf(spec, schema, id);
  const near = plural(from?.path.at(-1) ?? from?.table.label ?? COMMON.rows);
  return (
    <>
      <p className="caption pb-1">{WORDS.rowsWithoutAMatch}</p>
      {JOIN_WAY_NAMES.map((way) => (
        <Choice
          key={way}
          chosen={join?.way === way}
          onClick={() => {
            change(edit.setWay(spec, id, way));
            close();
          }}
        >
          {JOIN_WAYS[way].choice(plural(far?.name ?? ""), near)}
        </Choice>
      ))}
      {join && brings(join.way) && <p className="pt-2 text-small text-soft">{WORDS.waysWithoutColumns}</p>}
    </>
  );
}

/** What rows of a table must meet to be a match, where only having them counts. */
function HavingEditor({ spec, schema, change, close, id }: EditorProps & { id: string }) {
  const far = farOf(spec, schema, id);
  const table = findTable(schema, far?.table ?? "");
  return (
    <>
      <p className="caption pb-1">{WORDS.onlyMatchesWhere(far?.name ?? "")}</p>
      <div className="max-h-56 overflow-auto">
        {(table?.columns ?? []).map((c) => (
          <Choice
            key={c.name}
            onClick={() => {
              change(edit.addMatchCondition(spec, schema, id, c.name));
              close();
            }}
          >
            {c.label}
          </Choice>
        ))}
      </div>
      <Remove
        onClick={() => {
          change(edit.removeJoin(spec, id));
          close();
        }}
      >
        {COMMON.remove}
      </Remove>
    </>
  );
}

/** The tables that rows can be asked to have rows of, or none of. */
export function HavingPicker({ spec, schema, change, close }: EditorProps) {
  const links = scopeOf(spec, schema).flatMap((at) => stepsFrom(schema, at.table.name).map(({ step, far }) => ({ at, step, far })));
  return (
    <>
      <p className="caption pb-1">{WORDS.onlyThoseThatHave}</p>
      <div className="max-h-64 overflow-auto">
        {links.flatMap(({ at, step, far }) =>
          (["has", "hasNone"] as const).map((way) => (
            <Choice
              key={`${at.id} ${step.link} ${step.toward} ${way}`}
              onClick={() => {
                change(edit.addHaving(spec, at.id, step, way));
                close();
              }}
            >
              {way === "hasNone" ? `${WORDS.no} ` : ""}
              {[...at.path, far.name].join(" › ")}
            </Choice>
          )),
        )}
      </div>
    </>
  );
}
