import { z } from "zod";
import { querySpecSchema } from "../query/spec";
import type { Role } from "./roles";

/** Whom a rule on rows is for: all of a role, or one person. Owners are under no rule. */
export const whoSchema = z.discriminatedUnion("kind", [
  z.object({ kind: z.literal("role"), role: z.enum(["analyst", "viewer"]) }),
  z.object({ kind: z.literal("person"), person: z.string() }),
]);
export type Who = z.infer<typeof whoSchema>;

/** A rule on rows: those of a table that some people see, as a query's conditions on it. */
export const ruleSpecSchema = z.object({ version: z.literal(1), who: whoSchema, query: querySpecSchema });
export type RuleSpec = z.infer<typeof ruleSpecSchema>;

/** Who is asking, as far as the data is concerned. */
export type Asker = { id: string; role: Role; knownAs: string };
