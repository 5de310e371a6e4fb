import { join } from "node:path";
import { type DuckDBConnection, DuckDBInstance } from "@duckdb/node-api";

/* The engine of the columnar copy, with what it may hold and which of its steps are taken. */

/** How many megabytes the engine of the copy may hold, and in how many threads it works at most. */
const MEMORY_MB = 400;
const MOST_THREADS = 4;

/**
 * The steps of its engine's optimizer that are taken. With the others, figures over several joins took another column's
 * values, or none (found by queries made at random, columnar.test.ts); our plans are joined in the order that suits them.
 * "row_group_pruner" would find the first rows of a sort of ten million in two thirds of the time, and finds other rows
 * once some were removed (held by the same tests).
 */
const KEPT_STEPS = ["expression_rewriter", "unused_columns", "top_n", "limit_pushdown"];

/** Opens its file, or makes it. @throws what the engine does for a file that is none of its own */
export async function openEngine(path: string, folder: string, threads: number): Promise<{ instance: DuckDBInstance; writer: DuckDBConnection }> {
  const instance = await DuckDBInstance.create(path, {
    memory_limit: `${MEMORY_MB}MB`,
    threads: String(Math.max(1, Math.min(MOST_THREADS, threads))),
    temp_directory: join(folder, "tmp"),
    max_temp_directory_size: "2GB",
    // Nothing is fetched from anywhere.
    autoinstall_known_extensions: "false",
    autoload_known_extensions: "false",
  });
  try {
    const writer = await instance.connect();
    const steps = (await writer.runAndReadAll("SELECT name FROM duckdb_optimizers()")).getRowsJS() as [string][];
    const left = steps.flatMap(([name]) => (KEPT_STEPS.includes(name) ? [] : name));
    await writer.run(`SET GLOBAL disabled_optimizers = '${left.join(",")}'`);
    return { instance, writer };
  } catch (error) {
    instance.closeSync();
    throw error;
  }
}
