import { briefText, queryBrief } from "@/core/brief/brief";
import { emptyQuery } from "@/core/query/empty";
import type { Condition, Operand, QuerySpec } from "@/core/query/spec";
import { sampleSchema } from "./sample";

/* A query of crates with their stamps, what is asked in it, and its sentence. */

export const field = (column: string, join = ""): Extract<Operand, { kind: "field" }> => ({ kind: "field", join, column });
export const is = (id: string, left: Operand, text: string): Condition => ({ id, left, operator: "is", values: [{ kind: "value", text }] });
export const crates: QuerySpec = {
  ...emptyQuery("crate"),
  joins: [{ id: "s", from: "", link: "stamp.crate_id", toward: "a", way: "keep" }],
  conditions: [is("w1", field("mark"), "apple"), is("w2", field("fee", "s"), "1.50")],
  columns: [
    { id: "c1", value: field("mark") },
    { id: "c2", value: field("fee", "s") },
  ],
  order: [{ column: "c2", direction: "up" }],
};
export const said = (spec: QuerySpec): string => briefText(queryBrief(spec, sampleSchema, { locale: "en-GB", zone: "UTC" }));
