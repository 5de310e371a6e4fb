import fc from "fast-check";
import { withDerivedFields } from "@/core/derive/derive";
import { OPERATORS, operatorsFor } from "@/core/query/operators";
import { type Condition, emptyQuery, type Operand, type QuerySpec } from "@/core/query/spec";
import type { ValueType } from "@/core/types/valueType";
import { sampleDerived, sampleSchema } from "./sample";

const schema = withDerivedFields(sampleSchema, sampleDerived, "2026-11-23");
const crate = schema.tables[1] as (typeof sampleSchema.tables)[number];
const field = (column: string, join = ""): Operand => ({ kind: "field", join, column });

/** Values to compare with, by type. */
export const VALUES: Record<ValueType["kind"], string[]> = {
  text: ["apple", "eclair", "50%"],
  whole: ["7", "-2", "20"],
  decimal: ["12.50", "-1", "3000.125"],
  floating: ["0.25", "0.5", "0.75"],
  date: ["2024-06-01", "2025-12-31", "2026-02-10"],
  timestamp: ["2024-06-01", "2025-12-31", "2026-02-10"],
  yesno: ["yes", "no", "yes"],
};

const conditionArbitrary = (joins: string[]): fc.Arbitrary<Condition> =>
  fc
    .constantFrom(
      ...joins.flatMap((join) => (join === "" ? crate : join === "y" ? schema.tables[0] : schema.tables[2])?.columns.map((c) => ({ join, c })) ?? []),
    )
    .chain(({ join, c }) =>
      fc.constantFrom(...operatorsFor(c.type)).chain((operator) => {
        const count = OPERATORS[operator].values;
        const size = count === "many" ? 2 : count;
        return fc.array(fc.constantFrom(...VALUES[c.type.kind]), { minLength: size, maxLength: size }).map(
          (texts): Condition => ({
            id: `w${join}${c.name}${operator}`,
            left: field(c.name, join),
            operator,
            values: texts.map((text) => ({ kind: "value", text })),
          }),
        );
      }),
    );

/** Queries over the sample: one or two tables brought, up to three conditions, grouped or not, derived fields among the columns. */
export const specArbitrary: fc.Arbitrary<QuerySpec> = fc
  .record({ yard: fc.constantFrom("keep", "only", null), stamps: fc.constantFrom("keep", "only", null), grouped: fc.boolean() })
  .chain(({ yard, stamps, grouped }) => {
    const joins = [
      ...(stamps ? [{ id: "s", from: "", link: "stamp.crate_id", toward: "a" as const, unmatched: stamps }] : []),
      ...(yard ? [{ id: "y", from: "", link: "crate.yard_id", toward: "b" as const, unmatched: yard }] : []),
    ] as QuerySpec["joins"];
    return fc.uniqueArray(conditionArbitrary(["", ...joins.map((j) => j.id)]), { maxLength: 3, selector: (c) => c.id }).map(
      (conditions): QuerySpec => ({
        ...emptyQuery("crate"),
        joins,
        conditions,
        grouped,
        columns: grouped
          ? [
              { id: "k", value: yard ? field("name", "y") : field("mark") },
              { id: "n", value: null, figure: "count" },
              { id: "p", value: field("price"), figure: "total" },
              { id: "d", value: field("fees"), figure: "total" },
            ]
          : [
              { id: "i", value: field("id") },
              { id: "p", value: field("price") },
              { id: "d", value: field("opened") },
              { id: "r", value: field("fees") },
              { id: "n", value: field("stamp count") },
              ...(stamps ? [{ id: "f", value: field("fee", "s") }] : []),
            ],
        order: [],
      }),
    );
  });
