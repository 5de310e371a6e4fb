import type Database from "better-sqlite3";
import type { Plan } from "@/core/query/plan";
import type { RowFormat } from "@/core/schedule/choices";
import type { FileResult } from "@/server/engine/work";
import { exportCsv } from "./csv";
import { exportJson } from "./json";

type Export = (db: Database.Database, plan: Plan, path: string, guarded?: boolean) => FileResult | Promise<FileResult>;

/** One entry a format that takes a query's rows one by one. */
export const exportRows: Record<RowFormat, Export> = {
  csv: exportCsv,
  tsv: (db, plan, path, guarded) => exportCsv(db, plan, path, guarded, "\t"),
  json: (db, plan, path) => exportJson(db, plan, path, false),
  ndjson: (db, plan, path) => exportJson(db, plan, path, true),
  // The writer of workbooks is large: it is loaded when the first one is asked for.
  xlsx: async (db, plan, path) => (await import("./xlsx")).exportXlsx(db, plan, path),
};
