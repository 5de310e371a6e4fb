import * as edit from "@/core/query/edit";
import type { QuerySpec } from "@/core/query/spec";
import type { Schema } from "@/core/schema/schema";
import { BriefPopover } from "@/ui/Brief";
import { PhraseEditor } from "./editors/PhraseEditor";
import { FieldPicker } from "./editors/parts";

type Props = { spec: QuerySpec; schema: Schema; change: (next: QuerySpec) => void };

/** What a query's sentence can have more of: a condition, a group, an order, a limit. */
export function AddChips({ spec, schema, change }: Props) {
  const props = { spec, schema, change };
  return (
    <span className="inline-flex flex-wrap gap-1.5 align-middle">
      <BriefPopover label="+ condition" className="chip">
        {(close) => (
          <FieldPicker {...props} close={close} caption="Keep rows by" pick={(next, operand) => change(edit.addCondition(next, schema, operand).spec)} />
        )}
      </BriefPopover>
      <BriefPopover label="+ one row per…" className="chip">
        {(close) => <FieldPicker {...props} close={close} caption="One row per" pick={(next, operand) => change(edit.groupBy(next, schema, operand))} />}
      </BriefPopover>
      <BriefPopover label="+ order" className="chip" spent={spec.order.length > 0}>
        {(close) => <PhraseEditor target={{ kind: "order" }} {...props} close={close} />}
      </BriefPopover>
      <BriefPopover label="+ limit" className="chip" spent={spec.limit !== null}>
        {(close) => <PhraseEditor target={{ kind: "limit" }} {...props} close={close} />}
      </BriefPopover>
    </span>
  );
}
