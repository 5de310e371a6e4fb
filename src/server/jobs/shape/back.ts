import { quoted } from "@/core/query/dialect/dialect";
import type { Column } from "@/core/schema/schema";
import type { ShapeSaid } from "@/core/shape/shapePlan";
import { JobFailure } from "@/server/source/failures";
import type { FileDatabase } from "@/server/source/sqlite/database";
import { registerConverters } from "./convert";
import { foreignFaults } from "./foreignFaults";
import type { ColumnPair, ShapeRecord } from "./record";
import { belongings, otherTexts, restoreTexts, type SchemaText, schemaTexts, tableText } from "./schemaTexts";
import { identityColumns, identityOf, keptTable, type Move, rebuild, setSequence } from "./transform";

type Standing = { before: { name: string }; after: { name: string } };

/**
 * Takes a change of a table's shape back on an open transaction: the statement of the table, and of all that was changed
 * with it, letter by letter; of its values those that were lost. A value that was changed since is turned back into its old type.
 * @param number of the entry, under which values are kept
 * @param entry the number under which what is lost this time is kept; null where it is only tried
 * @returns the record of it, by which it can be taken back in turn
 * @throws JobFailure "columnsChanged" where the table was changed again since, "shapeRefused" where a value will not go back
 */
export function changeBack(db: FileDatabase, record: ShapeRecord & Standing, number: number, entry: number | null): ShapeRecord {
  const texts = schemaTexts(db);
  needAsLeft(texts, record);
  const [from, to] = [record.after.name, record.before.name];
  const isTable = ({ type, name }: SchemaText) => type === "table" && (name === from || name === to);
  // Where values alone were changed, the statement is the same.
  const sql = record.texts.before.find(isTable)?.sql ?? (record.kept.length > 0 ? (tableText(db, from) as string) : undefined);
  const faults = foreignFaults(db);
  if (sql !== undefined) rebuildBack(db, record, sql, number, entry);
  const own = sql === undefined ? [] : belongings(texts, from);
  const isOwn = (text: SchemaText) => own.some((o) => o.type === text.type && o.name === text.name);
  const changed = (text: SchemaText) => record.texts.after.some((t) => t.type === text.type && t.name === text.name);
  restoreTexts(
    db,
    [...record.texts.before.filter((t) => !isTable(t)), ...own.filter((t) => !changed(t))],
    record.texts.after.filter((t) => !isTable(t) && !isOwn(t)),
  );
  if (record.sequence !== null && sql !== undefined) setSequence(db, to, BigInt(record.sequence));
  if (foreignFaults(db) > faults) throw new JobFailure("shapeRefused", "rows of other tables would lead to rows that do not exist");
  const after = schemaTexts(db);
  return {
    before: { name: from },
    after: { name: to },
    pairs: record.pairs.map(({ before, after: made, same }) => ({ before: made, after: before, same })),
    texts: { before: otherTexts(texts, after), after: otherTexts(after, texts) },
    said: saidBack(record),
    sequence: record.sequence,
    kept: sql === undefined ? [] : lostBack(record).map((c) => c.from),
  };
}

/** What was said of columns, the other way round, under the names they have again. */
const saidBack = ({ said = [], pairs }: ShapeRecord): ShapeSaid[] =>
  said.flatMap(({ column, before, after }) => {
    const pair = pairs.find((p) => p.after?.name === column);
    return pair?.before ? [{ column: pair.before.name, before: after, after: before }] : [];
  });

/** The table, and what was changed with it, stands as the change left it. */
function needAsLeft(texts: SchemaText[], { texts: { after } }: ShapeRecord): void {
  const changed = otherTexts(after, texts)[0];
  if (changed) throw new JobFailure("columnsChanged", changed.name);
}

type Known = ColumnPair & { before: Column; after: Column };
const converted = (record: ShapeRecord): Known[] => record.pairs.filter((p): p is Known => p.before !== null && p.after !== null && !p.same);

