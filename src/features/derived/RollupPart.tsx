"use client";

import { toast } from "sonner";
import type { PhraseTarget } from "@/core/brief/brief";
import { rollupBrief } from "@/core/brief/derivedBrief";
import { withoutCondition } from "@/core/brief/editPhrase";
import { repointRollup } from "@/core/derive/repoint";
import type { Definition } from "@/core/derive/spec";
import { AGGREGATES, aggregateOf, figureStart } from "@/core/query/aggregates";
import type { AggregateName } from "@/core/query/choices";
import * as edit from "@/core/query/edit";
import type { QueryColumn, QuerySpec } from "@/core/query/spec";
import { type Schema, stepsFrom, type Table } from "@/core/schema/schema";
import type { Today } from "@/core/types/calendar";
import { Brief, BriefPopover } from "@/ui/Brief";
import { onEnter } from "@/ui/onEnter";
import { CountInput } from "../editors/CountInput";
import { FormulaInput, NewFormula } from "../editors/NewFormula";
import { Choice, FieldPicker } from "../editors/parts";
import { phraseKey } from "../editors/phraseKey";
import { PhraseEditor } from "../queries/editors/PhraseEditor";
import { ParametersPanel } from "../queries/ParametersPanel";
import { COMMON } from "../words";
import { useLocale } from "../workspace/locale";
import { WORDS } from "./words";

type Rollup = Extract<Definition, { kind: "rollup" }>;
type Props = { rollup: Rollup; table: Table; schema: Schema; today: Today; onChange: (next: Rollup) => void };

/** The brief of a rollup, with a popover at each of its phrases. */
export function RollupPart({ rollup, table, schema, today, onChange }: Props) {
  const locale = useLocale();
  const { query } = rollup;
  const change = (next: QuerySpec) => onChange({ ...rollup, query: next });
  const setColumn = (next: Partial<QueryColumn>) => change({ ...query, columns: query.columns.map((c) => ({ ...c, ...next })) });
  const props = { spec: query, schema, change, parent: table };
  const editor = (target: PhraseTarget, close: () => void) =>
    target.kind === "field" ? (
      <RollupPhrase name={target.name} {...props} rollup={rollup} table={table} setColumn={setColumn} onChange={onChange} close={close} />
    ) : (
      <PhraseEditor target={target} {...props} close={close} />
    );
  return (
    <div className="grid gap-2">
      <Brief
        phrases={rollupBrief(rollup, table.name, schema, locale)}
        keyOf={phraseKey}
        editor={editor}
        onDelete={(target) => change(withoutCondition(query, target))}
      />
      <span>
        <BriefPopover label={COMMON.addCondition} className="chip">
          {(close) => (
            <FieldPicker
              {...props}
              close={close}
              caption={COMMON.onlyRowsWhere}
              pick={(next, operand) => change(edit.addCondition(next, schema, operand).spec)}
            />
          )}
        </BriefPopover>
      </span>
      {query.parameters.length > 0 && (
        <div className="text-small">
          <p className="caption pb-1">{WORDS.askedForWhereverThisField}</p>
          <ParametersPanel schema={schema} spec={query} values={{}} today={today} change={change} setValues={() => {}} />
        </div>
      )}
    </div>
  );
}

type PhraseProps = Omit<Props, "today"> & {
  name: string;
  spec: QuerySpec;
  change: (next: QuerySpec) => void;
  setColumn: (next: Partial<QueryColumn>) => void;
  close: () => void;
};

function RollupPhrase({ name, rollup, table, schema, spec, change, setColumn, onChange, close }: PhraseProps) {
  const [column] = spec.columns;
  const picker = { spec, schema, change, close };
  switch (name) {
    case "figure":
      return (
        <>
          {column?.figure === "nth" && <CountInput counts="which" value={column.count} set={(count) => setColumn({ count })} />}
          {(Object.keys(AGGREGATES) as AggregateName[]).map((figure) => (
            <Choice
              key={figure}
              chosen={column?.figure === figure}
              onClick={() => {
                setColumn({ figure, ...(column?.value?.kind === "formula" ? { value: null } : {}), ...figureStart(figure, column?.percent) });
                close();
              }}
            >
              {AGGREGATES[figure].words} <span className="text-small text-soft">{AGGREGATES[figure].help}</span>
            </Choice>
          ))}
          <p className="caption pt-2 pb-1">{WORDS.formulaOverFigures}</p>
          {column?.figure === "formula" && column.value?.kind === "formula" ? (
            <FormulaInput
              spec={spec}
              schema={schema}
              over="figures"
              text={column.value.text}
              onChange={(text) => setColumn({ value: { kind: "formula", text } })}
            />
          ) : (
            <NewFormula
              spec={spec}
              schema={schema}
              over="figures"
              add={(text) => {
                setColumn({ figure: "formula", value: { kind: "formula", text } });
                close();
              }}
            />
          )}
        </>
      );
    case "value":
    case "by":
      return (
        <FieldPicker
          {...picker}
          caption={name === "value" ? WORDS.figureOf : WORDS.orderBy}
          {...(name === "value" && column?.figure ? { only: aggregateOf(column.figure)?.takes ?? (() => true) } : {})}
          pick={(next, operand) => change({ ...next, columns: next.columns.map((c) => ({ ...c, [name]: operand })) })}
          {...(name === "value" && column?.figure === "count" ? { remove: () => setColumn({ value: null }) } : {})}
        />
      );
    case "direction":
      return (["up", "down"] as const).map((direction) => (
        <Choice
          key={direction}
          chosen={(column?.direction ?? "up") === direction}
          onClick={() => {
            setColumn({ direction });
            close();
          }}
        >
          {direction === "up" ? COMMON.earliestFirst : COMMON.latestFirst}
        </Choice>
      ));
    case "separator":
      return (
        <label className="grid gap-1">
          {COMMON.separator}
          <input className="field" value={column?.separator ?? ", "} onChange={(e) => setColumn({ separator: e.target.value })} onKeyDown={onEnter(close)} />
        </label>
      );
    case "count":
      return <CountInput counts="most" value={column?.count} set={(count) => setColumn({ count })} />;
    case "step":
      return stepsFrom(schema, table.name)
        .filter((s) => s.far.leadsTo === "many")
        .map(({ step, far }) => ({ step, far, next: repointRollup(rollup, step, schema) }))
        .map(({ step, far, next }) => (
          <Choice
            key={`${step.link} ${step.toward}`}
            chosen={step.link === rollup.step.link && step.toward === rollup.step.toward}
            onClick={() => {
              onChange(next.rollup);
              if (next.dropped.length > 0) toast(WORDS.fieldsDropped(far.name, next.dropped.join(COMMON.and)));
              close();
            }}
          >
            {far.name}
          </Choice>
        ));
    default:
      return null;
  }
}
