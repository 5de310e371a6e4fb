import type { SheetColumns } from "@/core/posting/typeOver";
import type { Schema, Table } from "@/core/schema/schema";
import type { Locale } from "@/core/types/format";
import { readTyped } from "@/core/types/typed";
import { text as textType } from "@/core/types/valueType";
import { misread } from "../editors/misread";
import { type Read, valueSource } from "./valueSource";

/** How what is typed or pasted for columns of a table is read: in the workspace's notation, rows they lead to by their names. */
export function cellReader(table: Table, schema: Schema, columns: SheetColumns, { locale, day }: { locale: Locale; day: string }) {
  const values = valueSource(table, schema, columns);
  const typeAt = (at: number) => columns[at]?.type ?? textType;
  async function read(at: number, typed: string): Promise<Read> {
    const written = typed.trim();
    if (written === "") return { text: "" };
    const text = readTyped(typeAt(at), typed, locale, day);
    if (text !== null && !values.isNamed(at)) return { text };
    return (await values.called(at, written, text)) ?? { problem: misread(written, typeAt(at), locale, day) };
  }
  return { values, typeAt, read };
}
