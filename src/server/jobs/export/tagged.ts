import type { Page, PageItem, Tag } from "@/core/report/page";

/*
 * The structure of a PDF (ISO 32000-1, 14.7 and 14.8): headings, paragraphs and tables in the order they are read. What a page
 * repeats at its head and foot, and its rules, are artifacts, which are not read. Tables go on over pages.
 */

type Text = Extract<PageItem, { kind: "text" }>;
type Cell = Extract<Tag, { kind: "cell" }>;
/** What pdfkit's types leave out: elements that take others while the document is written. */
type Element = { add: (child: Element | (() => void)) => Element; end: () => void };
type Tagged = {
  struct: (type: string, options?: object, children?: (() => void) | Element) => Element;
  addStructure: (element: Element) => void;
  markContent: (tag: string, options?: object) => void;
  endMarkedContent: () => void;
};

/**
 * Lets go of what a cell said, once it and its row are written: the library keeps each cell for its list of what stands on
 * which page, and there needs its number alone.
 */
function letGo(cell: Element): void {
  const { dictionary } = cell as unknown as { dictionary: { data: object; buffer: unknown[] } };
  dictionary.data = NOTHING;
  dictionary.buffer = NO_BYTES;
}
const NOTHING = Object.freeze({});
const NO_BYTES: never[] = [];

const isCell = (item: PageItem | undefined): item is Text & { tag: Cell } => item?.kind === "text" && item.tag?.kind === "cell";

/** Draws pages with what each of their texts is. */
export class PageTagger {
  private readonly doc: Tagged;
  private table: { id: number; element: Element } | null = null;
  /** The heading or paragraph that goes on. */
  private block: { of: number; element: Element } | null = null;
  private readonly whole: Element;

  constructor(
    doc: unknown,
    private readonly draw: (item: PageItem) => void,
  ) {
    this.doc = doc as Tagged;
    this.whole = this.doc.struct("Document");
    this.doc.addStructure(this.whole);
  }

  page({ number, items }: Page): void {
    // Of several letters in one file each counts its blocks by itself.
    if (number === 1) this.endOpen();
    for (let at = 0; at < items.length; ) {
      const item = items[at];
      if (isCell(item)) {
        let end = at;
        for (let next = items[end]; next && (next.kind === "rule" || (isCell(next) && next.tag.row === item.tag.row)); next = items[end]) end++;
        this.row(items.slice(at, end));
        at = end;
      } else {
        if (item) this.single(item);
        at++;
      }
    }
  }

  private single(item: PageItem): void {
    if (item.kind === "text" && item.tag && item.tag.kind !== "cell") {
      this.words(item, item.tag);
    } else if (item.kind === "picture") {
      this.endOpen();
      const bbox = [item.x, item.y, item.x + item.width, item.y + item.height];
      this.root(this.doc.struct("Figure", { alt: item.alt, bbox, placement: "Block" }, () => this.draw(item)));
    } else this.artifact(item);
  }

  private words(item: Text, tag: Exclude<Tag, Cell>): void {
    if (this.block === null || this.block.of !== tag.of) {
      this.endOpen();
      const element = this.doc.struct(tag.kind === "heading" ? `H${Math.min(6, tag.level)}` : "P");
      this.whole.add(element);
      this.block = { of: tag.of ?? Number.NaN, element };
    }
    this.block.element.add(() => this.draw(item));
  }

  private root(element: Element): void {
    this.whole.add(element);
    element.end();
  }

  private artifact(item: PageItem): void {
    this.doc.markContent("Artifact", { type: item.kind === "text" ? "Pagination" : "Layout" });
    this.draw(item);
    this.doc.endMarkedContent();
  }

  private row(items: PageItem[]): void {
    for (const item of items) if (!isCell(item)) this.artifact(item);
    const cells = items.filter(isCell);
    const [first] = cells;
    if (!first) return;
    const row = this.doc.struct("TR");
    this.tableOf(first.tag.table).add(row);
    const made: Element[] = [];
    const places = new Map<string, Text[]>();
    for (const item of cells) {
      const place = item.tag.cell === undefined ? `at ${Math.round(item.end ?? item.x)}` : `cell ${item.tag.cell}`;
      places.set(place, [...(places.get(place) ?? []), item]);
    }
    for (const texts of places.values()) {
      const head = isCell(texts[0]) && texts[0].tag.head;
      const cell = this.doc.struct(head ? "TH" : "TD", head ? { scope: "Column" } : {});
      row.add(cell);
      for (const text of texts) cell.add(() => this.draw(text));
      cell.end();
      made.push(cell);
    }
    row.end();
    for (const cell of made) letGo(cell);
  }

  private tableOf(id: number): Element {
    if (this.table?.id === id) return this.table.element;
    this.endOpen();
    const element = this.doc.struct("Table");
    this.whole.add(element);
    this.table = { id, element };
    return element;
  }

  private endOpen(): void {
    this.table?.element.end();
    this.block?.element.end();
    this.table = null;
    this.block = null;
  }

  end(): void {
    this.endOpen();
    this.whole.end();
  }
}
