"use client";

import { EXISTING, type Existing } from "@/core/posting/choices";
import { withDown, withExisting, withPair } from "@/core/posting/edit";
import type { Pair, PostingStep } from "@/core/posting/spec";
import { type Column, findTable, type Schema, storedColumns, type Table } from "@/core/schema/schema";
import { DATE_ORDER_WORDS, DATE_ORDERS, type DateOrder } from "@/core/types/date";
import { isDated } from "@/core/types/valueType";
import { BriefPopover } from "@/ui/Brief";
import { onEnter } from "@/ui/onEnter";
import { Choice, Remove, Tick } from "../editors/parts";
import { COMMON } from "../words";
import { WORDS } from "./words";

type Props = {
  step: PostingStep;
  schema: Schema;
  source: Table | null;
  sourceName: string | undefined;
  firstValues: Map<string, string>;
  nextNumber: number | null;
  change: (next: Partial<PostingStep>) => void;
};

/** Which column of the source goes into which of the table: by name, by hand, by a formula, found through a link. */
export function Pairs({ step, schema, source, sourceName, firstValues, nextNumber, change }: Props) {
  const table = findTable(schema, step.target);
  if (!table) return null;
  const order = storedColumns(table).map((c) => c.name);
  const set = (column: string, next: Pair | null) => change(withPair(step, column, next, order));
  const lands = step.action === "add" || step.action === "move";
  const changes = step.action === "change" || (lands && step.present === "change");
  return (
    <div className="max-h-72 shrink-0 overflow-auto border border-rule bg-sheet">
      <table className="w-full">
        <thead className="sticky top-0 z-10 bg-sheet">
          <tr className="border-b border-ink text-left text-small">
            <th className="w-2/5 px-3 py-2">{WORDS.from(sourceName ?? WORDS.theSource)}</th>
            <th aria-label={WORDS.targetColumn} />
            <th className="px-3">{WORDS.intoTable(table.label)}</th>
            <th className="px-3">{WORDS.firstValue}</th>
          </tr>
        </thead>
        <tbody>
          {storedColumns(table)
            .filter((c) => !c.generated)
            .map((column) => {
              const pair = step.pairs.find((p) => p.column === column.name);
              const numbered = column.filled === "number" && !pair;
              const missing = !pair && !column.nullable && !column.filled && lands;
              return (
                <tr key={column.name} className="border-b border-hairline">
                  <td className="px-3 py-1">
                    <BriefPopover
                      name={WORDS.sourceOf(column.label)}
                      label={pair ? pairWords(pair) : numbered ? WORDS.numberedAutomatically : missing ? WORDS.requiredChoose : COMMON.nothing}
                      className={`max-w-72 truncate align-bottom border-b border-dotted text-left ${pair ? (pair.value.kind === "formula" ? "border-plum font-mono text-small text-plum" : "border-bottle text-bottle") : missing ? "border-vermilion text-vermilion" : "border-faint text-faint"}`}
                    >
                      {(close) => <PairEditor column={column} pair={pair} source={source} close={close} set={(next) => set(column.name, next)} />}
                    </BriefPopover>
                  </td>
                  <td className="text-soft" aria-hidden="true">
                    {pair ? "→" : ""}
                  </td>
                  <td className="px-3 whitespace-nowrap">
                    {column.label} {pair?.down && <span className="text-soft">{WORDS.filledDown}</span>}{" "}
                    {column.unit && <span className="text-soft">{column.unit}</span>}{" "}
                    {pair && <FoundBy column={column} pair={pair} table={table} schema={schema} set={(next) => set(column.name, next)} />}
                    {pair && isDated(column.type) && <DatesAs column={column} pair={pair} source={source} set={(next) => set(column.name, next)} />}
                    {pair && changes && !step.same.includes(column.name) && (
                      <WhereExisting column={column} pair={pair} set={(next) => set(column.name, next)} />
                    )}
                  </td>
                  <td className="max-w-60 truncate px-3 text-soft">
                    {numbered ? nextNumber === null ? "" : WORDS.nextIs(nextNumber) : <span className="text-ink">{firstValues.get(column.name) ?? ""}</span>}
                  </td>
                </tr>
              );
            })}
        </tbody>
      </table>
    </div>
  );
}

const pairWords = (pair: Pair): string => (pair.value.kind === "formula" ? pair.value.text || WORDS.aFormula : pair.value.name);

