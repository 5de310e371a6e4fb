import { createHash } from "node:crypto";
import { cellOfStored, type Stored } from "@/core/posting/coerce";
import { quoted } from "@/core/query/dialect/dialect";
import { madeSql } from "@/core/shape/reshape";
import type { ShapePlan, ShapePlanColumn, ShapeValue } from "@/core/shape/shapePlan";
import type { ColumnSurvey, ShapeMade, ShapeSurvey } from "@/core/shape/survey";
import { rowidName } from "@/core/shape/worked";
import { otherReading } from "@/core/types/date";
import { nearest } from "@/core/types/near";
import { isDated } from "@/core/types/valueType";
import { JobFailure } from "@/server/source/failures";
import type { FileDatabase } from "@/server/source/sqlite/database";
import { openMemory } from "@/server/source/sqlite/writers";
import { changeShape } from "./change";
import { converter, finder, registerConverters } from "./convert";
import { type RowSql, readingsOf } from "./readings";
import { belongings, schemaTexts } from "./schemaTexts";
import { joinWorked, workedSql, workOut } from "./worked";

/** How many values that do not fit are listed, and how many rows are shown. */
const MOST_LISTED = 50;
const MOST_SHOWN = 100;
/** How many doubled values are named. */
const MOST_NAMED = 5;

const number = (value: unknown): number => Number(value ?? 0);

/**
 * Looks at every row for what a change would come to. Nothing is written.
 * @param made what was made for it on this connection
 */
export function surveyShape(db: FileDatabase, plan: ShapePlan, made: ShapeMade[] = []): ShapeSurvey {
  const structure = tried(db, plan);
  const table = plan.table;
  if (table === null) return sealed({ ...NOTHING, refusal: structure.refusal });
  workOut(db, plan.worked);
  const readings = readingsOf(db, plan);
  const from = `${quoted(table)} o${joinWorked(plan.worked, "o", plan.worked?.identity.map(quoted) ?? [])}`;
  const row: RowSql = {
    now: (column) => `o.${quoted(column)}`,
    worked: ({ name }) => workedSql(name),
    number: `o.${rowidName(plan.columns.flatMap((c) => (c.value.kind === "same" ? [c.value.column] : []))) ?? "rowid"}`,
  };
  const madeOf = (planned: ShapePlanColumn): string => {
    const { value, fits } = readings(planned, row);
    return fits === "1" ? value : `CASE WHEN ${fits} THEN ${value} END`;
  };
  const projected = `(SELECT ${plan.columns.map((c) => `${madeOf(c)} AS ${quoted(c.column.name)}`).join(", ")} FROM ${from})`;
  const count = (from: string): number => number(db.prepare(`SELECT COUNT(*) FROM ${from}`).pluck().get());
  const doubledIn = (names: string[]) => {
    const list = names.map(quoted).join(", ");
    const filled = names.map((n) => `${quoted(n)} IS NOT NULL`).join(" AND ");
    const groups = `SELECT ${list}, COUNT(*) AS times FROM ${projected} WHERE ${filled} GROUP BY ${list} HAVING COUNT(*) > 1`;
    const values = db.prepare(`${groups} ORDER BY times DESC LIMIT ${MOST_NAMED}`).raw().safeIntegers(true).all() as Stored[][];
    const rows = values.length === 0 ? 0 : number(db.prepare(`SELECT SUM(times) FROM (${groups})`).pluck().get());
    return {
      rows,
      values: values.map((v) =>
        v
          .slice(0, -1)
          .map((one) => String(one))
          .join(", "),
      ),
    };
  };
  const columns = plan.columns.map((planned): [string, ColumnSurvey] => {
    const name = quoted(planned.column.name);
    const wasRequired = planned.value.kind === "same" && planned.edit.notNull === undefined;
    return [
      planned.id,
      {
        misfits: misfitsOf(planned),
        ...twoWaysOf(planned),
        empty: planned.required && !wasRequired ? count(`${projected} WHERE ${name} IS NULL`) - misfitsNow(planned) : 0,
        doubled: planned.different ? doubledIn([planned.column.name]) : { rows: 0, values: [] },
        broken: planned.check ? count(`${projected} WHERE NOT (${planned.check.sql})`) : 0,
      },
    ];
  });
  const key = plan.key && plan.key.length > 0 && !plan.columns.some((c) => c.value.kind === "number") ? plan.key : null;
  return sealed({
    rows: count(quoted(table)),
    columns: Object.fromEntries(columns),
    key: key ? { empty: count(`${projected} WHERE ${key.map((k) => `${quoted(k)} IS NULL`).join(" OR ")}`), doubled: doubledIn(key) } : NOTHING.key,
    dropped: plan.dropped.map((c) => ({
      label: c.label,
      values: number(
        db
          .prepare(`SELECT COUNT(${quoted(c.name)}) FROM ${quoted(table)}`)
          .pluck()
          .get(),
      ),
    })),
    made,
    ...structure,
    sample: (db.prepare(`SELECT * FROM ${projected} LIMIT ${MOST_SHOWN}`).raw().safeIntegers(true).all() as Stored[][]).map((row) =>
      plan.columns.map(({ column }, i) => cellOfStored(row[i] ?? null, column)),
    ),
  });

  /** Rows whose misfit stands in the way of a value: they are not empty of themselves. */
  function misfitsNow(planned: ShapePlanColumn): number {
    const { fits } = readings(planned, row);
    return fits === "1" || (planned.value.kind === "lookup" && planned.value.empty) ? 0 : count(`${from} WHERE NOT ${fits}`);
  }

  /** The values that a lookup does not find, with the name each may have meant. */
  function missedBy(planned: ShapePlanColumn, value: Extract<ShapeValue, { kind: "lookup" }>): Misfits {
    const found = finder(db, value);
    return misfitsWhere(readings(planned, row).fits, row.now(value.from.name), (stored) => {
      const made = found.find(stored);
      // Which of several rows is meant is not for us to say.
      const near = "why" in made && made.rows === 0 ? nearest(String(stored), found.names()) : null;
      return { written: String(stored), why: "why" in made ? made.why : "", ...(near === null ? {} : { near }) };
    });
  }

  /** The values that do not fit; of those that are worked out by a formula, where that does not fit either. */
  function misfitsOf(planned: ShapePlanColumn): Misfits {
    const { value, column, id } = planned;
    if (value.kind === "lookup") return missedBy(planned, value);
    if (value.kind !== "convert" && value.kind !== "formula") return { rows: 0, values: [] };
    // Those that are to be emptied are told as well: they are what is lost.
    const strict = { ...value, empty: false };
    const read = converter(strict, column);
    const sql = value.kind === "formula" ? row.worked(value.from) : row.now(value.from.name);
    const fits = value.empty
      ? (registerConverters(db, [{ id, column, value: strict }], "strict")
          .get(id)
          ?.fits(sql) ?? "1")
      : readings(planned, row).fits;
    return misfitsWhere(fits, sql, (stored) => {
      const made = read(stored);
      return { written: "why" in made ? made.written : String(stored), why: "why" in made ? made.why : "" };
    });
  }

  /** Of texts that become dates: those in which day and month could change places. */
  function twoWaysOf({ value, column }: ShapePlanColumn): Pick<ColumnSurvey, "twoWays"> {
    if (value.kind !== "convert" || value.from.type.kind !== "text" || !isDated(column.type)) return {};
    const { dates } = value;
    db.function("next_ledger_two_ways", { deterministic: true }, (stored: unknown) =>
      typeof stored === "string" && otherReading(stored, dates) !== null ? 1 : 0,
    );
    const sql = row.now(value.from.name);
    const such = `${from} WHERE next_ledger_two_ways(${sql})`;
    const rows = count(such);
    return rows === 0 ? {} : { twoWays: { rows, values: db.prepare(`SELECT DISTINCT ${sql} FROM ${such} LIMIT ${MOST_NAMED}`).pluck().all() as string[] } };
  }

  function misfitsWhere(fits: string, sql: string, say: (stored: Stored) => Omit<Misfits["values"][number], "rows">): Misfits {
    const odd = `${from} WHERE NOT ${fits}`;
    const list = `SELECT ${sql}, COUNT(*) AS times FROM ${odd} GROUP BY 1 ORDER BY times DESC, 1 LIMIT ${MOST_LISTED}`;
    const listed = db.prepare(list).raw().safeIntegers(true).all() as [Stored, bigint][];
    return { rows: listed.length === 0 ? 0 : count(odd), values: listed.map(([stored, times]) => ({ ...say(stored), rows: Number(times) })) };
  }
}

