import { quoted } from "@/core/query/dialect/dialect";
import { qualified, tableName } from "@/core/query/dialect/tableName";
import { type Broken, type Column, humanise, type Schema, type Table } from "@/core/schema/schema";
import type { ColumnSetting, MadeLink } from "@/core/schema/told";
import type { Storage } from "@/core/types/storage";
import { date, decimal, floating, text, timestamp, type ValueType, whole, yesno } from "@/core/types/valueType";
import { checkMadeLink, linksOf, type Reference } from "@/server/source/links";
import type { Written } from "./protocol";

/*
 * The shape of a database on a server, from its catalogs alone (PostgreSQL's manual, chapter 53 "System Catalogs"): it takes
 * as long for a hundred million rows as for ten. Types are those that columns are declared of.
 */

/** Rows of a statement of our own, as the server writes them; what fails leaves the transaction as it was. */
type Ask = (text: string, values?: Written[]) => Written[][];

/** Tables with fewer rows than this, as the server reckons, are counted; of larger ones its reckoning is told. */
const COUNTED = 200_000;
/** Tables whose rows are counted in one statement. */
const COUNTED_AT_ONCE = 100;

/** The ledger's own tables on the server lie in a schema of their own. */
const OWN_SCHEMA = "next_ledger";

/** What may be read: tables, partitioned ones as a whole, views, and tables of other servers. */
const RELATIONS = `
SELECT c.oid::text, n.nspname::text, c.relname::text, c.relkind::text,
  GREATEST(CASE WHEN c.relkind = 'p' THEN (SELECT SUM(GREATEST(leaf.reltuples, 0)) FROM pg_partition_tree(c.oid) AS p JOIN pg_class AS leaf ON leaf.oid = p.relid WHERE p.isleaf) ELSE c.reltuples END, 0)::bigint::text,
  CASE WHEN c.relkind IN ('r', 'm') THEN pg_relation_size(c.oid) ELSE 0 END::text,
  (c.relkind IN ('r', 'p') AND has_table_privilege(c.oid, 'INSERT') AND has_table_privilege(c.oid, 'UPDATE') AND has_table_privilege(c.oid, 'DELETE'))::int::text,
  (SELECT MIN(g.tgname)::text FROM pg_trigger AS g WHERE g.tgrelid = c.oid AND NOT g.tgisinternal)
FROM pg_class AS c JOIN pg_namespace AS n ON n.oid = c.relnamespace
WHERE c.relkind IN ('r', 'p', 'v', 'm', 'f') AND NOT c.relispartition
  AND n.nspname <> ALL (ARRAY['information_schema', '${OWN_SCHEMA}']) AND n.nspname !~ '^pg_'
  AND NOT EXISTS (SELECT FROM pg_depend AS d WHERE d.objid = c.oid AND d.deptype = 'e')
  AND has_schema_privilege(n.oid, 'USAGE') AND has_any_column_privilege(c.oid, 'SELECT')
ORDER BY n.nspname <> 'public', n.nspname, c.relname`;

/** Whether anything can be written, and the ledger's journal with it: in a schema of its own that is there, or may be made. */
const MAY_WRITE = `
SELECT (NOT pg_is_in_recovery() AND current_setting('default_transaction_read_only') = 'off' AND CASE WHEN to_regnamespace('${OWN_SCHEMA}') IS NULL
  THEN has_database_privilege(current_database(), 'CREATE') ELSE has_schema_privilege('${OWN_SCHEMA}', 'CREATE') END)::int::text`;