type EditorProps = { column: Column; pair: Pair | undefined; source: Table | null; close: () => void; set: (next: Pair | null) => void };

function PairEditor({ column, pair, source, close, set }: EditorProps) {
  return (
    <>
      <p className="caption pb-1">{WORDS.sourceOf(column.label)}</p>
      <div className="max-h-52 overflow-auto">
        {source?.columns.map((c) => (
          <Choice
            key={c.name}
            chosen={pair?.value.kind === "field" && pair.value.name === c.name}
            onClick={() => {
              set({ ...pair, column: column.name, value: { kind: "field", name: c.name } });
              close();
            }}
          >
            {c.label}
          </Choice>
        ))}
      </div>
      <label className="grid gap-0.5 pt-2 text-small">
        {WORDS.orAFormula}
        <textarea
          className="field h-16 font-mono text-small"
          aria-label={WORDS.formulaFor(column.label)}
          spellCheck={false}
          defaultValue={pair?.value.kind === "formula" ? pair.value.text : ""}
          placeholder={`CONCAT_WS(', ', TRIM("Addr1"), "Addr2")`}
          onBlur={(e) => {
            const text = e.target.value.trim();
            if (text !== "") set({ ...pair, column: column.name, value: { kind: "formula", text } });
          }}
          onKeyDown={onEnter((e) => {
            (e.target as HTMLElement).blur();
            close();
          })}
        />
      </label>
      {pair && (
        <Tick checked={pair.down ?? false} set={(down) => set(withDown(pair, down))}>
          {WORDS.fillDown}
        </Tick>
      )}
      {pair && (
        <Remove
          onClick={() => {
            set(null);
            close();
          }}
        >
          {WORDS.nothingChosen}
        </Remove>
      )}
    </>
  );
}

type PartProps = { column: Column; pair: Pair; set: (next: Pair) => void };

/** Whether the value is the column's own, or names the row it leads to by another column. */
function FoundBy({ column, pair, table, schema, set }: PartProps & { table: Table; schema: Schema }) {
  const link = schema.links.find((l) =>
    [l.a, l.b].some((end, i) => end.table === table.name && end.columns.length === 1 && end.columns[0] === column.name && [l.b, l.a][i]?.leadsTo === "one"),
  );
  const far = link && (link.a.table === table.name && link.a.columns[0] === column.name ? link.b : link.a);
  const other = far && findTable(schema, far.table);
  if (!link || !other) return null;
  return (
    <select
      className="rounded border border-transparent bg-transparent text-soft hover:border-rule"
      aria-label={WORDS.lookupFor(column.label)}
      value={pair.found?.by ?? ""}
      onChange={(e) => {
        const { found: _, ...rest } = pair;
        set(e.target.value === "" ? rest : { ...rest, found: { link: link.id, by: e.target.value } });
      }}
    >
      <option value="">{WORDS.unchanged}</option>
      {storedColumns(other)
        .filter((c) => c.name !== far.columns[0])
        .map((c) => (
          <option key={c.name} value={c.name}>
            {WORDS.lookedUpBy(c.label)}
          </option>
        ))}
    </select>
  );
}

/** What becomes of the column in rows that exist already. */
const WhereExisting = ({ column, pair, set }: PartProps) => (
  <select
    className="rounded border border-transparent bg-transparent text-soft hover:border-rule"
    aria-label={WORDS.existingIn(column.label)}
    value={pair.existing ?? ""}
    onChange={(e) => set(withExisting(pair, (e.target.value || null) as Existing | null))}
  >
    <option value="">{WORDS.existingWritten}</option>
    {EXISTING.map((existing) => (
      <option key={existing} value={existing}>
        {WORDS.existing[existing]}
      </option>
    ))}
  </select>
);

function DatesAs({ column, pair, source, set }: PartProps & { source: Table | null }) {
  const named = pair.value.kind === "field" ? pair.value.name : null;
  const type = source?.columns.find((c) => c.name === named)?.type;
  if (type && type.kind !== "text") return null;
  return (
    <select
      className="rounded border border-transparent bg-transparent text-soft hover:border-rule"
      aria-label={COMMON.dateOrderIn(column.label)}
      value={pair.dates ?? "ymd"}
      onChange={(e) => set({ ...pair, dates: e.target.value as DateOrder })}
    >
      {DATE_ORDERS.map((o) => (
        <option key={o} value={o}>
          {DATE_ORDER_WORDS[o]}
        </option>
      ))}
    </select>
  );
}
