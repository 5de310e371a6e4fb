import { describe, expect, it } from "vitest";
import { sampleSchema } from "../../../test/support/sample";
import { linkPanel } from "../folio/panel";
import { comparisonsIn } from "../query/conditions";
import { emptyQuery } from "../query/empty";
import type { QuerySpec } from "../query/spec";
import type { Metrics, Page } from "../report/page";
import { usualDay } from "../types/calendar";
import type { Cell } from "../types/valueType";
import type { ADDRESS_WINDOWS } from "./choices";
import { addTable } from "./edit";
import { type FilledBlock, type FilledLetter, fillLetter, type RelatedRows } from "./fill";
import { addressNotes, layOutLetter } from "./layOut";
import { planLetter, relatedQuery, rowCells } from "./plan";
import { letterVerdict } from "./proof";
import { type Block, docOf, fieldOf, firstLetter, type Inline, type LetterSpec, letterSpecSchema } from "./spec";
import { wrapRuns } from "./wrap";

/** Every character is half as wide as it is high. */
const metrics: Metrics = { width: (text, _, size) => text.length * size * 0.5 };
const locale = { locale: "en-GB", zone: "UTC" };
const context = { today: usualDay("2026-11-23"), values: {} };
const field = (column: string) => ({ kind: "field" as const, join: "", column });
const words = (text: string): Inline => ({ type: "text", text });
const line = (...content: Inline[]): Block => ({ type: "paragraph", content });
const query: QuerySpec = {
  ...emptyQuery("yard"),
  columns: ["name", "opened", "rent", "open"].map((c) => ({ id: c, value: field(c) })),
  order: [{ column: "name", direction: "down" }],
};
const { first: _, ...crates } = linkPanel(sampleSchema, { link: "crate.yard_id", toward: "a" }, "crates") as NonNullable<ReturnType<typeof linkPanel>>;
const letter = (body: Block[], more: Partial<LetterSpec> = {}): LetterSpec => ({
  ...firstLetter("q", "Sender", ["name"]),
  body: docOf(...body),
  tables: [{ ...crates, hideEmpty: true }],
  ...more,
});
const planned = (spec: LetterSpec, of = query) => planLetter(spec, of, sampleSchema, context);
const plan = (spec: LetterSpec) => {
  const made = planned(spec);
  if (!made.ok) throw new Error(JSON.stringify(made.problems));
  return made.value;
};

/** A row in the plan's columns: values by what the column is for. */
const row = (spec: LetterSpec, values: Record<string, Cell>): Cell[] => {
  const { plan: p, fields, conditions, row: own, fileName } = plan(spec);
  const cells: Cell[] = p.columns.map(() => null);
  for (const [name, at] of Object.entries({ ...fields, ...conditions, ...own })) cells[at] = values[name] ?? null;
  if (fileName !== null) cells[fileName] = values.name ?? null;
  return cells;
};
const fill = (spec: LetterSpec, values: Record<string, Cell>, tables: [string, RelatedRows][] = []) =>
  fillLetter(spec, plan(spec), row(spec, values), new Map(tables), locale);
const saidIn = (page: Page) => page.items.flatMap((i) => (i.kind === "text" ? [i.text] : [])).join(" ");
const codes = (made: ReturnType<typeof planned>) => (made.ok ? [] : made.problems.map((p) => [p.code, ...p.path.slice(0, 2)]));
const rows = (count: number): RelatedRows => {
  const columns = [
    { id: "m", expr: null, type: { kind: "text" as const }, heading: "Mark", origin: "", hidden: false, format: {}, totalled: false },
    { id: "p", expr: null, type: { kind: "decimal" as const, scale: 2 }, heading: "Price", origin: "", hidden: false, format: {}, totalled: true },
  ];
  return { columns, keys: [null, null], rows: Array.from({ length: count }, (_, i) => [`m${i}`, 110]) };
};

