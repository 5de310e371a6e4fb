import { toast } from "sonner";
import { keyOfRow, sheetColumns, typedOver } from "@/core/posting/typeOver";
import type { QuerySpec } from "@/core/query/spec";
import type { Table } from "@/core/schema/schema";
import type { Cell } from "@/core/types/valueType";
import type { RowEdit } from "@/server/posting/edit";
import type { SheetEdit } from "@/ui/sheetParts";
import { WORDS } from "./words";

/** How the cells of a table are typed over: by the row's key, and only where the column is stored. */
export function sheetEdit(
  table: Table,
  spec: QuerySpec,
  rowAt: (row: number) => Cell[] | undefined,
  make: (change: RowEdit) => Promise<string | null>,
): SheetEdit {
  const columns = sheetColumns(
    table,
    spec.columns.map((c) => c.id),
  );
  const keyOf = (row: number) => keyOfRow(table, columns, rowAt(row));
  const textOf = (row: number, at: number) => typedOver(columns, rowAt(row), at);
  return {
    text: textOf,
    save: (row, at, text) => {
      const was = textOf(row, at);
      return make({ kind: "change", key: keyOf(row), column: columns[at]?.name ?? "", text, was: was === "" ? null : was });
    },
    remove: ({ top, bottom }) => {
      const keys = Array.from({ length: Math.min(1000, bottom - top + 1) }, (_, i) => keyOf(top + i));
      void make({ kind: "remove", keys }).then((problem) =>
        problem
          ? toast.error(problem)
          : toast(WORDS.rowsRemoved(keys.length === 1 ? WORDS.n1Row : WORDS.manyRows(keys.length), keys.length === 1 ? "it" : "them")),
      );
    },
  };
}
