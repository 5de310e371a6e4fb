import type { z } from "zod";
import { chartSpecSchema } from "@/core/chart/spec";
import { dashboardSpecSchema } from "@/core/dashboard/spec";
import { plainTiles, sourceOfTile } from "@/core/dashboard/tiles";
import { folioSpecSchema } from "@/core/folio/spec";
import { letterSpecSchema } from "@/core/letter/spec";
import { pageSpecSchema } from "@/core/page/spec";
import { pivotSpecSchema } from "@/core/pivot/spec";
import { postingSpecSchema } from "@/core/posting/spec";
import { stepsOf } from "@/core/posting/steps";
import { queriesRead } from "@/core/query/queryTables";
import { querySpecSchema } from "@/core/query/spec";
import { reportSpecSchema } from "@/core/report/spec";
import { scheduleSpecSchema } from "@/core/schedule/spec";
import type { ObjectKind } from "./catalogue";

const read = <S>(shape: Pick<z.ZodType<S>, "safeParse">, spec: unknown, ids: (spec: S) => string[]): string[] => {
  const parsed = shape.safeParse(spec);
  return parsed.success ? ids(parsed.data) : [];
};

const MADE_FROM: Partial<Record<ObjectKind, (spec: unknown) => string[]>> = {
  query: (spec) => read(querySpecSchema, spec, queriesRead),
  pivot: (spec) => read(pivotSpecSchema, spec, (s) => [s.query]),
  chart: (spec) => read(chartSpecSchema, spec, (s) => [s.query]),
  report: (spec) =>
    read(reportSpecSchema, spec, (s) => [
      ...(s.own ? queriesRead(s.own) : [s.query]),
      ...(s.related ?? []).flatMap((r) => [r, ...(r.related ?? [])]).flatMap((r) => queriesRead(r.query)),
      ...(s.inserts ?? []).map((i) => i.of),
      ...(s.closing ?? []).map((c) => c.id),
    ]),
  letter: (spec) => read(letterSpecSchema, spec, (s) => [s.query]),
  schedule: (spec) => read(scheduleSpecSchema, spec, (s) => [s.subject.id]),
  dashboard: (spec) => read(dashboardSpecSchema, spec, (s) => plainTiles(s).flatMap((t) => sourceOfTile(t) ?? [])),
  folio: (spec) => read(folioSpecSchema, spec, (s) => (s.shown ?? []).flatMap((t) => sourceOfTile(t) ?? [])),
  page: (spec) => read(pageSpecSchema, spec, (s) => [s.subject.kind === "search" ? s.subject.query : s.subject.id]),
  posting: (spec) => read(postingSpecSchema, spec, (s) => [...new Set(stepsOf(s).flatMap(({ source }) => (source.kind === "query" ? source.id : [])))]),
};

/** What descriptions are made from, as long as they are kept as they are: of thousands it is asked with every page. */
const found = new WeakMap<object, string[]>();

/** The saved objects that one is made from, by id; its query first. */
export function madeFrom(kind: ObjectKind, spec: unknown): string[] {
  if (typeof spec !== "object" || spec === null) return [];
  const known = found.get(spec) ?? MADE_FROM[kind]?.(spec) ?? [];
  found.set(spec, known);
  return known;
}

/** The saved objects that would break without one: those made from it, and those made from these, each once. */
export function madeWith<O extends { id: string; kind: ObjectKind; spec: unknown }>(id: string, all: O[]): O[] {
  const users = new Map<string, O>();
  const sought = [id];
  for (let at = sought.pop(); at !== undefined; at = sought.pop())
    for (const object of all) {
      if (users.has(object.id) || object.id === id || !madeFrom(object.kind, object.spec).includes(at)) continue;
      users.set(object.id, object);
      sought.push(object.id);
    }
  return [...users.values()];
}
