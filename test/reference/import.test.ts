import { copyFileSync, readdirSync, readFileSync, writeFileSync } from "node:fs";
import { join, resolve } from "node:path";
import { gzipSync } from "node:zlib";
import { DuckDBInstance } from "@duckdb/node-api";
import Database from "better-sqlite3";
import ExcelJS from "exceljs";
import { strFromU8, unzipSync } from "fflate";
import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";
import { columnsProposed } from "@/core/import/propose";
import type { FileFormat, ImportSpec } from "@/core/import/spec";
import { compileRows } from "@/core/query/compile";
import { sqlite } from "@/core/query/dialect/sqlite";
import { emptyQuery } from "@/core/query/empty";
import { resolveQuery } from "@/core/query/resolve";
import type { QuerySpec } from "@/core/query/spec";
import { ROW_FORMATS } from "@/core/schedule/choices";
import { findTable, type Table } from "@/core/schema/schema";
import { usualDay } from "@/core/types/calendar";
import { exportRows } from "@/server/jobs/export/rows";
import { exportWithAbout } from "@/server/jobs/export/withAbout";
import { exportXlsx } from "@/server/jobs/export/xlsx";
import { findFormat } from "@/server/jobs/import/format";
import { importFile } from "@/server/jobs/import/run";
import { scanFile } from "@/server/jobs/import/scan";
import { previewReversal, reverse } from "@/server/jobs/posting/run";
import { sqliteReading } from "@/server/source/read";
import { inspectDatabase } from "@/server/source/sqlite/inspect";
import { openReader, readRows } from "@/server/source/sqlite/readers";
import { makeDatabase, temporaryFolder } from "../support/ledger";
import { sampleRows, sampleSchema } from "../support/sample";

/* Files in: round trips of every type through every format, open data against DuckDB's own reader, and files that are wrong. */

let place: ReturnType<typeof temporaryFolder>;
let database: string;
beforeEach(() => {
  place = temporaryFolder();
  database = join(place.folder, "b.sqlite");
  new Database(database).exec("CREATE TABLE already (x)").close();
});
afterEach(() => place.remove());

const nothing = () => {};
const entry = { at: "2026-11-23T08:00:00Z", by: "a test", kind: "table" as const, name: "t", brief: "", table: "t" };
const file = (name: string, content: string | Buffer): string => {
  const path = join(place.folder, name);
  writeFileSync(path, content);
  return path;
};
const scan = async (path: string, name: string, format?: FileFormat) => {
  const found = format ?? (await findFormat(path, name)).format;
  return { format: found, scan: await scanFile(path, found, nothing) };
};
async function bring(path: string, name: string, change: (spec: ImportSpec) => ImportSpec = (s) => s) {
  const read = await scan(path, name);
  const spec = change({
    format: read.format,
    columns: columnsProposed(read.scan),
    misfits: "keep",
    into: { kind: "table", name: "t", key: null },
  });
  const imported = await importFile(path, spec, { kind: "table", database, entry }, nothing);
  return { imported, spec, read };
}
function shapeOf(path: string) {
  const db = new Database(path, { readonly: true });
  const schema = inspectDatabase(db, []);
  db.close();
  return schema;
}
const rowsIn = (table: string): unknown[][] => {
  const db = new Database(database, { readonly: true });
  const rows = db.prepare(`SELECT * FROM "${table}"`).raw().safeIntegers(true).all() as unknown[][];
  db.close();
  return rows;
};

