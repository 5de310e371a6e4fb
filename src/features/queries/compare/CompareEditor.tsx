"use client";

import { useState } from "react";
import type { ComparePart } from "@/core/brief/brief";
import { type Comparison, sidesOf } from "@/core/query/comparison";
import { setCarried, setFields, setKey, setSide, setTolerance } from "@/core/query/editComparison";
import { emptyQuery } from "@/core/query/empty";
import { type Column, findColumn, type Table } from "@/core/schema/schema";
import { isComparable } from "@/core/types/valueType";
import type { ComparedPair } from "@/server/services/queries/pairs";
import { onEnter } from "@/ui/onEnter";
import { NumberField } from "../../editors/NumberField";
import { Choice, type EditorProps } from "../../editors/parts";
import { useAnswer } from "../../useAnswer";
import { COMMON } from "../../words";
import { useLocale } from "../../workspace/locale";
import { SourceList } from "../editors/tables";
import { WORDS } from "../words";
import { ListFromElsewhere } from "./ListFromElsewhere";

/** The editor of a part of a comparison. */
export function CompareEditor({ part, ...props }: EditorProps & { part: ComparePart }) {
  const { spec, schema, change, close } = props;
  const { compare } = spec;
  if (!compare) return null;
  switch (part) {
    case "here":
    case "there":
      return (
        <>
          <SourceList
            {...props}
            caption={part === "here" ? WORDS.compareThis : COMMON.compareWith}
            chosen={compare[part]}
            choose={(name) => change(setSide(spec, schema, part, name))}
          />
          {part === "there" && (
            <ListFromElsewhere
              schema={schema}
              choose={(name) => {
                change(setSide(spec, schema, part, name));
                close();
              }}
            />
          )}
        </>
      );
    case "key":
      return <PairsEditor {...props} caption={WORDS.sameRowBy} pairs={compare.key} set={(key) => change(setKey(spec, schema, key))} suggest />;
    case "fields":
      return (
        <>
          <PairsEditor {...props} caption={WORDS.fieldsCompared} pairs={compare.fields} set={(fields) => change(setFields(spec, schema, fields))} />
          <div className="mt-3 border-t border-hairline pt-3">
            <CarriedEditor {...props} carried={compare.carried ?? []} />
          </div>
        </>
      );
    case "carried":
      return <CarriedEditor {...props} carried={compare.carried ?? []} />;
    case "tolerance":
      return (
        <div onKeyDown={onEnter(close)}>
          <p className="caption pb-1">{WORDS.tolerance}</p>
          <NumberField label={WORDS.tolerance} value={compare.tolerance} onChange={(tolerance) => change(setTolerance(spec, tolerance))} />
        </div>
      );
    default:
      return part satisfies never;
  }
}

/** Fields shown beside, of both sides or of one. */
const CarriedEditor = ({ carried, ...props }: EditorProps & { carried: Comparison["key"] }) => (
  <PairsEditor {...props} caption={WORDS.fieldsBeside} pairs={carried} set={(next) => props.change(setCarried(props.spec, props.schema, next))} alone />
);

type PairsProps = EditorProps & {
  caption: string;
  pairs: Comparison["key"];
  set: (pairs: Comparison["key"]) => void /** From the data. */;
  suggest?: boolean /** One side is enough. */;
  alone?: boolean;
};