describe("a letter's plan", () => {
  it("has a column for each formula, the row's own key, and the query's order", () => {
    const spec = letter([line(fieldOf("name"), fieldOf("rent * 2"), fieldOf("name")), { type: "related", attrs: { table: "crates" } }]);
    const made = plan(spec);
    expect(Object.keys(made.fields)).toEqual(["name", "rent * 2"]);
    expect(Object.keys(made.row)).toEqual(["id"]);
    expect(made.plan.order).toEqual([
      { column: "order 0", direction: "down" },
      { column: "row id", direction: "up" },
    ]);
    expect(made.plan.columns[made.fields["rent * 2"] as number]?.type).toEqual({ kind: "decimal", scale: 2 });
  });
  it("says which field is gone, and of which part", () => {
    const passage: Block = { type: "passage", attrs: { when: { kind: "formula", text: "rent" } }, content: [line()] };
    expect(codes(planned(letter([line(fieldOf("salary"))])))).toEqual([["unknownField", "fields", "salary"]]);
    expect(codes(planned(letter([passage])))).toEqual([["letterCondition", "conditions", "rent"]]);
    expect(codes(planned(letter([], { fileName: "nobody" })))).toEqual([["unknownField", "fileName"]]);
    expect(codes(planned(letter([{ type: "related", attrs: { table: "other" } }])))).toEqual([["letterTableGone", "tables", "other"]]);
    const gone = letter([{ type: "related", attrs: { table: "crates" } }], {
      tables: [{ ...crates, match: { kind: "link", step: { link: "gone", toward: "a" } } }],
    });
    expect(codes(planned(gone))).toEqual([["linkGone", "tables", "crates"]]);
  });
  it("refuses a table of related rows where the query's rows are groups", () => {
    const grouped: QuerySpec = { ...query, grouped: true, order: [], columns: [{ id: "name", value: field("name") }] };
    expect(codes(planned(letter([{ type: "related", attrs: { table: "crates" } }]), grouped))).toEqual([["letterRow", "tables", "crates"]]);
    expect(planned(letter([line(fieldOf("name"))]), grouped).ok).toBe(true);
  });
  it("binds a table to the letter's row, and gives it the letter's parameters", () => {
    const parameters: QuerySpec["parameters"] = [{ name: "least", type: "decimal" }];
    const dear = {
      ...crates,
      query: {
        ...crates.query,
        conditions: [{ id: "w", left: field("price"), operator: "atLeast" as const, values: [{ kind: "parameter" as const, name: "least" }] }],
      },
    };
    const spec = letter([{ type: "related", attrs: { table: "crates" } }], { tables: [dear] });
    const made = planLetter(spec, { ...query, parameters }, sampleSchema, { ...context, values: { least: "1" } });
    const asked =
      made.ok && made.value.table
        ? relatedQuery(
            dear,
            { ...query, parameters },
            made.value.table,
            rowCells(
              made.value,
              made.value.plan.columns.map(() => 7),
            ),
            sampleSchema,
          )
        : null;
    expect(asked?.ok && comparisonsIn(asked.value.conditions).map((c) => c.values[0])).toEqual([
      { kind: "value", text: "7" },
      { kind: "parameter", name: "least" },
    ]);
    expect(asked?.ok && asked.value.parameters).toEqual(parameters);
  });
});