describe("round trips", () => {
  it.each([...ROW_FORMATS])("every type goes out as %s and comes back the same", async (format) => {
    const crate = findTable(sampleSchema, "crate") as Table;
    const db = new Database(database);
    db.exec(
      "CREATE TABLE crate (id INTEGER PRIMARY KEY, yard_id INTEGER, mark TEXT, day DATE, at TIMESTAMP, price INTEGER_SCALED(2), mass INTEGER_SCALED(1), pieces INTEGER, ratio REAL, sealed BOOLEAN)",
    );
    const insert = db.prepare(`INSERT INTO crate VALUES (${crate.columns.map(() => "?").join(", ")})`);
    // A text without letters and an empty one are the same in a file.
    const rows = (sampleRows(7).crate ?? []).map((r) => r.map((v) => (v === "" ? null : v)));
    for (const row of rows) insert.run(row.map((v, i) => (typeof v === "number" && crate.columns[i]?.type.kind !== "floating" ? BigInt(v) : v)));
    insert.run([1000n, null, 'a "quoted", line\r\nbroken; ž', "0001-01-01", "9999-12-31 23:59:58", 900719925474099399n, -1n, -9007199254740993n, 1.5e-9, 1n]);
    db.close();
    const columns = crate.columns.map((c) => ({
      id: c.name,
      value: { kind: "field" as const, join: "", column: c.name },
      label: c.name,
      footing: "none" as const,
    }));
    const resolved = resolveQuery({ ...emptyQuery("crate"), columns }, shapeOf(database), { today: usualDay("2026-11-23"), values: {} });
    if (!resolved.ok) throw new Error(JSON.stringify(resolved.problems));
    const path = join(place.folder, `out.${format}`);
    const reader = openReader(database);
    await exportRows[format](sqliteReading(reader), resolved.value, path);
    const before = [...readRows(reader, compileRows(resolved.value, sqlite))];
    reader.close();
    const { imported } = await bring(path, `out.${format}`, (spec) => ({
      ...spec,
      columns: spec.columns.map((c, i) => ({ ...c, type: crate.columns[i]?.type ?? c.type })),
    }));
    expect(imported.misfits).toBe(0);
    const back = shapeOf(database);
    const again = resolveQuery({ ...emptyQuery("t"), columns, order: [{ column: "id", direction: "up" }] }, back, {
      today: usualDay("2026-11-23"),
      values: {},
    });
    if (!again.ok) throw new Error(JSON.stringify(again.problems));
    const second = openReader(database);
    const after = [...readRows(second, compileRows(again.value, sqlite))];
    second.close();
    expect(findTable(back, "t")?.columns.map((c) => c.type)).toEqual(crate.columns.map((c) => c.type));
    // A workbook knows no day before 1900, and its XML makes one sign of CR LF (XML 1.0, section 2.11).
    const known = (r: unknown[]) => (format === "xlsx" ? r.filter((_, i) => i !== 3).map((v) => (typeof v === "string" ? v.replace("\r\n", "\n") : v)) : r);
    expect(after.map(known)).toEqual(before.map(known));
  });
});

it.each(["csv", "tsv"] as const)("one column with empty values goes out as %s and comes back with as many rows", async (format) => {
  makeDatabase(join(place.folder, "one.sqlite"), "CREATE TABLE one (note TEXT); INSERT INTO one VALUES ('a'), (NULL), (NULL), ('b'), (NULL)");
  const reader = openReader(join(place.folder, "one.sqlite"));
  const columns = [{ id: "n", value: { kind: "field" as const, join: "", column: "note" } }];
  const made = resolveQuery({ ...emptyQuery("one"), columns }, shapeOf(join(place.folder, "one.sqlite")), { today: usualDay("2026-11-23"), values: {} });
  if (!made.ok) throw new Error(JSON.stringify(made.problems));
  const path = join(place.folder, `one.${format}`);
  await exportRows[format](sqliteReading(reader), made.value, path);
  reader.close();
  expect((await bring(path, `one.${format}`)).imported).toMatchObject({ rows: 5, misfits: 0 });
  expect(rowsIn("t").flat()).toEqual([null, null, null, "a", "b"]);
});

