"use client";

import { useState } from "react";
import { comparisonWords, STACK_CHOICES } from "@/core/brief/brief";
import { JOIN_WAY_NAMES, type JoinWay, STACK_NAMES, type StackName } from "@/core/query/choices";
import * as edit from "@/core/query/edit";
import { addHaving, addMatchCondition, joinTable, setWay } from "@/core/query/editJoins";
import { addToStack, pairInStack, removeFromStack } from "@/core/query/editStack";
import { emptyQuery } from "@/core/query/empty";
import { brings, isLinked, JOIN_WAYS } from "@/core/query/joinWays";
import { proposePairs, tablesOfJoin } from "@/core/query/proposePairs";
import { matchColumns, scopeOf } from "@/core/query/reach";
import { pairedWith } from "@/core/query/source";
import type { QuerySpec } from "@/core/query/spec";
import { findTable, plural, type Schema, stepsFrom, type Table } from "@/core/schema/schema";
import { onEnter } from "@/ui/onEnter";
import { Choice, type EditorProps, LedOn, Remove } from "../../editors/parts";
import { tableRows } from "../../tableRows";
import { COMMON } from "../../words";
import { useLocale } from "../../workspace/locale";
import { WORDS } from "../words";
import { PairProposals } from "./PairProposals";
import { SamplePairs } from "./SamplePairs";

/** What a query starts from: a table, a saved query, or several of them put together. */
export function SourceEditor(props: EditorProps) {
  const { spec, schema, change, close } = props;
  const [stacking, setStacking] = useState(false);
  const own = findTable(schema, spec.source);
  if (stacking)
    return (
      <LedOn>
        <SourceList {...props} caption={WORDS.putTogetherWith} choose={(name) => change(addToStack(spec, name))} />
      </LedOn>
    );
  return (
    <>
      <SourceList
        {...props}
        caption={WORDS.sourceTable}
        chosen={spec.source}
        choose={(name) => {
          if (name !== spec.source) change({ ...emptyQuery(name), columns: edit.firstColumns(schema, name), parameters: spec.parameters });
        }}
      />
      <p className="pt-2 text-small text-soft">{WORDS.choosingAnotherTableStartsA}</p>
      {spec.stack && own && (
        <StackParts
          {...props}
          stack={spec.stack}
          remove={(at) => {
            change(removeFromStack(spec, at));
            close();
          }}
        />
      )}
      <button type="button" className="link pt-2" onClick={() => setStacking(true)}>
        {WORDS.putTogether}
      </button>
    </>
  );
}

/** The tables and saved queries that rows can come from. */
export function SourceList({
  schema,
  close,
  caption,
  chosen,
  choose,
}: Pick<EditorProps, "schema" | "close"> & { caption: string; chosen?: string; choose: (name: string) => void }) {
  const locale = useLocale();
  const [wanted, setWanted] = useState("");
  const matches = (t: Table) => t.label.toLowerCase().includes(wanted.toLowerCase());
  const usable = (schema.queries ?? []).filter((t) => !t.rowsOf?.broken && !t.inner);
  const choices = (list: Table[]) =>
    list.filter(matches).map((t) => (
      <Choice
        key={t.name}
        chosen={t.name === chosen}
        onClick={() => {
          choose(t.name);
          close();
        }}
      >
        {t.label} {t.rowsOf ? "" : <span className="text-soft">{tableRows(t, locale)}</span>}
      </Choice>
    ));
  return (
    <>
      <p className="caption pb-1">{caption}</p>
      <input
        className="field mb-2"
        placeholder={COMMON.findATable}
        value={wanted}
        onChange={(e) => setWanted(e.target.value)}
        onKeyDown={onEnter(() => {
          const [first] = [...schema.tables, ...usable].filter(matches);
          if (!first) return;
          choose(first.name);
          close();
        })}
        aria-label={COMMON.findATable}
      />
      <div className="max-h-64 overflow-auto px-1">
        {choices(schema.tables)}
        {usable.some(matches) && <p className="caption pt-2 pb-1">{WORDS.savedQueries}</p>}
        {choices(usable)}
      </div>
    </>
  );
}

/** How the rows of several sources are put together, and which of their columns stand for the first one's. */
function StackParts({ spec, schema, change, stack, remove }: EditorProps & { stack: NonNullable<QuerySpec["stack"]>; remove: (at: number) => void }) {
  const first = findTable(schema, spec.source);
  return (
    <div className="mt-2 border-t border-hairline pt-2">
      <label className="grid gap-0.5 text-small">
        {WORDS.rowsPutTogether}
        <select
          className="field"
          aria-label={WORDS.rowsPutTogether}
          value={stack.how}
          onChange={(e) => change({ ...spec, stack: { ...stack, how: e.target.value as StackName } })}
        >
          {STACK_NAMES.map((how) => (
            <option key={how} value={how}>
              {STACK_CHOICES[how]}
            </option>
          ))}
        </select>
      </label>
      {stack.parts.map((name, at) => {
        const part = findTable(schema, name);
        return (
          <details key={name} className="pt-2">
            <summary className="cursor-pointer">{part?.label ?? name}</summary>
            {first?.columns.map((column) => (
              <label key={column.name} className="grid grid-cols-2 items-center gap-2 py-0.5 text-small">
                {column.label}
                <select
                  className="field"
                  aria-label={WORDS.pairedWith(column.label)}
                  value={(part && pairedWith(stack, at, column, part)) ?? ""}
                  onChange={(e) => change(pairInStack(spec, at, column.name, e.target.value || null))}
                >
                  <option value="">{WORDS.leaveEmpty}</option>
                  {part?.columns.map((c) => (
                    <option key={c.name} value={c.name}>
                      {c.label}
                    </option>
                  ))}
                </select>
              </label>
            ))}
            <Remove onClick={() => remove(at)}>{COMMON.removeNamed(part?.label ?? name)}</Remove>
          </details>
        );
      })}
    </div>
  );
}