type Misfits = ColumnSurvey["misfits"];

const NOTHING: Omit<ShapeSurvey, "digest"> = {
  rows: 0,
  columns: {},
  key: { empty: 0, doubled: { rows: 0, values: [] } },
  dropped: [],
  made: [],
  kept: { indexes: 0, triggers: 0 },
  lostIndexes: [],
  refusal: null,
  sample: [],
};

const sealed = (survey: Omit<ShapeSurvey, "digest">): ShapeSurvey => ({ ...survey, digest: createHash("sha1").update(JSON.stringify(survey)).digest("hex") });

/** What is known of a change that cannot be tried. */
export const refusedShape = (refusal: string): ShapeSurvey => sealed({ ...NOTHING, refusal });

/** Makes the change of the database's objects alone, without any row, beside it: what stands in its way is known before a row is read. */
function tried(db: FileDatabase, plan: ShapePlan): Pick<ShapeSurvey, "kept" | "lostIndexes" | "refusal"> {
  const texts = schemaTexts(db);
  const own = plan.table === null ? [] : belongings(texts, plan.table);
  const empty = openMemory();
  try {
    for (const kind of ["table", "index", "view", "trigger"] as const) for (const { type, sql } of texts) if (type === kind) quietly(empty, sql);
    let lostIndexes: string[] = [];
    if (plan.how === "make") empty.exec(madeSql(plan));
    else if (plan.how !== "nothing") lostIndexes = changeShape(empty, plan, null).lostIndexes;
    const left = own.filter((t) => !lostIndexes.includes(t.name));
    return {
      kept: { indexes: left.filter((t) => t.type === "index").length, triggers: left.filter((t) => t.type === "trigger").length },
      lostIndexes,
      refusal: null,
    };
  } catch (error) {
    return { ...NOTHING, refusal: error instanceof JobFailure ? error.particulars : `the database would not make it: ${(error as Error).message}` };
  } finally {
    empty.close();
  }
}

/** An object that this SQLite cannot make stays away: it cannot be changed with the table either. */
function quietly(db: FileDatabase, sql: string): void {
  try {
    db.exec(sql);
  } catch {}
}
