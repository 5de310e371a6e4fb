import type { ValueType } from "../types/valueType";

/** How a type is declared in a table the ledger makes, so that it is read back as the same. */
export function declaration(type: ValueType): string {
  const words: Record<Exclude<ValueType["kind"], "decimal">, string> = {
    text: "TEXT",
    whole: "INTEGER",
    floating: "REAL",
    date: "DATE",
    timestamp: "TIMESTAMP",
    yesno: "BOOLEAN",
  };
  return type.kind === "decimal" ? `INTEGER_SCALED(${type.scale})` : words[type.kind];
}
