import { createHash } from "node:crypto";
import Database from "better-sqlite3";
import { cellOfStored, type Stored } from "@/core/posting/coerce";
import { quoted } from "@/core/query/dialect/dialect";
import { literal } from "@/core/shape/literal";
import type { ShapePlan, ShapePlanColumn } from "@/core/shape/plan";
import { madeSql } from "@/core/shape/reshape";
import type { ColumnSurvey, ShapeSurvey } from "@/core/shape/survey";
import { nearest } from "@/core/types/near";
import { JobFailure } from "@/server/engine/failures";
import { registerFunctions } from "@/server/engine/functions";
import { changeShape } from "./change";
import { converter, finder, registerConverters, registerFinders } from "./convert";
import { belongings, schemaTexts } from "./schemaTexts";
import { rowidName } from "./transform";

type Fitting = { value: (sql: string) => string; fits: (sql: string) => string };
const whereFits = (own: Fitting | undefined, from: string): string => (own ? `CASE WHEN ${own.fits(from)} THEN ${own.value(from)} END` : from);

/** How many values that do not fit are listed, and how many rows are shown. */
const MOST_LISTED = 50;
const MOST_SHOWN = 100;
/** How many doubled values are named. */
const MOST_NAMED = 5;

const number = (value: unknown): number => Number(value ?? 0);

/** Looks at every row for what a change would come to. Nothing is written. */
export function surveyShape(db: Database.Database, plan: ShapePlan): ShapeSurvey {
  const structure = tried(db, plan);
  const table = plan.table;
  if (table === null) return sealed({ ...NOTHING, refusal: structure.refusal });
  const converted = plan.columns.flatMap(({ id, column, value }) => (value.kind === "convert" ? [{ id, column, value }] : []));
  const convert = registerConverters(db, converted);
  const find = registerFinders(
    db,
    plan.columns.flatMap(({ id, value }) => (value.kind === "lookup" ? [{ id, value }] : [])),
  );
  const rowid = rowidName(plan.columns.flatMap((c) => (c.value.kind === "same" ? [c.value.column] : []))) ?? "rowid";
  const madeOf = ({ id, value }: ShapePlanColumn): string => {
    if (value.kind === "fill") return literal(value.stored);
    if (value.kind === "number") return rowid;
    if (value.kind === "lookup") return whereFits(find.get(id), quoted(value.from.name));
    const from = quoted(value.kind === "same" ? value.column : value.from.name);
    return whereFits(convert.get(id), from);
  };
  const projected = `(SELECT ${plan.columns.map((c) => `${madeOf(c)} AS ${quoted(c.column.name)}`).join(", ")} FROM ${quoted(table)})`;
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
    ...structure,
    sample: (db.prepare(`SELECT * FROM ${projected} LIMIT ${MOST_SHOWN}`).raw().safeIntegers(true).all() as Stored[][]).map((row) =>
      plan.columns.map(({ column }, i) => cellOfStored(row[i] ?? null, column)),
    ),
  });

  /** Rows whose misfit stands in the way of a value: they are not empty of themselves. */
  function misfitsNow({ id, value }: ShapePlanColumn): number {
    const own = convert.get(id);
    return own && value.kind === "convert" ? count(`${quoted(table as string)} WHERE NOT ${own.fits(quoted(value.from.name))}`) : 0;
  }

  /** The values that a lookup does not find, with the name each may have meant. */
  function missedBy(id: string, value: Extract<ShapePlanColumn["value"], { kind: "lookup" }>): ColumnSurvey["misfits"] {
    const from = quoted(value.from.name);
    const odd = `${quoted(table as string)} WHERE NOT ${find.get(id)?.fits(from)}`;
    const found = finder(db, value);
    const listed = listedIn(odd, from);
    return {
      rows: listed.length === 0 ? 0 : count(odd),
      values: listed.map(([stored, times]) => {
        const made = found.find(stored);
        // Which of several rows is meant is not for us to say.
        const near = "why" in made && made.rows === 0 ? nearest(String(stored), found.names()) : null;
        return { written: String(stored), why: "why" in made ? made.why : "", rows: Number(times), ...(near === null ? {} : { near }) };
      }),
    };
  }

  function listedIn(odd: string, from: string): [Stored, bigint][] {
    const sql = `SELECT ${from}, COUNT(*) AS times FROM ${odd} GROUP BY 1 ORDER BY times DESC, 1 LIMIT ${MOST_LISTED}`;
    return db.prepare(sql).raw().safeIntegers(true).all() as [Stored, bigint][];
  }

  function misfitsOf(planned: ShapePlanColumn): ColumnSurvey["misfits"] {
    const { value, column, id } = planned;
    if (value.kind === "lookup") return missedBy(id, value);
    if (value.kind !== "convert") return { rows: 0, values: [] };
    // Those that are to be emptied are told as well: they are what is lost.
    const strict = { ...value, empty: false };
    const read = converter(strict, column);
    const fits = value.empty ? registerConverters(db, [{ id, column, value: strict }]).get(id) : convert.get(id);
    const from = quoted(value.from.name);
    const odd = `${quoted(table as string)} WHERE NOT ${fits?.fits(from)}`;
    const listed = listedIn(odd, from);
    const rows = listed.length === 0 ? 0 : count(odd);
    // The converters of the plan are the ones that count from here on.
    if (value.empty) registerConverters(db, converted);
    return {
      rows,
      values: listed.map(([stored, times]) => {
        const made = read(stored);
        return { written: "why" in made ? made.written : String(stored), why: "why" in made ? made.why : "", rows: Number(times) };
      }),
    };
  }
}

const NOTHING: Omit<ShapeSurvey, "digest"> = {
  rows: 0,
  columns: {},
  key: { empty: 0, doubled: { rows: 0, values: [] } },
  dropped: [],
  kept: { indexes: 0, triggers: 0 },
  lostIndexes: [],
  refusal: null,
  sample: [],
};

const sealed = (survey: Omit<ShapeSurvey, "digest">): ShapeSurvey => ({ ...survey, digest: createHash("sha1").update(JSON.stringify(survey)).digest("hex") });

/** Makes the change of the database's objects alone, without any row, beside it: what stands in its way is known before a row is read. */
function tried(db: Database.Database, plan: ShapePlan): Pick<ShapeSurvey, "kept" | "lostIndexes" | "refusal"> {
  const texts = schemaTexts(db);
  const own = plan.table === null ? [] : belongings(texts, plan.table);
  const empty = new Database(":memory:");
  try {
    empty.pragma("foreign_keys = OFF");
    registerFunctions(empty);
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
function quietly(db: Database.Database, sql: string): void {
  try {
    db.exec(sql);
  } catch {}
}