describe("what rows are of, beside them", () => {
  const asked: QuerySpec = {
    ...emptyQuery("sale"),
    columns: ["id", "day", "amount"].map((c) => ({ id: c, value: { kind: "field" as const, join: "", column: c } })),
    conditions: [{ id: "w", left: { kind: "field", join: "", column: "day" }, operator: "atLeast", values: [{ kind: "parameter", name: "from" }] }],
    parameters: [{ name: "from", type: "date" }],
  };
  const exported = async (format: "xlsx" | "csv", path: string) => {
    const db = new Database(database);
    db.exec(
      "CREATE TABLE sale (id INTEGER PRIMARY KEY, day DATE, amount INTEGER_SCALED(2)); INSERT INTO sale VALUES (1, '2026-01-31', 1050), (2, '2025-12-31', 4), (3, '2026-02-01', 25)",
    );
    db.close();
    const resolved = resolveQuery(asked, shapeOf(database), { today: usualDay("2026-11-23"), values: { from: "2026-01-01" } });
    if (!resolved.ok) throw new Error(JSON.stringify(resolved.problems));
    const about = { title: "Sales", brief: "From sale.", printedAt: "printed now", locale: { locale: "en-GB", zone: "UTC" }, figure: "amount" };
    const reader = openReader(database);
    const made = await exportWithAbout(sqliteReading(reader), { plan: resolved.value, format, path, about });
    reader.close();
    return made;
  };
  it("is a second sheet of a workbook: brief, parameters, account and verdict, with values typed", async () => {
    const path = join(place.folder, "out.xlsx");
    expect((await exported("xlsx", path)).rows).toBe(2);
    const book = new ExcelJS.Workbook();
    await book.xlsx.readFile(path);
    expect(book.worksheets.map((s) => s.name)).toEqual(["rows", "about"]);
    const lines = (book.worksheets[1]?.getSheetValues() ?? []).map((row) => (row ? (row as unknown[]).slice(1) : []));
    for (const line of [
      ["Sales"],
      ["From sale."],
      ["from", "1 Jan 2026"],
      ["sale", 3, 10.79],
      ["kept", 2, 10.75],
      ["in the sheet", 2, 10.75],
      ["Amount", 10.75, 10.75],
      ["Proved."],
    ])
      expect(lines).toContainEqual(line);
  });
  it("is a text beside other files, in one archive", async () => {
    const path = join(place.folder, "out.zip");
    await exported("csv", path);
    const files = unzipSync(readFileSync(path));
    expect(Object.keys(files)).toEqual(["Sales.csv", "Sales, about.txt"]);
    expect(strFromU8(files["Sales.csv"] as Uint8Array)).toBe("Id,Day,Amount\r\n1,2026-01-31,10.50\r\n3,2026-02-01,0.25\r\n");
    const text = strFromU8(files["Sales, about.txt"] as Uint8Array);
    expect(text).toContain("left out by day\t1\t0.04\n");
    expect(text).toContain("\nProved.\nA recount, row by row and without the query’s SQL, gives the same rows and totals.\n");
    expect(readdirSync(place.folder).filter((name) => name.endsWith(".rows"))).toEqual([]);
  });
});