/** What going back loses: columns that were added, and values in their new types. */
const lostBack = (record: ShapeRecord): { from: string; to: string | null }[] => [
  ...record.pairs.flatMap(({ before, after }) => (before === null && after && !after.generated ? [{ from: after.name, to: null }] : [])),
  ...converted(record).map(({ before, after }) => ({ from: after.name, to: before.name })),
];

const keptAt = (record: ShapeRecord, { name }: Column): number => record.kept.indexOf(name);

/** SQL that is true of a row whose value of a column is not what the change made of it. */
function changedSince(record: ShapeRecord, { before, after }: Known): string {
  const value = `o.${quoted(after.name)}`;
  return `(CASE WHEN k.r0 IS NULL THEN ${value} IS NOT NULL ELSE ${value} IS NOT k.n${keptAt(record, before)} COLLATE BINARY OR typeof(${value}) <> typeof(k.n${keptAt(record, before)}) END)`;
}

function rebuildBack(db: FileDatabase, record: ShapeRecord & Standing, sql: string, number: number, entry: number | null): void {
  const turned = converted(record);
  const convert = registerConverters(
    db,
    turned.map(({ before, after }) => ({
      id: before.name,
      column: before,
      value: { kind: "convert" as const, from: after, dates: "ymd" as const, empty: false, mapped: [], fill: null },
    })),
  );
  const identity = identityOf(
    tableText(db, record.after.name) as string,
    sql,
    (name) => record.pairs.find((p) => p.after?.name === name)?.before?.name ?? null,
  );
  const moves = record.pairs.flatMap((pair): Move[] => {
    const { before, after, same } = pair;
    if (before === null || before.generated) return [];
    const value = after && `o.${quoted(after.name)}`;
    if (after && same) return [{ to: before.name, value: value as string, same: after.name }];
    const kept = `k.o${keptAt(record, before)}`;
    if (!after) return [{ to: before.name, value: kept }];
    return [
      { to: before.name, value: `CASE WHEN ${changedSince(record, pair as Known)} THEN ${convert.get(before.name)?.value(value as string)} ELSE ${kept} END` },
    ];
  });
  const losing = lostBack(record);
  try {
    rebuild(db, {
      table: record.after.name,
      name: record.before.name,
      sql,
      moves,
      identity,
      kept: record.kept.length > 0 ? { table: keptTable(number), identity: identityColumns(identity.old.length) } : undefined,
      keep: entry !== null && losing.length > 0 ? { table: keptTable(entry), columns: losing } : undefined,
    });
  } catch (error) {
    const { code = "", message = "" } = error as { code?: string; message?: string };
    if (/NOTNULL/.test(code))
      throw new JobFailure(
        "shapeRefused",
        `rows added since have no “${message.split(".").at(-1)}”, which was required; remove them, or enter it after adding the column again`,
      );
    if (/CHECK|UNIQUE|PRIMARYKEY/.test(code)) throw new JobFailure("shapeRefused", "rows were added or changed since that would break a rule the table had");
    throw error;
  }
}

/** Rows that going back would change further than the change did: those in which somebody changed a value of another type since. */
export function rowsSince(db: FileDatabase, record: ShapeRecord & Standing, number: number): number {
  const turned = converted(record);
  if (turned.length === 0 || !tableText(db, record.after.name)) return 0;
  const sql = tableText(db, record.after.name) as string;
  const identity = identityOf(sql, sql, (name) => name);
  const on = identity.old.map((r, i) => `k.r${i} = o.${r}`).join(" AND ");
  return Number(
    db
      .prepare(
        `SELECT COUNT(*) FROM ${quoted(record.after.name)} o LEFT JOIN ${quoted(keptTable(number))} k ON ${on} WHERE ${turned.map((pair) => changedSince(record, pair)).join(" OR ")}`,
      )
      .pluck()
      .get(),
  );
}