/** Fields of either side that belong together: those there are, and one more. */
function PairsEditor({ spec, schema, caption, pairs, set, suggest = false, alone = false }: PairsProps) {
  const { here, there } = spec.compare ? sidesOf(spec.compare, schema) : {};
  if (!here || !there) return <p className="text-soft">{WORDS.chooseBothSides}</p>;
  const label = (table: Table, column: string) => findColumn(table, column)?.label ?? column;
  return (
    <>
      <p className="caption pb-1">{caption}</p>
      <ul>
        {pairs.map((pair) => (
          <li key={`${pair.here} ${pair.there}`} className="flex items-center gap-2 border-b border-hairline py-0.5">
            <span className="min-w-0 flex-1 truncate">{pairWords(label(here, pair.here), label(there, pair.there), alone)}</span>
            <button type="button" aria-label={WORDS.removePair} className="small-button text-vermilion" onClick={() => set(pairs.filter((p) => p !== pair))}>
              ×
            </button>
          </li>
        ))}
      </ul>
      {suggest && <KeyProposals here={here} there={there} taken={pairs} add={(pair) => set([...pairs, pair])} />}
      <NewPair {...{ here, there, alone }} add={(pair) => set([...pairs, pair])} />
    </>
  );
}

/** What the data suggest that rows of both sides are matched by. */
function KeyProposals({ here, there, taken, add }: { here: Table; there: Table; taken: Comparison["key"]; add: (pair: Comparison["key"][number]) => void }) {
  const locale = useLocale();
  const join = { id: "there", from: "", table: there.name, on: [], way: "keep" as const };
  const { answer } = useAnswer<ComparedPair[]>("/api/query/pairs", { spec: { ...emptyQuery(here.name), joins: [join] }, join: join.id, values: {} });
  const open = (answer ?? []).filter((p) => !taken.some((t) => t.here === p.near && t.there === p.far)).slice(0, 4);
  if (open.length === 0) return null;
  const written = new Intl.NumberFormat(locale.locale, { style: "percent", maximumFractionDigits: 1 });
  const label = (table: Table, column: string) => findColumn(table, column)?.label ?? column;
  return (
    <>
      <p className="caption pt-2 pb-1">{WORDS.proposedComparisons}</p>
      {open.map((p) => (
        <Choice key={`${p.near} ${p.far}`} onClick={() => add({ here: p.near, there: p.far })}>
          {label(here, p.near)} = {label(there, p.far)}
          <span className="block text-small text-soft">{WORDS.matchedShares(written.format(p.share), written.format(p.farShare))}</span>
        </Choice>
      ))}
    </>
  );
}

/** One more pair of fields, of types that can be compared. */
function NewPair({ here, there, add, alone }: { here: Table; there: Table; add: (pair: Comparison["key"][number]) => void; alone: boolean }) {
  const [chosen, setChosen] = useState("");
  const own = findColumn(here, chosen);
  const others = own ? there.columns.filter((c) => isComparable(own.type, c.type)) : alone ? there.columns : [];
  const added = (other: string) => {
    add({ here: chosen, there: other });
    setChosen("");
  };
  return (
    <>
      <div className="grid grid-cols-2 gap-2 pt-2">
        <FieldSelect label={alone ? WORDS.shownHere : WORDS.fieldHere} columns={here.columns} value={chosen} choose={setChosen} />
        <FieldSelect label={alone ? WORDS.shownThere : WORDS.fieldThere} columns={others} value="" choose={(name) => name !== "" && added(name)} />
      </div>
      {alone && chosen !== "" && (
        <button type="button" className="link pt-2 text-small" onClick={() => added("")}>
          {WORDS.showOnlyThisSides}
        </button>
      )}
    </>
  );
}

/** A pair in words: fields of one name, as what is shown beside often is, are said once. */
const pairWords = (here: string, there: string, alone: boolean): string => {
  const named = [here, there].filter((name) => name !== "");
  return alone && new Set(named).size === 1 ? (named[0] ?? "") : named.join(" = ");
};

function FieldSelect({ label, columns, value, choose }: { label: string; columns: Column[]; value: string; choose: (name: string) => void }) {
  return (
    <label className="grid gap-0.5 text-small">
      {label}
      <select className="field" aria-label={label} value={value} onChange={(e) => choose(e.target.value)}>
        <option value="">–</option>
        {columns.map((c) => (
          <option key={c.name} value={c.name}>
            {c.label}
          </option>
        ))}
      </select>
    </label>
  );
}