describe("a workbook of rows (ISO/IEC 29500, read back by another library)", () => {
  const exported = async (most?: number) => {
    const db = new Database(database);
    db.exec(`CREATE TABLE sale (id INTEGER PRIMARY KEY, day DATE, amount INTEGER_SCALED(2));
      INSERT INTO sale VALUES (1, '2026-01-31', 1050), (2, NULL, -25), (3, '2026-02-01', 900719925474099299), (4, '2026-02-02', 0), (5, '2026-02-03', 5);`);
    db.close();
    const columns = ["id", "day", "amount"].map((c) => ({ id: c, value: { kind: "field" as const, join: "", column: c } }));
    const resolved = resolveQuery({ ...emptyQuery("sale"), columns }, shapeOf(database), { today: usualDay("2026-11-23"), values: {} });
    if (!resolved.ok) throw new Error(JSON.stringify(resolved.problems));
    const reader = openReader(database);
    const made = await exportXlsx(sqliteReading(reader), resolved.value, join(place.folder, "out.xlsx"), most === undefined ? {} : { most });
    reader.close();
    const book = new ExcelJS.Workbook();
    await book.xlsx.readFile(join(place.folder, "out.xlsx"));
    return {
      made,
      book,
      lines: book.worksheets.map((s) =>
        s
          .getSheetValues()
          .slice(1)
          .map((row) => (row as unknown[]).slice(1)),
      ),
    };
  };
  it("has typed cells under a bold heading that stays, and the footing under the last row", async () => {
    const { made, book, lines } = await exported();
    expect(made.rows).toBe(5);
    expect(lines).toHaveLength(1);
    expect(lines[0]?.[0]).toEqual(["Id", "Day", "Amount"]);
    expect(lines[0]?.slice(1, 3)).toEqual([
      [1, new Date("2026-01-31T00:00:00Z"), 10.5],
      [2, undefined, -0.25],
    ]);
    expect(lines[0]?.[3]?.[2], "more digits than a workbook's numbers have").toBe("9007199254740992.99");
    expect(lines[0]?.at(-1)).toEqual(["Total", undefined, "9007199254741003.29"]);
    const [sheet] = book.worksheets;
    expect([sheet?.getCell("A1").font?.bold, sheet?.views[0]?.state, sheet?.getCell("C2").numFmt, sheet?.getCell("A7").font?.bold]).toEqual([
      true,
      "frozen",
      "#,##0.00",
      true,
    ]);
  });
  it("goes on in the next sheet where one is full, with the heading again, and loses no row", async () => {
    const { book, lines } = await exported(4);
    expect(book.worksheets.map((s) => s.name)).toEqual(["rows", "rows, part 2"]);
    expect(lines.map((l) => l.map((row) => row[0]))).toEqual([
      ["Id", 1, 2, 3],
      ["Id", 4, 5, "Total"],
    ]);
  });
});

const open = (name: string) => resolve("node_modules/vega-datasets/data", name);

describe("open data (vega-datasets)", () => {
  it.each([
    ["seattle-weather.csv", { date: "date", precipitation: "decimal", temp_max: "decimal", weather: "text" }],
    ["airports.csv", { iata: "text", latitude: "decimal", longitude: "decimal" }],
    ["birdstrikes.csv", { "Flight Date": "date", "Cost Repair": "whole", "Speed IAS in knots": "whole", "Wildlife Species": "text" }],
    ["stocks.csv", { symbol: "text", date: "date", price: "decimal" }],
    ["zipcodes.csv", { zip_code: "text", latitude: "decimal", city: "text" }],
    ["unemployment.tsv", { id: "whole", rate: "decimal" }],
    ["cars.json", { Name: "text", Miles_per_Gallon: "decimal", Cylinders: "whole", Year: "date" }],
    ["movies.json", { Title: "text", "US Gross": "whole", "Release Date": "date", "IMDB Rating": "decimal" }],
  ])("%s: the types are those its columns have", async (name, types) => {
    const { scan: found } = await scan(open(name), name);
    const proposed = Object.fromEntries(found.names.map((n, i) => [n, found.columns[i]?.proposal.type.kind]));
    expect(proposed).toMatchObject(types);
  });
  it.each(["seattle-weather.csv", "birdstrikes.csv", "airports.csv", "sp500-2000.csv"])(
    "%s comes in whole: DuckDB's reader counts and adds the same",
    async (name) => {
      const path = join(place.folder, name);
      copyFileSync(open(name), path);
      const { imported, spec } = await bring(path, name);
      const duck = await (await DuckDBInstance.create(":memory:")).connect();
      const numbers = spec.columns.filter((c) => c.type.kind === "whole" || c.type.kind === "decimal");
      const sums = numbers.map((c) => `CAST(SUM(CAST("${c.name}" AS DECIMAL(30, 9))) AS VARCHAR)`);
      const texts = spec.columns
        .filter((c) => c.type.kind === "text")
        .map((c) => `CAST(COUNT("${c.name}") AS VARCHAR), CAST(SUM(length("${c.name}")) AS VARCHAR)`);
      const asked = `SELECT CAST(COUNT(*) AS VARCHAR), ${[...sums, ...texts].join(", ")} FROM read_csv('${path}', all_varchar = true, header = true)`;
      const theirs = (await duck.runAndReadAll(asked)).getRowsJS()[0] as unknown[];
      duck.closeSync();
      const db = new Database(database, { readonly: true });
      const scaleOf = (c: (typeof numbers)[number]) => (c.type.kind === "decimal" ? c.type.scale : 0);
      const ours = db
        .prepare(
          `SELECT COUNT(*), ${[...numbers.map((c) => `SUM("${c.name}")`), ...spec.columns.filter((c) => c.type.kind === "text").map((c) => `COUNT("${c.name}"), SUM(length("${c.name}"))`)].join(", ")} FROM t`,
        )
        .raw()
        .safeIntegers(true)
        .get() as bigint[];
      db.close();
      expect(Number(theirs[0])).toBe(imported.rows);
      expect(ours[0]).toBe(BigInt(imported.rows));
      numbers.forEach((c, i) => {
        const nine = (ours[1 + i] ?? 0n) * 10n ** BigInt(9 - scaleOf(c));
        expect(BigInt(String(theirs[1 + i]).replace(".", "")), c.name).toBe(nine);
      });
      expect(ours.slice(1 + numbers.length).map(String)).toEqual(theirs.slice(1 + numbers.length).map((v) => String(v ?? "null")));
    },
  );
});

