"use client";

import type { PhraseTarget } from "@/core/brief/brief";
import type { EditorProps } from "../../editors/parts";
import { CompareEditor } from "../compare/CompareEditor";
import { ColumnsEditor, GroupEditor } from "./columns";
import { ConditionPhraseEditor } from "./conditions";
import { LimitEditor, OrderEditor } from "./order";
import { JoinEditor, SourceEditor, WayEditor } from "./tables";

/** The editor of a phrase of a query's brief. */
export function PhraseEditor({ target, ...props }: EditorProps & { target: PhraseTarget }) {
  switch (target.kind) {
    case "source":
      return <SourceEditor {...props} />;
    case "compare":
      return <CompareEditor {...props} part={target.part} />;
    case "join":
      return <JoinEditor {...props} id={target.id} />;
    case "way":
      return <WayEditor {...props} id={target.id} />;
    case "conditionField":
    case "holds":
    case "operator":
    case "value":
      return <ConditionPhraseEditor {...props} target={target} />;
    case "group":
      return <GroupEditor {...props} id={target.id} />;
    case "columns":
      return <ColumnsEditor {...props} />;
    case "order":
      return <OrderEditor {...props} />;
    case "firstOf":
    case "limit":
      return <LimitEditor {...props} />;
    case "field":
      return null;
    default:
      return target satisfies never;
  }
}
