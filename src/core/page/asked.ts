import { z } from "zod";
import { OPERATOR_NAMES } from "../query/choices";

/** What a visitor fills in: values by the form's field, in its order; which column the rows are ordered by. */
export const askedSchema = z.object({
  fields: z
    .array(z.object({ operator: z.enum(OPERATOR_NAMES).optional(), values: z.array(z.string().max(500)).max(200) }))
    .max(30)
    .default([]),
  sort: z
    .object({ column: z.string().max(60), direction: z.enum(["up", "down"]) })
    .nullable()
    .default(null),
});

export type Asked = z.infer<typeof askedSchema>;