describe("what is found out of a file", () => {
  it("is its delimiter, letters, decimal comma and the order of its dates", async () => {
    const german = "Nr;Größe;am;Wert\r\n1;klein;03.11.2026;1.250,50\r\n2;groß;31.12.2025;-980,00\r\n3;;1.2.2024;12,5\r\n";
    const latin = Buffer.from(german, "latin1");
    const read = await scan(file("g.csv", latin), "g.csv");
    expect(read.format).toMatchObject({ delimiter: ";", encoding: "windows-1252", heading: true, comma: true });
    expect(read.scan.names).toEqual(["Nr", "Größe", "am", "Wert"]);
    expect(read.scan.columns.map((c) => c.proposal.type.kind)).toEqual(["whole", "text", "date", "decimal"]);
    expect(read.scan.columns[2]?.proposal.dates).toBe("dmy");
    await bring(join(place.folder, "g.csv"), "g.csv");
    expect(rowsIn("t")).toEqual([
      [1n, "klein", "2026-11-03", 125050n],
      [2n, "groß", "2025-12-31", -98000n],
      [3n, null, "2024-02-01", 1250n],
    ]);
  });
  it("keeps codes with leading zeros as text, and says where day and month could be either", async () => {
    const { scan: found } = await scan(file("c.csv", "code,day\n007,01/02/2026\n012,03/04/2026\n"), "c.csv");
    expect(found.columns[0]?.proposal.type.kind).toBe("text");
    expect(found.columns[1]?.proposal).toMatchObject({ type: { kind: "date" }, ambiguous: true });
  });
  it("gives headings that are alike or empty names of their own", async () => {
    const { scan: found } = await scan(file("h.csv", "Pay,Pay,,pay\n1,2,3,4\n"), "h.csv");
    expect(found.names).toEqual(["Pay", "Pay 2", "column 3", "pay 3"]);
    expect(found.renamed).toBe(3);
  });
  it("reads a workbook again of which its reader lost a part", async () => {
    const book = new ExcelJS.Workbook();
    for (const row of [
      ["name", "sum"],
      ["Åse", 2],
    ])
      (book.getWorksheet("s") ?? book.addWorksheet("s")).addRow(row);
    await book.xlsx.writeFile(join(place.folder, "lost.xlsx"));
    const { prototype } = ExcelJS.stream.xlsx.WorkbookReader as unknown as { prototype: Record<string, () => Promise<void>> };
    for (const part of ["_parseWorkbook", "_parseSharedStrings"]) {
      const lost = vi.spyOn(prototype, part).mockImplementationOnce((part === "_parseWorkbook" ? async () => {} : async function* () {}) as never);
      const found = await scanFile(join(place.folder, "lost.xlsx"), { kind: "sheet", sheet: "s", heading: 1 }, nothing);
      expect(lost.mock.calls.length).toBeGreaterThan(1);
      expect(found).toMatchObject({ names: ["name", "sum"], first: [["Åse", "2"]] });
      lost.mockRestore();
    }
  });
  it("reads UTF-16, tabs, a workbook's second sheet and a heading further down", async () => {
    const wide = Buffer.from(`\uFEFFa\tb\nž\t1\n`, "utf16le");
    expect((await scan(file("w.tsv", wide), "w.tsv")).scan).toMatchObject({ names: ["a", "b"], first: [["ž", "1"]] });
    const book = new ExcelJS.Workbook();
    book.addWorksheet("first").addRow(["x"]);
    const sheet = book.addWorksheet("Zweites & mehr");
    sheet.addRow(["a title above"]);
    sheet.addRow(["name", "when", "sum", "ok"]);
    sheet.addRow(["Åse", new Date("2026-02-28T00:00:00Z"), { formula: "1+1", result: 2.5 }, true]);
    await book.xlsx.writeFile(join(place.folder, "b.xlsx"));
    const { sheets } = await findFormat(join(place.folder, "b.xlsx"), "b.xlsx");
    expect(sheets).toEqual(["first", "Zweites & mehr"]);
    const large = book.addWorksheet("Waybills");
    large.addRow(["Brindle Harbour, waybills"]);
    large.addRow([]);
    large.addRow(["no", "shipper", "freight", ""]);
    for (let i = 0; i < 200; i++) large.addRow([i, `shipper ${i}`, i / 4, i % 9 ? "" : "late"]);
    await book.xlsx.writeFile(join(place.folder, "cover.xlsx"));
    expect((await findFormat(join(place.folder, "cover.xlsx"), "cover.xlsx")).format).toEqual({ kind: "sheet", sheet: "Waybills", heading: 3 });
    const read = await scan(join(place.folder, "b.xlsx"), "b.xlsx", { kind: "sheet", sheet: "Zweites & mehr", heading: 2 });
    expect(read.scan).toMatchObject({ names: ["name", "when", "sum", "ok"], first: [["Åse", "2026-02-28", "2.5", "yes"]] });
  });
});