describe("a filled letter", () => {
  it("writes values as their columns are written, and counts those that are empty", () => {
    const spec = letter([line(words("Rent "), fieldOf("rent"), words(" since "), { type: "field", attrs: { formula: "opened", format: { date: "iso" } } })]);
    const { letter: filled, empty } = fill(spec, { name: "North", rent: -125_050, opened: null });
    const [said] = filled.body;
    expect(said?.kind === "words" && said.runs.map((r) => [r.text, r.tone])).toEqual([
      ["Rent ", "ink"],
      ["(1,250.50)", "vermilion"],
      [" since ", "ink"],
      ["", "ink"],
    ]);
    expect(empty).toEqual(["opened"]);
  });
  it("writes a field bold or slanted where it stands so, kept as the editor gives it", () => {
    const marked = (...types: string[]) => ({ type: "field", attrs: { formula: "rent", format: null }, marks: types.map((type) => ({ type })) });
    const body = [{ type: "paragraph", content: [marked("bold"), marked("italic"), marked("italic", "bold"), marked()] }];
    const spec = letterSpecSchema.parse({ ...letter([]), body: { type: "doc", content: body } });
    const [said] = fill(spec, { rent: 100 }).letter.body;
    expect(said?.kind === "words" && said.runs.map((r) => r.font)).toEqual(["sansBold", "sansItalic", "sansBoldItalic", "sans"]);
  });
  it("prints a passage only when its condition is true; an empty one is not", () => {
    const passage = (text: string): Block => ({ type: "passage", attrs: { when: { kind: "formula", text: "open" } }, content: [line(words(text))] });
    const counts = [1, 0, null].map((open) => fill(letter([passage("yes"), line()]), { open }).letter.body.length);
    expect(counts).toEqual([2, 1, 1]);
  });
  it("leaves a table out with its heading where it has no row, and a passage may ask for that", () => {
    const when = (some: boolean) => ({ kind: "rows" as const, table: "crates", some });
    const spec = letter([
      { type: "related", attrs: { table: "crates" } },
      { type: "passage", attrs: { when: when(false) }, content: [line(words("none"))] },
    ]);
    const kinds = (count: number) => fill(spec, {}, [["crates", rows(count)]]).letter.body.map((b) => b.kind);
    expect(kinds(3)).toEqual(["table"]);
    expect(kinds(0)).toEqual(["words"]);
  });
  it("adds a table up exactly, and closes the address where a line is empty", () => {
    const spec = letter([{ type: "related", attrs: { table: "crates" } }], {
      address: docOf(line(fieldOf("name")), line(fieldOf("opened")), line(words("Pell"))),
    });
    const { letter: filled } = fill(spec, { name: "North" }, [["crates", rows(3)]]);
    const [table] = filled.body;
    expect(table?.kind === "table" && table.table.footing).toEqual([
      { text: "", negative: false },
      { text: "3.30", negative: false },
    ]);
    expect(filled.address.map((b) => b.kind === "words" && b.runs.map((r) => r.text).join(""))).toEqual(["North", "Pell"]);
  });
});

describe("a table that is typed", () => {
  const cell = (type: "tableCell" | "tableHeader", ...content: Inline[]) => ({ type, content: [line(...content)] });
  const typed = (...rows: ReturnType<typeof cell>[][]): Block => ({ type: "table", content: rows.map((content) => ({ type: "tableRow", content })) });
  it("is filled with fields, its headings bold; a heading cell beside a row's own is no heading row", () => {
    const spec = letter([
      typed(
        [cell("tableHeader", words("What")), cell("tableHeader", fieldOf("name"))],
        [cell("tableHeader", words("Rent")), cell("tableCell", fieldOf("rent"))],
      ),
    ]);
    expect(Object.keys(plan(spec).fields)).toEqual(["name", "rent"]);
    const [block] = fill(spec, { name: "North", rent: 100 }).letter.body;
    expect(block?.kind === "typed" && [block.table.headings, block.table.lines]).toEqual([1, true]);
    expect(block?.kind === "typed" && block.table.rows.map((row) => row.map((c) => c.flatMap((p) => p.runs.map((r) => [r.text, r.font]))))).toEqual([
      [[["What", "sansBold"]], [["North", "sansBold"]]],
      [[["Rent", "sansBold"]], [["1.00", "sans"]]],
    ]);
  });
  it("may hold a passage's condition in none of its cells, and is read as the editor gives it", () => {
    const attrs = { colspan: 1, rowspan: 1, colwidth: null };
    const body = {
      type: "doc",
      content: [{ type: "table", attrs: { lines: false }, content: [{ type: "tableRow", content: [{ type: "tableCell", attrs, content: [line()] }] }] }],
    };
    const [block] = letterSpecSchema.parse({ ...letter([]), body }).body.content;
    expect(block).toEqual({ type: "table", attrs: { lines: false }, content: [{ type: "tableRow", content: [{ type: "tableCell", content: [line()] }] }] });
  });
});

