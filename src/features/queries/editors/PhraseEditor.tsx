"use client";

import type { PhraseTarget } from "@/core/brief/brief";
import * as edit from "@/core/query/edit";
import { type EditorProps, FieldPicker } from "../../editors/parts";
import { WORDS } from "../words";
import { ColumnsEditor, GroupEditor } from "./columns";
import { OperatorEditor, ValueEditor } from "./conditions";
import { LimitEditor, OrderEditor } from "./order";
import { JoinEditor, SourceEditor, UnmatchedEditor } from "./tables";

/** The editor of a phrase of a query's brief. */
export function PhraseEditor({ target, ...props }: EditorProps & { target: PhraseTarget }) {
  switch (target.kind) {
    case "source":
      return <SourceEditor {...props} />;
    case "join":
      return <JoinEditor {...props} id={target.id} />;
    case "unmatched":
      return <UnmatchedEditor {...props} id={target.id} />;
    case "conditionField":
      return (
        <FieldPicker
          {...props}
          caption={WORDS.fieldOfCondition}
          pick={(next, operand) => props.change(edit.changeConditionField(next, props.schema, target.id, operand))}
          remove={() => props.change(edit.removeCondition(props.spec, target.id))}
        />
      );
    case "operator":
      return <OperatorEditor {...props} id={target.id} />;
    case "value":
      return <ValueEditor {...props} id={target.id} index={target.index} />;
    case "group":
      return <GroupEditor {...props} id={target.id} />;
    case "columns":
      return <ColumnsEditor {...props} />;
    case "order":
      return <OrderEditor {...props} />;
    case "limit":
      return <LimitEditor {...props} />;
    case "field":
      return null;
    default:
      return target satisfies never;
  }
}
