import { type RuleSpec, ruleSpecSchema } from "@/core/people/spec";
import type { Catalogue } from "./catalogue";

/** Rules on rows. One that cannot be read stops everything rather than let everything through. */
export const savedRules = (catalogue: Catalogue): RuleSpec[] => catalogue.list("rule").map(({ spec }) => ruleSpecSchema.parse(spec));
