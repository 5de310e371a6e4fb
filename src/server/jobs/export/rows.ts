import type { Plan } from "@/core/query/plan";
import type { RowFormat } from "@/core/schedule/choices";
import type { FileResult } from "@/server/jobs/work";
import type { Reading } from "@/server/source/reading";
import type { Told } from "@/server/source/rows";
import { exportCsv } from "./csv";
import { exportJson } from "./json";

/** @param told how many rows are written so far */
type Export = (reading: Reading, plan: Plan, path: string, guarded?: boolean, told?: Told) => FileResult | Promise<FileResult>;

/** One entry a format that takes a query's rows one by one. */
export const exportRows: Record<RowFormat, Export> = {
  csv: (reading, plan, path, guarded, told) => exportCsv(reading, plan, path, { guarded, told }),
  tsv: (reading, plan, path, guarded, told) => exportCsv(reading, plan, path, { guarded, told, delimiter: "\t" }),
  json: (reading, plan, path, _, told) => exportJson(reading, plan, path, false, told),
  ndjson: (reading, plan, path, _, told) => exportJson(reading, plan, path, true, told),
  // The writer of workbooks is large: it is loaded when the first one is asked for.
  xlsx: async (reading, plan, path, _, told) => (await import("./xlsx")).exportXlsx(reading, plan, path, { told }),
};