/** Their columns. A domain is what it is made of; `ordered` tells whether the server orders a text by code point. */
const COLUMNS = `
SELECT a.attrelid::text, a.attname::text, b.typname::text, b.typtype::text,
  (CASE WHEN t.typtype = 'd' THEN t.typtypmod ELSE a.atttypmod END)::text,
  (a.attnotnull OR t.typnotnull)::int::text, (a.attidentity <> '' OR pg_get_expr(d.adbin, d.adrelid) LIKE 'nextval(%')::int::text, a.attgenerated::text, (d.oid IS NOT NULL)::int::text,
  (a.attcollation = 0 OR co.collname IN ('C', 'POSIX', 'ucs_basic', 'C.utf8', 'C.UTF-8', 'pg_c_utf8')
    OR (co.collname = 'default' AND 'Z' < 'a' COLLATE "default" AND 'z' < 'é' COLLATE "default" AND '-b' < 'a' COLLATE "default"))::int::text,
  b.oid::text
FROM pg_attribute AS a
JOIN pg_type AS t ON t.oid = a.atttypid
JOIN pg_type AS b ON b.oid = CASE WHEN t.typtype = 'd' THEN t.typbasetype ELSE t.oid END
LEFT JOIN pg_attrdef AS d ON d.adrelid = a.attrelid AND d.adnum = a.attnum
LEFT JOIN pg_collation AS co ON co.oid = a.attcollation
WHERE a.attrelid = ANY ($1::oid[]) AND a.attnum > 0 AND NOT a.attisdropped AND has_column_privilege(a.attrelid, a.attnum, 'SELECT')
ORDER BY a.attrelid, a.attnum`;

/** Unique indexes that hold for all rows, as lists of columns; the primary key's is marked. */
const UNIQUE = `
SELECT i.indrelid::text, i.indisprimary::int::text,
  (SELECT json_agg(a.attname ORDER BY k.place)::text FROM unnest(i.indkey::int[]) WITH ORDINALITY AS k (number, place) JOIN pg_attribute AS a ON a.attrelid = i.indrelid AND a.attnum = k.number WHERE k.place <= i.indnkeyatts)
FROM pg_index AS i WHERE i.indrelid = ANY ($1::oid[]) AND i.indisunique AND i.indisvalid AND i.indpred IS NULL AND i.indexprs IS NULL`;

/** Foreign keys: from a table to another, column by column. */
const FOREIGN = `
SELECT c.conrelid::text, c.confrelid::text,
  (SELECT json_agg(a.attname ORDER BY k.place)::text FROM unnest(c.conkey) WITH ORDINALITY AS k (number, place) JOIN pg_attribute AS a ON a.attrelid = c.conrelid AND a.attnum = k.number),
  (SELECT json_agg(a.attname ORDER BY k.place)::text FROM unnest(c.confkey) WITH ORDINALITY AS k (number, place) JOIN pg_attribute AS a ON a.attrelid = c.confrelid AND a.attnum = k.number)
FROM pg_constraint AS c WHERE c.contype = 'f' AND c.conparentid = 0 AND c.conrelid = ANY ($1::oid[])
ORDER BY c.conrelid, c.oid`;

const CHECKS = `
SELECT c.conrelid::text, a.attname::text, pg_get_constraintdef(c.oid)
FROM pg_constraint AS c JOIN pg_attribute AS a ON a.attrelid = c.conrelid AND a.attnum = c.conkey[1]
WHERE c.contype = 'c' AND cardinality(c.conkey) = 1 AND c.conrelid = ANY ($1::oid[])`;

/**
 * Keys and references that whoever runs the database declares where the server cannot hold them itself, as over partitions
 * that lie on other servers: next_ledger.declared_key (table_name text, columns text[]) and next_ledger.declared_reference
 * (table_name text, columns text[], to_table text, to_columns text[]).
 */
const DECLARED_KEYS = `SELECT table_name::text, array_to_json(columns)::text FROM ${OWN_SCHEMA}.declared_key`;
const DECLARED_REFERENCES = `SELECT table_name::text, array_to_json(columns)::text, to_table::text, array_to_json(to_columns)::text FROM ${OWN_SCHEMA}.declared_reference`;
const IS_DECLARED = `SELECT (to_regclass('${OWN_SCHEMA}.declared_key') IS NOT NULL)::int::text, (to_regclass('${OWN_SCHEMA}.declared_reference') IS NOT NULL)::int::text`;

const ENUMS = "SELECT enumtypid::text, json_agg(enumlabel ORDER BY enumsortorder)::text FROM pg_enum GROUP BY enumtypid";

/** How many digits after the point the values of decimals without a scale have at most. */
const scaleOfValues = (table: string, columns: string[]) =>
  `SELECT ${columns.map((c) => `MAX(scale(trim_scale(${quoted(c)})))::text`).join(", ")} FROM ${qualified(table)}`;

/** More digits than that no column of money or measures has; such a decimal is read as a floating number. */
const MOST_SCALE = 9;

