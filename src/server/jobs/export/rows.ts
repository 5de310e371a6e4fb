import type Database from "better-sqlite3";
import type { Plan } from "@/core/query/plan";
import type { RowFormat } from "@/core/schedule/choices";
import type { FileResult } from "@/server/jobs/work";
import type { Told } from "@/server/source/sqlite/readers";
import { exportCsv } from "./csv";
import { exportJson } from "./json";

/** @param told how many rows are written so far */
type Export = (db: Database.Database, plan: Plan, path: string, guarded?: boolean, told?: Told) => FileResult | Promise<FileResult>;

/** One entry a format that takes a query's rows one by one. */
export const exportRows: Record<RowFormat, Export> = {
  csv: (db, plan, path, guarded, told) => exportCsv(db, plan, path, { guarded, told }),
  tsv: (db, plan, path, guarded, told) => exportCsv(db, plan, path, { guarded, told, delimiter: "\t" }),
  json: (db, plan, path, _, told) => exportJson(db, plan, path, false, told),
  ndjson: (db, plan, path, _, told) => exportJson(db, plan, path, true, told),
  // The writer of workbooks is large: it is loaded when the first one is asked for.
  xlsx: async (db, plan, path, _, told) => (await import("./xlsx")).exportXlsx(db, plan, path, { told }),
};
