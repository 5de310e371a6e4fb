import { cellWriter, type Locale } from "@/core/types/format";
import type { Cell, ValueType } from "@/core/types/valueType";
import { COMMON } from "../../words";

/** How a value of a proof is written in a sentence, an empty one by a word. */
export const saidValue = (type: ValueType, locale: Locale) => {
  const write = cellWriter(type, {}, locale);
  return (cell: Cell): string => write(cell).text || COMMON.nothing;
};