type Declared = {
  name: string;
  type: string;
  kind: string;
  modifier: number;
  required: boolean;
  numbered: boolean;
  generated: boolean;
  filled: boolean;
  byCodePoint: boolean;
  typeId: string;
};

/**
 * What a declared type is read as.
 * @param scale of a decimal without one: digits after the point that its values have
 * Source: PostgreSQL's manual, chapter 8 "Data Types"; a numeric's modifier holds its precision and scale (numeric.c)
 */
export function readAs(
  { type, kind, modifier, byCodePoint }: Pick<Declared, "type" | "kind" | "modifier" | "byCodePoint">,
  scale: number | null = null,
): { type: ValueType; storage: Storage } {
  switch (kind === "b" ? type : "") {
    case "int2":
    case "int4":
      return { type: whole, storage: "small" };
    case "int8":
      return { type: whole, storage: "plain" };
    case "oid":
      return { type: whole, storage: "small" };
    case "numeric": {
      // The scale is of eleven bits, and may be less than nothing.
      const declared = modifier < 4 ? scale : (((modifier - 4) & 0x7ff) ^ 1024) - 1024;
      if (declared === null || declared > MOST_SCALE) return { type: floating, storage: "plain" };
      return { type: declared <= 0 ? whole : decimal(declared), storage: "numeric" };
    }
    case "float4":
    case "float8":
      return { type: floating, storage: "plain" };
    case "bool":
      return { type: yesno, storage: "plain" };
    case "date":
      return { type: date, storage: "plain" };
    case "timestamp":
      return { type: timestamp, storage: "plain" };
    case "timestamptz":
      return { type: timestamp, storage: "zoned" };
    case "text":
    case "varchar":
      return { type: text, storage: byCodePoint ? "plain" : "collated" };
    case "bytea":
      return { type: text, storage: "size" };
    default:
      return { type: text, storage: "cast" };
  }
}

/** The texts in a check that allows a list of them: CHECK ((status = ANY (ARRAY['open'::text, 'paid'::text]))). */
export function allowedInCheck(definition: string): string[] | null {
  const [, list] = /^CHECK \(\(.* = ANY \(+ARRAY\[(.*)\]\)?(?:::[a-z [\]]+)?\)+$/s.exec(definition) ?? [];
  if (list === undefined) return null;
  const values = [...list.matchAll(/'((?:[^']|'')*)'(?:::[a-z ]+)?(?:, |\]|$)/g)].map(([, value = ""]) => value.replaceAll("''", "'"));
  return values.length > 0 ? values : null;
}

const listOf = (json: Written | undefined): string[] => (json ? (JSON.parse(json) as string[]) : []);

const byTable = <T>(rows: Written[][], made: (row: Written[]) => T): Map<string, T[]> => {
  const found = new Map<string, T[]>();
  for (const row of rows) found.set(String(row[0]), [...(found.get(String(row[0])) ?? []), made(row)]);
  return found;
};