describe("who gets a letter", () => {
  const agreed = { letters: 30, without: 7, queryRows: 37, different: 30 };
  it("agrees where each row has one or is left out by the condition, and says no where one is missing, too many, or had twice", () => {
    expect(letterVerdict(agreed)).toEqual({ kind: "agrees" });
    expect(letterVerdict({ ...agreed, different: null })).toEqual({ kind: "agrees" });
    expect(letterVerdict({ ...agreed, without: 6 })).toEqual({ kind: "differs" });
    expect(letterVerdict({ ...agreed, queryRows: 36 })).toEqual({ kind: "differs" });
    expect(letterVerdict({ ...agreed, different: 28 })).toEqual({ kind: "twice", letters: 2 });
  });
  it("is a condition of the plan like those of passages, with the table it asks for", () => {
    const spec = letter([], { only: { kind: "formula", text: "rent > 100" } });
    expect(Object.keys(plan(spec).conditions)).toEqual(["rent > 100"]);
    expect(codes(planned(letter([], { only: { kind: "formula", text: "rent" } })))).toEqual([["letterCondition", "conditions", "rent"]]);
    expect(plan(letter([], { only: { kind: "rows", table: "crates", some: true } })).related.map((r) => r.id)).toEqual(["crates"]);
  });
  it("is said to be in the way where a table or a picture stands beside the text, where it would not be printed", () => {
    const table: Block = { type: "table", content: [{ type: "tableRow", content: [{ type: "tableCell", content: [line()] }] }] };
    const picture: Block = { type: "picture", attrs: { data: "iVBORw0KGgo", widthMm: 40, alt: "" } };
    const passage: Block = { type: "passage", attrs: { when: { kind: "formula", text: "open" } }, content: [picture] };
    expect(codes(planned(letter([table, picture, { type: "pageBreak" }])))).toEqual([]);
    expect(codes(planned(letter([], { address: docOf(line(), table) })))).toEqual([["letterPlace", "address"]]);
    expect(codes(planned(letter([], { foot: docOf(passage), letterhead: docOf(picture) })))).toEqual([
      ["letterPlace", "letterhead"],
      ["letterPlace", "foot"],
    ]);
  });
  it("is said to be in the way where margins leave no paper to print on", () => {
    const { page } = letter([]);
    const squeezed = (margins: Partial<LetterSpec["page"]["margins"]>) =>
      codes(planned(letter([], { page: { ...page, margins: { ...page.margins, ...margins } } })));
    expect(squeezed({ left: 75, right: 75 })).toEqual([]);
    expect(squeezed({ left: 76, right: 75 })).toEqual([["pageTooSmall", "page"]]);
    expect(planned(letter([], { page: { ...page, paper: "A5", margins: { ...page.margins, top: 100, bottom: 100 } } })).ok).toBe(false);
  });
});