describe("what does not fit", () => {
  const content = "n,day\n1,2026-01-31\nmany,2026-02-30\n3,2026-03-01\n4,2026-03-02\n5,2026-03-03\n";
  const typed =
    (misfits: ImportSpec["misfits"]) =>
    (spec: ImportSpec): ImportSpec => ({
      ...spec,
      misfits,
      columns: [
        { name: "n", type: { kind: "whole" }, dates: "ymd", left: false },
        { name: "day", type: { kind: "date" }, dates: "ymd", left: false },
      ],
    });
  it.each([
    ["keep" as const, 5, ["many", "2026-02-30"]],
    ["empty" as const, 5, [null, null]],
    ["leaveOut" as const, 4, [3n, "2026-03-01"]],
  ])("%s", async (rule, rows, second) => {
    const { imported } = await bring(file("m.csv", content), "m.csv", typed(rule));
    expect(imported).toMatchObject({ rows, misfits: 2, leftOut: 5 - rows });
    expect(rowsIn("t")[1]).toEqual(second);
    if (rule === "keep")
      expect(findTable(shapeOf(database), "t")?.columns.map((c) => [c.type.kind, c.misfits])).toEqual([
        ["whole", 1],
        ["date", 1],
      ]);
  });
  it("is said of a key with the rows it cannot take, all of them at once; or the first or last row of each value is kept", async () => {
    const path = file("k.csv", "k,v\na,1\nb,2\na,3\nc,4\nb,5\na,6\n");
    const keyed = (doubled?: "first" | "last") => (s: ImportSpec) => ({
      ...s,
      into: { kind: "table" as const, name: "t", key: "k", ...(doubled ? { doubled } : {}) },
    });
    await expect(bring(path, "k.csv", keyed())).rejects.toThrow(
      "Nothing was imported: “k” cannot be the key: 3 rows have a value that a row before them has (“a” in row 3, “b” in row 5, “a” in row 6). Choose another column or none, or keep the first or last row of each value.",
    );
    expect(shapeOf(database).tables.map((t) => t.name)).toEqual(["already"]);
    expect((await bring(path, "k.csv", keyed("first"))).imported).toMatchObject({ rows: 3, leftOut: 3 });
    expect(rowsIn("t")).toEqual([
      ["a", 1n],
      ["b", 2n],
      ["c", 4n],
    ]);
    const db = new Database(database);
    db.exec("DROP TABLE t");
    db.close();
    expect((await bring(path, "k.csv", keyed("last"))).imported).toMatchObject({ rows: 3, leftOut: 3 });
    expect(rowsIn("t").sort()).toEqual([
      ["a", 6n],
      ["b", 5n],
      ["c", 4n],
    ]);
    const odd = file("o.csv", "k,v\n1,a\nmany,b\n,c\n4,d\n5,e\n6,f\n");
    await expect(bring(odd, "o.csv", (s) => ({ ...s, into: { kind: "table", name: "o", key: "k" } }))).rejects.toThrow(
      "“k” cannot be the key: 1 row has no value in it (row 3); 1 value is invalid (“many” in row 2). Choose another column or none.",
    );
  });
  it("is read as a number with the sign that stands beside it, and no other", async () => {
    const path = file("e.csv", "paid;share\n77,33 €;3,5 %\n1.200,50 €;120%\n£40;0%\n(12 €);7 %\n5 €;1%\n");
    const { imported } = await bring(path, "e.csv", (s) => s);
    expect(imported.misfits).toBe(1);
    expect(rowsIn("t").map(([paid]) => paid)).toEqual([7733n, 120050n, "£40", -1200n, 500n]);
    expect(rowsIn("t").map(([, share]) => share)).toEqual([35n, 1200n, 0n, 70n, 10n]);
  });
  it("is all or nothing where the table's name is taken", async () => {
    await expect(bring(file("k.csv", "k,v\na,1\n"), "k.csv", (s) => ({ ...s, into: { kind: "table", name: "already", key: null } }))).rejects.toThrow(
      /choose another/,
    );
    expect(shapeOf(database).tables.map((t) => t.name)).toEqual(["already"]);
  });
  it("lets a table go again by its entry in the journal", async () => {
    const { imported } = await bring(file("j.csv", "k,v\na,1\n"), "j.csv");
    const number = imported.entry?.number ?? 0;
    const { digest, back } = previewReversal(database, shapeOf(database), number, false, join(place.folder, "r.sqlite"));
    expect(back).toBe(1);
    reverse(database, shapeOf(database), number, false, digest, { at: entry.at, by: entry.by, kind: "reversal", name: "", brief: "" });
    expect(shapeOf(database).tables.map((t) => t.name)).toEqual(["already"]);
  });
});

