"use client";

import { queryBrief } from "@/core/brief/brief";
import { withoutCondition } from "@/core/brief/editPhrase";
import { PARENT } from "@/core/derive/parent";
import * as edit from "@/core/query/edit";
import type { QuerySpec } from "@/core/query/spec";
import type { Schema, Table } from "@/core/schema/schema";
import { Brief, BriefPopover } from "@/ui/Brief";
import { FieldPicker } from "../editors/parts";
import { phraseKey } from "../editors/phraseKey";
import { PhraseEditor } from "../queries/editors/PhraseEditor";
import { COMMON } from "../words";
import { useLocale } from "../workspace/locale";
import { WORDS } from "./words";

/** The brief of rows that belong to a row: which of them, in what order, with which columns. */
export function PanelBrief({ query, schema, parent, change }: { query: QuerySpec; schema: Schema; parent: Table; change: (next: QuerySpec) => void }) {
  const locale = useLocale();
  const props = { spec: query, schema, change, parent };
  return (
    <Brief
      phrases={queryBrief(query, schema, locale, { beside: { join: PARENT, path: [WORDS.thisRow(parent.label)], table: parent } })}
      keyOf={phraseKey}
      onDelete={(target) => change(withoutCondition(query, target))}
      editor={(target, close) => <PhraseEditor target={target} {...props} close={close} />}
    >
      {" "}
      <BriefPopover label={COMMON.addCondition} className="chip">
        {(close) => (
          <FieldPicker
            {...props}
            close={close}
            caption={COMMON.onlyRowsWhere}
            pick={(next, operand) => change(edit.addCondition(next, schema, operand).spec)}
          />
        )}
      </BriefPopover>{" "}
      <BriefPopover label={COMMON.addOrder} className="chip" spent={query.order.length > 0}>
        {(close) => <PhraseEditor target={{ kind: "order" }} {...props} close={close} />}
      </BriefPopover>
    </Brief>
  );
}