describe("a laid-out letter", () => {
  const lay = (spec: LetterSpec, values: Record<string, Cell> = {}, tables: [string, RelatedRows][] = []) =>
    layOutLetter(spec, fill(spec, values, tables).letter, metrics);
  it("puts letterhead, address and text in their places", () => {
    const [page] = lay(letter([line(words("Body"))], { foot: docOf(line(words("Foot"))) }), { name: "North" });
    const y = (text: string) => page?.items.find((i) => i.kind === "text" && i.text === text)?.y ?? 0;
    expect(y("Sender")).toBeLessThan(y("North"));
    // The window of a long envelope is 50 mm and more down; the text comes under it.
    expect(y("North")).toBeGreaterThan(50 * (72 / 25.4));
    expect(y("Body")).toBeGreaterThan(92 * (72 / 25.4));
    expect(y("Foot")).toBeGreaterThan(780);
  });
  it("goes on over pages, with the table's heading again and its footing with a row", () => {
    const pages = lay(letter([{ type: "related", attrs: { table: "crates" } }]), {}, [["crates", rows(90)]]);
    expect(pages.length).toBeGreaterThan(1);
    for (const page of pages) expect(saidIn(page)).toContain("Mark");
    expect(pages.map((p) => saidIn(p).match(/page \d of \d/)?.[0])).toEqual(pages.map((_, i) => `page ${i + 1} of ${pages.length}`));
    const last = saidIn(pages.at(-1) as Page);
    expect(last).toContain("m89");
    expect(last).toContain("99.00");
    expect(pages.flatMap((p) => saidIn(p).match(/m\d+/g) ?? [])).toHaveLength(90);
  });
  it("prints a row that is higher than a page over as many as it needs, and what follows after it", () => {
    const high: RelatedRows = {
      ...rows(3),
      rows: rows(3).rows.map((row, i) => (i === 1 ? [Array.from({ length: 900 }, (_, w) => `word${w}`).join(" "), 110] : row)),
    };
    const wide: RelatedRows = { ...high, columns: high.columns.map((c) => ({ ...c })) };
    const pages = lay(letter([{ type: "related", attrs: { table: "crates" } }]), {}, [["crates", wide]]);
    const said = pages.map(saidIn).join(" ");
    expect(said.match(/word\d+/g)).toEqual(Array.from({ length: 900 }, (_, w) => `word${w}`));
    expect(said.indexOf("word899")).toBeLessThan(said.indexOf("m2"));
    for (const page of pages) for (const item of page.items) if (item.kind === "text") expect(item.y).toBeLessThan(page.height - 16 * (72 / 25.4) + 0.01);
    // It begins where it comes, not under headings of its own on the next page.
    expect(saidIn(pages[0] as Page)).toContain("word0");
  });
  it("keeps the footing on the paper, however high the row above it is; repeated headings are not read twice", () => {
    for (let words = 600; words < 1400; words += 6) {
      const high: RelatedRows = {
        ...rows(2),
        rows: [
          ["m0", 110],
          [Array.from({ length: words }, (_, w) => `word${w}`).join(" "), 110],
        ],
      };
      const pages = lay(letter([{ type: "related", attrs: { table: "crates" } }]), {}, [["crates", high]]);
      const texts = pages.flatMap((page) => page.items.flatMap((i) => (i.kind === "text" ? [{ ...i, bottom: page.height - 16 * (72 / 25.4) }] : [])));
      expect(texts.filter((t) => t.text === "2.20")).toHaveLength(1);
      // Above the line of page numbers.
      for (const t of texts.filter((x) => !/^page \d/.test(x.text))) expect(t.y).toBeLessThan(t.bottom - 20);
      for (const page of pages) for (const i of page.items) if (i.kind === "rule") expect(i.y).toBeLessThan(page.height - 16 * (72 / 25.4) - 20);
      expect(texts.filter((t) => t.text === "Mark" && t.tag)).toHaveLength(1);
    }
  });
  it("numbers the pages of a short letter only when told to", () => {
    const short = letter([line(words("Body"))]);
    expect(saidIn(lay(short)[0] as Page)).not.toContain("page 1");
    expect(saidIn(lay({ ...short, page: { ...short.page, numbers: "always" } })[0] as Page)).toContain("page 1 of 1");
  });
  it("never lets words run over the margin", () => {
    const long = "A word and averyveryveryveryveryveryveryveryverylongwordthatnoline couldholdwholesoitmustbecutsomewhere ".repeat(4);
    for (const page of lay(letter([line(words(long)), { type: "bulletList", content: [{ type: "listItem", content: [line(words(long))] }] }])))
      for (const item of page.items)
        if (item.kind === "text") expect(item.x + metrics.width(item.text, item.font, item.size)).toBeLessThanOrEqual(page.width - 20 * (72 / 25.4) + 0.01);
  });
});

describe("breaking words into lines", () => {
  const run = (text: string) => [{ text, font: "sans" as const, tone: "ink" as const }];
  const lines = (text: string, width: number) => wrapRuns(run(text), width, metrics, 10).map((l) => l.pieces.map((p) => p.text).join(""));
  it("breaks at spaces, at line breaks, and inside a word only where it must", () => {
    expect(lines("aa bb cc", 25)).toEqual(["aa bb", "cc"]);
    expect(lines("aa\n\nbb", 25)).toEqual(["aa", "", "bb"]);
    expect(lines("abcdefgh ij", 20)).toEqual(["abcd", "efgh", "ij"]);
    expect(lines("aa\u00a0bb cc", 15)).toEqual(["aa\u00a0", "bb", "cc"]);
    expect(lines("", 20)).toEqual([""]);
  });
});