/** A zip whose one entry is a sheet of zeros: small outside, large inside. */
async function bomb(): Promise<Buffer> {
  const { deflateRawSync, crc32 } = await import("node:zlib").then((z) => ({
    deflateRawSync: z.deflateRawSync,
    crc32: (z as { crc32?: (b: Buffer) => number }).crc32 ?? (() => 0),
  }));
  const inside = Buffer.alloc(200 * 1024 * 1024);
  const packed = deflateRawSync(inside, { level: 9 });
  const name = Buffer.from("xl/workbook.xml");
  const head = (signature: number, more: number) => {
    const b = Buffer.alloc(more);
    b.writeUInt32LE(signature, 0);
    return b;
  };
  const local = head(0x04034b50, 30);
  local.writeUInt16LE(8, 8);
  local.writeUInt32LE(crc32(inside), 14);
  local.writeUInt32LE(packed.length, 18);
  local.writeUInt32LE(inside.length, 22);
  local.writeUInt16LE(name.length, 26);
  const central = head(0x02014b50, 46);
  central.writeUInt16LE(8, 10);
  central.writeUInt32LE(crc32(inside), 16);
  central.writeUInt32LE(packed.length, 20);
  central.writeUInt32LE(inside.length, 24);
  central.writeUInt16LE(name.length, 28);
  const end = head(0x06054b50, 22);
  end.writeUInt16LE(1, 8);
  end.writeUInt16LE(1, 10);
  end.writeUInt32LE(46 + name.length, 12);
  end.writeUInt32LE(30 + name.length + packed.length, 16);
  return Buffer.concat([local, name, packed, central, name, end]);
}

