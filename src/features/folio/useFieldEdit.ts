import { useMemo } from "react";
import { toast } from "sonner";
import type { QuerySpec } from "@/core/query/spec";
import { mayChange, type Schema, type Table } from "@/core/schema/schema";
import type { Today } from "@/core/types/calendar";
import type { Cell } from "@/core/types/valueType";
import type { RowEdit } from "@/server/jobs/posting/edit";
import type { Entry } from "@/server/jobs/posting/journal";
import type { SheetEdit } from "@/ui/sheetParts";
import { ask, sentenceOf } from "../ask";
import { sheetEdit } from "../tables/sheetEdit";
import { COMMON } from "../words";
import { useLocale } from "../workspace/locale";
import { WORDS } from "./words";

type Edited = { table: Table; spec: QuerySpec; schema: Schema; today: Today; row: Cell[]; again: () => void };

/**
 * How the fields of one row are typed over, as the cells of a sheet of that row: each change is an entry in the journal, undone from the
 * notice that tells of it. null where rows of the table are only read.
 */
export function useFieldEdit({ table, spec, schema, today, row, again }: Edited): SheetEdit | null {
  const locale = useLocale();
  return useMemo(() => {
    if (table.key.length === 0 || !mayChange(table) || table.trigger) return null;
    const reverse = ({ number }: Entry) => ask("/api/postings/reverse", { number, force: false }).then(again, (error) => toast.error(sentenceOf(error)));
    async function make(change: RowEdit): Promise<string | null> {
      try {
        const entry = await ask<Entry>("/api/tables/edit", { table: table.name, change });
        const label = change.kind === "change" ? (table.columns.find((c) => c.name === change.column)?.label ?? change.column) : "";
        toast(WORDS.fieldChanged(label), { action: { label: COMMON.undo, onClick: () => void reverse(entry) } });
        again();
        return null;
      } catch (error) {
        again();
        return sentenceOf(error);
      }
    }
    const run = { rowAt: () => row, rowsBetween: async () => [row], rows: 1 };
    return sheetEdit({ table, spec, schema, run, make, notation: { locale, today } });
  }, [table, spec, schema, today, row, again, locale]);
}