it("reads a saved letter whatever the editor added, and refuses what is no letter", () => {
  const spec = letter([{ type: "paragraph", attrs: { align: null }, content: [words("x")] }]);
  expect(letterSpecSchema.parse(JSON.parse(JSON.stringify(spec)))).toEqual(spec);
  expect(letterSpecSchema.safeParse({ ...spec, body: { type: "doc", content: [{ type: "script" }] } }).success).toBe(false);
});

describe("a letter's tables", () => {
  const toCrates = { link: "crate.yard_id", toward: "a" as const };
  it("are added under ids of their own, every row of them printed, and make a letter that can be planned", () => {
    const two = addTable(addTable({ ...letter([]), tables: [] }, sampleSchema, toCrates).spec, sampleSchema, toCrates);
    expect([two.id, two.spec.tables.map((t) => t.id)]).toEqual(["t2", ["t1", "t2"]]);
    expect(two.spec.tables.some((t) => "first" in t)).toBe(false);
    expect(letterSpecSchema.safeParse(two.spec).success).toBe(true);
    expect(planned(two.spec).ok).toBe(true);
  });
  it("are not added where the link is gone", () => {
    const spec = letter([]);
    expect(addTable(spec, sampleSchema, { link: "gone", toward: "a" }).spec).toBe(spec);
  });
});

describe("an address behind a window", () => {
  const said = (text: string): FilledBlock => ({
    kind: "words",
    style: "body",
    runs: [{ text, font: "sans", tone: "ink" }],
    align: "left",
    indent: 0,
    marker: "",
  });
  const mm = (points: number) => (points * 25.4) / 72;
  const to = (address: string[], head: string[] = ["Head"]): FilledLetter => ({
    letterhead: head.map(said),
    address: address.map(said),
    body: [said("Dear reader")],
    foot: [],
  });
  const spec = (window: keyof typeof ADDRESS_WINDOWS, foldMarks = true): LetterSpec => ({
    ...firstLetter("q", "Us", []),
    page: { ...firstLetter("q", "Us", []).page, window, foldMarks },
  });
  it("stands where DIN 5008 and the trade have it, with the text under it and marks at the folds", () => {
    // DIN 5008:2020: the address zone of form B is 62.7 to 90 mm from the top, that of form A 18 mm higher; folds at 105 and 210, 87 and 192 mm.
    for (const [name, top, bottom, folds] of [
      ["dinB", 62.7, 90, [105, 210]],
      ["dinA", 44.7, 72, [87, 192]],
      ["us10", 50.8, 81, [93.1, 186.3]],
    ] as const) {
      const [page] = layOutLetter(spec(name), to(["Name", "Street", "Town", "4", "5", "6"]), metrics);
      const texts = page?.items.flatMap((i) => (i.kind === "text" ? [i] : [])) ?? [];
      for (const line of texts.filter((t) => ["Name", "Street", "Town", "4", "5", "6"].includes(t.text))) {
        expect(mm(line.y)).toBeGreaterThan(top);
        expect(mm(line.y)).toBeLessThan(bottom);
      }
      expect(mm(texts.find((t) => t.text === "Dear reader")?.y ?? 0)).toBeGreaterThan(bottom);
      const marks = page?.items.flatMap((i) => (i.kind === "rule" && mm(i.x) < 10 ? [Math.round(mm(i.y) * 10) / 10] : []));
      expect(marks).toEqual(folds);
      expect(layOutLetter(spec(name, false), to(["Name"]), metrics)[0]?.items.some((i) => i.kind === "rule" && mm(i.x) < 10)).toBe(false);
    }
  });
  it("is told of where it has more lines than are seen, and where the letterhead covers it", () => {
    const seven = ["1", "2", "3", "4", "5", "6", "7"];
    expect(addressNotes(spec("dinB"), to(seven.slice(1)), metrics)).toEqual([]);
    expect(addressNotes(spec("dinB"), to(seven), metrics)).toEqual([expect.stringContaining("7 lines")]);
    expect(addressNotes(spec("dinA"), to(["a"], seven.concat(seven)), metrics)).toEqual([expect.stringContaining("covers")]);
    expect(addressNotes(firstLetter("q", "Us", []), to(seven), metrics)).toEqual([]);
  });
});
