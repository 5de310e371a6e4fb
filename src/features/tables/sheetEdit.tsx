import dynamic from "next/dynamic";
import { toast } from "sonner";
import { keyOfRow, sheetColumns, typedOver } from "@/core/posting/typeOver";
import type { QuerySpec } from "@/core/query/spec";
import type { Schema, Table } from "@/core/schema/schema";
import type { Today } from "@/core/types/calendar";
import { readDate } from "@/core/types/date";
import type { Locale } from "@/core/types/format";
import { dateOrderOf, writeTyped } from "@/core/types/typed";
import type { Cell } from "@/core/types/valueType";
import type { RowEdit } from "@/server/jobs/posting/edit";
import type { SheetEdit } from "@/ui/sheetParts";
import type { Running } from "../queries/useRun";
import { cellReader } from "./cellReader";
import { blockEdit } from "./sheetBlock";
import { WORDS } from "./words";

const DayGrid = dynamic(() => import("../editors/DayGrid"), { ssr: false });

type Edited = {
  table: Table;
  spec: QuerySpec;
  schema: Schema;
  run: Pick<Running, "rowAt" | "rowsBetween" | "rows">;
  /** Makes a change. @returns what is wrong with it, if anything */
  make: (change: RowEdit) => Promise<string | null>;
  notation: { locale: Locale; today: Today };
};

/** How the cells of a table are typed over, pasted and filled: by the row's key, in the workspace's notation, and only where the column is stored. */
export function sheetEdit({ table, spec, schema, run, make, notation: { locale, today } }: Edited): SheetEdit {
  const columns = sheetColumns(
    table,
    spec.columns.map((c) => c.id),
  );
  const keyOf = (cells: Cell[] | undefined) => keyOfRow(table, columns, cells);
  const { values, typeAt, read } = cellReader(table, schema, columns, { locale, day: today.day });

  return {
    ...blockEdit({ table, columns, run, make, read, locale }),
    text: (row, at) => {
      const plain = typedOver(columns, run.rowAt(row), at);
      return plain === null ? null : writeTyped(typeAt(at), plain, locale);
    },
    save: async (row, at, typed) => {
      const was = typedOver(columns, run.rowAt(row), at);
      const next = await read(at, typed);
      if ("problem" in next) return next.problem;
      return make({ kind: "change", key: keyOf(run.rowAt(row)), column: columns[at]?.name ?? "", text: next.text, was: was === "" ? null : was });
    },
    beside: (at, typed, pick) => {
      const type = typeAt(at);
      if (type.kind !== "date") return null;
      const day = readDate(typed, dateOrderOf(locale.locale)) ?? "";
      return <DayGrid key={day} day={day} focused={false} choose={(next) => pick(writeTyped(type, next, locale))} />;
    },
    suggest: (_, at, typed) => values.suggest(at, typed, { today, locale }),
    remove: ({ top, bottom }) => {
      const keys = Array.from({ length: Math.min(1000, bottom - top + 1) }, (_, i) => keyOf(run.rowAt(top + i)));
      void make({ kind: "remove", keys }).then((problem) =>
        problem
          ? toast.error(problem)
          : toast(WORDS.rowsRemoved(keys.length === 1 ? WORDS.n1Row : WORDS.manyRows(keys.length), keys.length === 1 ? "it" : "them")),
      );
    },
  };
}
