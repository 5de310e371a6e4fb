import { toast } from "sonner";
import { keyOfRow, sheetColumns, typedOver } from "@/core/posting/typeOver";
import type { QuerySpec } from "@/core/query/spec";
import type { Table } from "@/core/schema/schema";
import type { Locale } from "@/core/types/format";
import { readTyped, writeTyped } from "@/core/types/typed";
import { type Cell, text as textType } from "@/core/types/valueType";
import type { RowEdit } from "@/server/posting/edit";
import type { SheetEdit } from "@/ui/sheetParts";
import { misread } from "../editors/misread";
import { WORDS } from "./words";

/** How the cells of a table are typed over: by the row's key, in the workspace's notation, and only where the column is stored. */
export function sheetEdit(
  table: Table,
  spec: QuerySpec,
  rowAt: (row: number) => Cell[] | undefined,
  make: (change: RowEdit) => Promise<string | null>,
  { locale, day }: { locale: Locale; day: string },
): SheetEdit {
  const columns = sheetColumns(
    table,
    spec.columns.map((c) => c.id),
  );
  const keyOf = (row: number) => keyOfRow(table, columns, rowAt(row));
  const textOf = (row: number, at: number) => typedOver(columns, rowAt(row), at);
  const typeAt = (at: number) => columns[at]?.type ?? textType;
  return {
    text: (row, at) => {
      const plain = textOf(row, at);
      return plain === null ? null : writeTyped(typeAt(at), plain, locale);
    },
    save: async (row, at, typed) => {
      const was = textOf(row, at);
      const text = typed.trim() === "" ? "" : readTyped(typeAt(at), typed, locale, day);
      if (text === null) return misread(typed.trim(), typeAt(at), locale, day);
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
