import * as edit from "@/core/query/edit";
import type { QuerySpec } from "@/core/query/spec";
import type { Schema } from "@/core/schema/schema";
import { BriefPopover } from "@/ui/Brief";
import { FieldPicker } from "../editors/parts";
import { COMMON } from "../words";
import { ColumnConditionPicker } from "./editors/conditions";
import { PhraseEditor } from "./editors/PhraseEditor";
import { HavingPicker, JoinPicker } from "./editors/tables";
import { WORDS } from "./words";

type Props = {
  spec: QuerySpec;
  schema: Schema;
  change: (next: QuerySpec) => void;
  /** Begins a comparison with another list, where the query can be one side of it. */
  compare: (() => void) | undefined;
};

/** What a query's sentence can have more of: a condition, a group, an order, a limit; and the list it is compared with. */
export function AddChips({ spec, schema, change, compare }: Props) {
  const props = { spec, schema, change };
  return (
    <span className="inline-flex flex-wrap gap-1.5 align-middle">
      <BriefPopover label={COMMON.addCondition} className="chip">
        {(close) => (
          <FieldPicker
            {...props}
            close={close}
            caption={COMMON.onlyRowsWhere}
            formula
            pick={(next, operand) => change(edit.addCondition(next, schema, operand).spec)}
          />
        )}
      </BriefPopover>
      <BriefPopover label={WORDS.joinTable} className="chip">
        {(close) => <JoinPicker {...props} close={close} />}
      </BriefPopover>
      <BriefPopover label={WORDS.onlyThoseThat} className="chip">
        {(close) => <HavingPicker {...props} close={close} />}
      </BriefPopover>
      <BriefPopover label={WORDS.oneRowPer} className="chip">
        {(close) => (
          <FieldPicker {...props} close={close} caption={WORDS.groupBy} formula parts pick={(next, operand) => change(edit.groupBy(next, schema, operand))} />
        )}
      </BriefPopover>
      {spec.grouped && (
        <BriefPopover label={WORDS.onlyGroups} className="chip">
          {(close) => <ColumnConditionPicker {...props} close={close} />}
        </BriefPopover>
      )}
      {spec.columns.some((c) => c.figure === "window") && (
        <BriefPopover label={WORDS.thenOnly} className="chip">
          {(close) => <ColumnConditionPicker {...props} close={close} lines />}
        </BriefPopover>
      )}
      <BriefPopover label={COMMON.addOrder} className="chip" spent={spec.order.length > 0}>
        {(close) => <PhraseEditor target={{ kind: "order" }} {...props} close={close} />}
      </BriefPopover>
      <BriefPopover label={WORDS.limit} className="chip" spent={spec.limit !== null || spec.firstOf !== undefined}>
        {(close) => <PhraseEditor target={{ kind: "limit" }} {...props} close={close} />}
      </BriefPopover>
      {compare && (
        <span>
          <button type="button" className="chip" onClick={compare}>
            {WORDS.compareWithOther}
          </button>
        </span>
      )}
    </span>
  );
}