/** Reads the shape of a server's database. */
export function inspectServer(ask: Ask, settings: ColumnSetting[], made: MadeLink[]): Schema {
  const relations = ask(RELATIONS).map(([id, schema, relation, kind, reckoned, size, writable, trigger]) => ({
    id: String(id),
    name: tableName(String(schema), String(relation)),
    relation: String(relation),
    kind: String(kind),
    reckoned: Number(reckoned),
    size: Number(size),
    writable: writable === "1",
    trigger: trigger ?? undefined,
  }));
  const mayWrite = ask(MAY_WRITE)[0]?.[0] === "1";
  const ids = `{${relations.map((r) => r.id).join(",")}}`;
  const declared = byTable(ask(COLUMNS, [ids]), declaredOf);
  const unique = byTable(ask(UNIQUE, [ids]), ([, primary, columns]) => ({ primary: primary === "1", columns: listOf(columns) }));
  const foreign = byTable(ask(FOREIGN, [ids]), ([, parent, near, far]) => ({ parent: String(parent), near: listOf(near), far: listOf(far) }));
  const checks = byTable(ask(CHECKS, [ids]), ([, column, definition]) => ({ column: String(column), allowed: allowedInCheck(String(definition)) }));
  const enums = new Map(ask(ENUMS).map(([id, labels]): [string, string[]] => [String(id), listOf(labels)]));
  const unread: Broken[] = [];
  const rows = countRows(ask, relations);
  const told = declaredIn(ask);

  const tables = relations.flatMap(({ id, name, relation, kind, writable, trigger }): Table[] => {
    const own = declared.get(id) ?? [];
    const label = humanise(relation);
    try {
      const scales = valueScales(ask, name, own);
      const keys = unique.get(id) ?? [];
      const held = keys.find((k) => k.primary)?.columns ?? [];
      const key = held.length > 0 ? held : (told.keys.get(name) ?? []);
      const counted = held.length > 0 || key.length === 0 ? rows.get(id) : declaredKey(ask, name, own, key);
      return [
        {
          name,
          label,
          columns: own.map((column): Column => {
            const set = settings.find((s) => s.table === name && s.column === column.name);
            const allowed = enums.get(column.typeId) ?? checks.get(id)?.find((c) => c.column === column.name && c.allowed)?.allowed ?? undefined;
            const filled = column.numbered ? ("number" as const) : column.filled ? ("default" as const) : undefined;
            const most = (column.type === "varchar" || column.type === "bpchar") && column.modifier > 4 ? column.modifier - 4 : undefined;
            return {
              name: column.name,
              label: set?.label ?? humanise(column.name),
              ...readAs(column, scales.get(column.name) ?? null),
              nullable: !column.required,
              unit: set?.unit ?? undefined,
              format: set?.format ?? undefined,
              note: set?.note ?? undefined,
              ...(column.generated ? { generated: true } : filled ? { filled } : {}),
              ...(most === undefined ? {} : { most }),
              ...(allowed ? { allowed } : {}),
              misfits: 0,
            };
          }),
          key,
          ...(counted ?? { rows: 0 }),
          onServer: true,
          ...(kind === "v" || kind === "m" || kind === "f" ? { view: true } : {}),
          // Without a key nothing names a row for the journal.
          ...(mayWrite && writable && held.length > 0 ? {} : { denied: true as const }),
          ...(trigger === undefined ? {} : { trigger }),
        },
      ];
    } catch (error) {
      unread.push({ kind: kind === "v" ? "view" : "table", id: name, label, table: name, why: `The database could not run it: ${(error as Error).message}.` });
      return [];
    }
  });

  const idOf = new Map(relations.map((r) => [r.name, r.id]));
  const nameOf = new Map(relations.map((r) => [r.id, r.name]));
  const tellsApart = (table: string, columns: string[]) =>
    (tables.find((t) => t.name === table)?.key ?? []).join("\0") === columns.join("\0") ||
    (unique.get(idOf.get(table) ?? "") ?? []).some((u) => u.columns.length > 0 && u.columns.every((c) => columns.includes(c)));
  const referencesOf = (table: string): Reference[] => [
    ...(foreign.get(idOf.get(table) ?? "") ?? []).flatMap(({ parent, near, far }) => {
      const name = nameOf.get(parent);
      return name === undefined ? [] : [{ parent: name, near, far }];
    }),
    ...told.references.filter((r) => r.table === table),
  ];
  const links = tables.flatMap((t) => linksOf(t, referencesOf(t.name), tables, tellsApart));
  const checked = made.map((link) => checkMadeLink(link, tables, (table, columns) => tellsApart(table, columns) || isToldApart(ask, table, columns)));
  return {
    tables,
    links: [...links, ...checked.flatMap((c) => ("link" in c ? [c.link] : []))],
    broken: [...unread, ...checked.flatMap((c) => ("broken" in c ? [c.broken] : []))],
  };
}

const declaredOf = ([, name, type, kind, modifier, required, numbered, generated, filled, byCodePoint, typeId]: Written[]): Declared => ({
  name: String(name),
  type: String(type),
  kind: String(kind),
  modifier: Number(modifier),
  required: required === "1",
  numbered: numbered === "1",
  generated: generated !== "",
  filled: filled === "1",
  byCodePoint: byCodePoint === "1",
  typeId: String(typeId),
});

type Told = { keys: Map<string, string[]>; references: (Reference & { table: string })[] };

