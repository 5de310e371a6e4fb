import { z } from "zod";
import { chartSpecSchema } from "@/core/chart/spec";
import { dashboardSpecSchema } from "@/core/dashboard/spec";
import { derivedFieldSchema } from "@/core/derive/spec";
import { folioSpecSchema } from "@/core/folio/spec";
import { letterSpecSchema } from "@/core/letter/spec";
import { pageSpecSchema } from "@/core/page/spec";
import { ruleSpecSchema } from "@/core/people/spec";
import { pivotSpecSchema } from "@/core/pivot/spec";
import { postingSpecSchema } from "@/core/posting/spec";
import { querySpecSchema } from "@/core/query/spec";
import { reportSpecSchema } from "@/core/report/spec";
import { scheduleSpecSchema } from "@/core/schedule/spec";
import { linkSpecSchema } from "@/core/schema/linkSpec";
import type { ObjectKind } from "./catalogue";

export const kindSchema = z.enum([
  "query",
  "report",
  "schedule",
  "derived",
  "link",
  "posting",
  "folio",
  "pivot",
  "chart",
  "dashboard",
  "letter",
  "rule",
  "page",
]);

/** The shape of each kind's description. */
export const SHAPES = {
  query: querySpecSchema,
  report: reportSpecSchema,
  schedule: scheduleSpecSchema,
  derived: derivedFieldSchema,
  link: linkSpecSchema,
  posting: postingSpecSchema,
  folio: folioSpecSchema,
  pivot: pivotSpecSchema,
  chart: chartSpecSchema,
  dashboard: dashboardSpecSchema,
  letter: letterSpecSchema,
  rule: ruleSpecSchema,
  page: pageSpecSchema,
} satisfies Record<ObjectKind, z.ZodType>;

/** Checks a description against the shape of its kind. @throws ZodError naming each place that is off */
export const checkSpec = <K extends ObjectKind>(kind: K, spec: unknown): z.infer<(typeof SHAPES)[K]> => SHAPES[kind].parse(spec) as z.infer<(typeof SHAPES)[K]>;