/** The end of a link that a join leads to. */
const farOf = (spec: QuerySpec, schema: Schema, id: string) => {
  const join = spec.joins.find((j) => j.id === id);
  return join && isLinked(join) ? schema.links.find((l) => l.id === join.link)?.[join.toward] : undefined;
};

/** How a joined table is matched, and the way to remove it. */
export function JoinEditor(props: EditorProps & { id: string }) {
  const { spec, schema, change, close, id } = props;
  const given = spec.joins.find((j) => j.id === id);
  if (given && (!isLinked(given) || !brings(given.way))) return <MatchEditor {...props} />;
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
  const far = farOf(spec, schema, id)?.name ?? findTable(schema, edit.tableOf(spec, schema, id) ?? "")?.label ?? "";
  const near = plural(from?.path.at(-1) ?? from?.table.label ?? COMMON.rows);
  const ways = JOIN_WAY_NAMES.filter((way) => !(join && isLinked(join)) || way !== "every");
  return (
    <>
      <p className="caption pb-1">{WORDS.rowsWithoutAMatch}</p>
      {ways.map((way) => (
        <Choice
          key={way}
          chosen={join?.way === way}
          onClick={() => {
            change(setWay(spec, id, way));
            close();
          }}
        >
          {JOIN_WAYS[way].choice(plural(far), near)}
          {way === "every" && <span className="text-soft"> {everyPairWords(spec, schema, id)}</span>}
        </Choice>
      ))}
      {join && brings(join.way) && <p className="pt-2 text-small text-soft">{WORDS.waysWithoutColumns}</p>}
    </>
  );
}

/** How many rows every pair of two tables would be, where both are counted. */
function everyPairWords(spec: QuerySpec, schema: Schema, id: string): string {
  const { near, far } = tablesOfJoin(spec, schema, id) ?? {};
  return near?.rows && far?.rows ? WORDS.rowsInAll((near.rows * far.rows).toLocaleString()) : "";
}

/** What rows of a table must meet to be a match: one more comparison, or the table let go. */
function MatchEditor({ spec, schema, change, close, id }: EditorProps & { id: string }) {
  const name =
    farOf(spec, schema, id)?.name ??
    scopeOf(spec, schema)
      .find((s) => s.id === id)
      ?.path.at(-1) ??
    "";
  return (
    <>
      <SamplePairs spec={spec} schema={schema} join={id} />
      <PairProposals spec={spec} schema={schema} change={change} join={id} />
      <p className="caption pb-1">{WORDS.onlyMatchesWhere(name)}</p>
      <div className="max-h-56 overflow-auto px-1">
        {matchColumns(spec, schema, id).map(({ left, words }) => (
          <Choice
            key={words}
            onClick={() => {
              if (left.kind === "field") change(addMatchCondition(spec, schema, id, left.column));
              close();
            }}
          >
            {words}
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

/** Another table or saved query to join, by the comparisons the names of its columns suggest or by none yet. */
export function JoinPicker({ way = "keep", ...props }: EditorProps & { way?: JoinWay }) {
  const { spec, schema, change } = props;
  return (
    <SourceList
      {...props}
      caption={WORDS.joinATable}
      choose={(name) => {
        const [near, far] = [findTable(schema, spec.source), findTable(schema, name)];
        change(joinTable(spec, "", name, near && far ? proposePairs(near, far) : [], way));
      }}
    />
  );
}

/** The tables that rows can be asked to have rows of, or none of. */
export function HavingPicker(props: EditorProps) {
  const { spec, schema, change, close } = props;
  const [comparing, setComparing] = useState<"has" | "hasNone" | null>(null);
  if (comparing)
    return (
      <LedOn>
        <JoinPicker {...props} way={comparing} />
      </LedOn>
    );
  const links = scopeOf(spec, schema).flatMap((at) => stepsFrom(schema, at.table.name).map(({ step, far }) => ({ at, step, far })));
  return (
    <>
      <p className="caption pb-1">{WORDS.onlyThoseThatHave}</p>
      <div className="max-h-64 overflow-auto px-1">
        {links.flatMap(({ at, step, far }) =>
          (["has", "hasNone"] as const).map((way) => (
            <Choice
              key={`${at.id} ${step.link} ${step.toward} ${way}`}
              onClick={() => {
                change(addHaving(spec, at.id, step, way));
                close();
              }}
            >
              {way === "hasNone" ? `${WORDS.no} ` : ""}
              {[...at.path, far.name].join(" › ")}
            </Choice>
          )),
        )}
        {(["has", "hasNone"] as const).map((way) => (
          <Choice key={way} onClick={() => setComparing(way)}>
            {way === "hasNone" ? `${WORDS.no} ` : ""}
            {WORDS.rowsByComparisons}
          </Choice>
        ))}
      </div>
    </>
  );
}