describe("files that are wrong are refused in words", () => {
  it.each([
    ["empty.csv", "", "it is empty"],
    ["cut.csv", 'a,b\n1,"never closed\n2,3\n', "never closed"],
    ["picture.csv", Buffer.from([0x89, 0x50, 0x4e, 0x47, 0, 1, 2, 3, 0, 0, 0, 1]), "not a text file"],
    ["packed.csv", gzipSync("a,b\n1,2\n"), "not a text file"],
    ["paper.csv", "%PDF-1.7\n…", "a PDF"],
    ["old.xls", Buffer.from("d0cf11e0a1b11ae10000", "hex"), "an old workbook format"],
    ["list.json", "[1, 2, 3]", "not rows"],
    ["cut.json", '[{"a": 1}, {"a"', "not valid JSON"],
    ["cut.ndjson", '{"a": 1}\n{"a"\n', "line 2 is not valid JSON"],
    ["deep.json", `[{"a": ${"[".repeat(200_000)}${"]".repeat(200_000)}}]`, "nested too deeply"],
    ["wide.csv", `${"x,".repeat(1200)}\n`, "more than 1000 columns"],
  ])("%s", async (name, content, words) => {
    await expect(scan(file(name, content), name)).rejects.toThrow(words);
  });
  it("a workbook cut in the middle, one that is none, and one that unpacks to far too much", async () => {
    const book = new ExcelJS.Workbook();
    book.addWorksheet("s").addRow(["a"]);
    const whole = Buffer.from(await book.xlsx.writeBuffer());
    await expect(scan(file("cut.xlsx", whole.subarray(0, whole.length / 2)), "cut.xlsx")).rejects.toThrow(/not a complete workbook/);
    await expect(scan(file("bomb.xlsx", await bomb()), "bomb.xlsx")).rejects.toThrow(/far more than its size/);
    const { Uint8ArrayWriter, TextReader, ZipWriter } = await import("@zip.js/zip.js");
    const locked = new ZipWriter(new Uint8ArrayWriter(), { password: "secret" });
    await locked.add("xl/workbook.xml", new TextReader("<workbook/>"));
    await expect(scan(file("locked.xlsx", Buffer.from(await locked.close())), "locked.xlsx")).rejects.toThrow(/protected by a password/);
    const damaged = Buffer.from(whole);
    damaged.writeUInt32LE(damaged.readUInt32LE(60) ^ 0xff00ff, 60);
    await expect(scan(file("damaged.xlsx", damaged), "damaged.xlsx")).rejects.toThrow(/not a complete workbook/);
  });
  it("rows of other lengths come in, counted", async () => {
    const { scan: found } = await scan(file("r.csv", "a,b,c\n1,2,3\n4,5\n6,7,8,9\n"), "r.csv");
    expect(found.ragged).toEqual({ rows: 2, first: 2 });
    expect(found.names).toEqual(["a", "b", "c", "column 4"]);
  });
});

it("reads what RFC 4180 writes: its own examples (section 2)", async () => {
  const text = 'aaa,bbb,ccc\r\n"aaa","b\r\nbb","ccc"\r\nzzz,"b""bb",yyy\r\n';
  const { scan: found } = await scan(file("rfc.csv", text), "rfc.csv");
  // The first line is said again below, so it is taken for a row.
  expect(found.first).toEqual([
    ["aaa", "bbb", "ccc"],
    ["aaa", "b\r\nbb", "ccc"],
    ["zzz", 'b"bb', "yyy"],
  ]);
  expect(readFileSync(join(place.folder, "rfc.csv"), "utf8")).toBe(text);
});