function declaredIn(ask: Ask): Told {
  const [[keys, references] = []] = ask(IS_DECLARED);
  return {
    keys: new Map(keys === "1" ? ask(DECLARED_KEYS).map(([table, columns]): [string, string[]] => [String(table), listOf(columns)]) : []),
    references:
      references === "1"
        ? ask(DECLARED_REFERENCES).map(([table, near, parent, far]) => ({ table: String(table), near: listOf(near), parent: String(parent), far: listOf(far) }))
        : [],
  };
}

/**
 * A declared key, as long as it tells the rows apart: nothing else sees to it. All rows are looked at, and counted on the way.
 * @throws Error where it does not
 */
function declaredKey(ask: Ask, table: string, own: Declared[], key: string[]): { rows: number } {
  const gone = key.find((name) => !own.some((c) => c.name === name));
  if (gone !== undefined) throw new Error(`its declared key names a column “${gone}” that is not there`);
  const names = key.map(quoted).join(", ");
  const empty = key.map((name) => `${quoted(name)} IS NULL`).join(" OR ");
  // Each group is worked out where its rows lie, if they lie there by columns of the key.
  const groups = `SELECT COUNT(*) AS n, bool_or(${empty}) AS empty FROM ${qualified(table)} GROUP BY ${names}`;
  const [[rows, doubled, without] = []] = ask(
    `SELECT COALESCE(SUM(n), 0)::text, (COUNT(*) FILTER (WHERE n > 1))::text, (COUNT(*) FILTER (WHERE empty))::text FROM (${groups}) AS told`,
  );
  if (doubled !== "0" || without !== "0") throw new Error("its declared key does not tell its rows apart");
  return { rows: Number(rows) };
}

/** The digits after the point of decimals that are declared without any. */
function valueScales(ask: Ask, table: string, declared: Declared[]): Map<string, number | null> {
  const open = declared.filter((c) => c.kind === "b" && c.type === "numeric" && c.modifier < 4).map((c) => c.name);
  if (open.length === 0) return new Map();
  const [found = []] = ask(scaleOfValues(table, open));
  return new Map(open.map((name, i) => [name, found[i] == null ? 0 : Number(found[i])]));
}

/** How many rows tables have: counted where that is quickly done, else as the server reckons. */
function countRows(
  ask: Ask,
  relations: { id: string; name: string; kind: string; reckoned: number; size: number }[],
): Map<string, { rows: number; reckoned?: true }> {
  const isSmall = (r: (typeof relations)[number]) => (r.kind === "r" || r.kind === "m") && r.reckoned < COUNTED && r.size < COUNTED * 100;
  const counts = new Map<string, { rows: number; reckoned?: true }>(
    relations.filter((r) => !isSmall(r)).map((r) => [r.id, { rows: r.reckoned > 0 ? r.reckoned : planned(ask, r.name), reckoned: true }]),
  );
  const small = relations.filter(isSmall);
  for (let at = 0; at < small.length; at += COUNTED_AT_ONCE) {
    const part = small.slice(at, at + COUNTED_AT_ONCE);
    const [row = []] = ask(`SELECT ${part.map((r) => `(SELECT COUNT(*) FROM ${qualified(r.name)})::text`).join(", ")}`);
    part.forEach((r, i) => counts.set(r.id, { rows: Number(row[i]) }));
  }
  return counts;
}

/** The rows that the server's planner reckons with, of what it keeps no count of. */
function planned(ask: Ask, table: string): number {
  const [[plan] = []] = ask(`EXPLAIN (FORMAT JSON) SELECT 1 FROM ${qualified(table)}`);
  const [{ Plan: { "Plan Rows": rows = 0 } = {} } = {}] = JSON.parse(String(plan)) as { Plan?: { "Plan Rows"?: number } }[];
  return rows;
}

/** Whether no two rows have the same values in columns, as the data stands. */
function isToldApart(ask: Ask, table: string, columns: string[]): boolean {
  const names = columns.map(quoted).join(", ");
  const filled = columns.map((c) => `${quoted(c)} IS NOT NULL`).join(" AND ");
  return ask(`SELECT 1::text FROM ${qualified(table)} WHERE ${filled} GROUP BY ${names} HAVING COUNT(*) > 1 LIMIT 1`).length === 0;
}
