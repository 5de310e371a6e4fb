import type { RowCells } from "../folio/panel";
import { type CellWriter, cellWriter } from "../types/format";
import type { Cell } from "../types/valueType";
import { RunningCarry } from "./carry";
import { GRAND } from "./choices";
import type { Flow, Piece } from "./fillPages";
import type { FlowInput, FlowSetting, OpenGroup } from "./flowSetting";
import { figureWriters, footingPieces, linesAt } from "./footingPieces";
import { type Group, type Told, tellGroups } from "./groups";
import { heldFigures } from "./held";
import { insertFlow } from "./insertFlow";
import { labelsAcross, labelsPiece } from "./labels";
import { SIZE, type Tone } from "./page";
import { headsPiece, notePiece, passagePieces } from "./pieces";
import { parentOf, type ReportPlan } from "./plan";
import { relatedFlow } from "./relatedFlow";
import { rowKey } from "./relatedPlan";
import type { RelatedLayout } from "./relatedRows";
import { rowPiece } from "./rowPieces";
import type { Passage } from "./spec";
import { summaryFields, summaryFlow } from "./summary";
import { INDENT } from "./table";
import { givenByGroup, isBlank, levelWords } from "./words";

/*
 * A report's groups, rows and related tables as pieces that pages are filled with (fillPages.ts):
 *
 *   groups and rows ─▶ headings, rows (rowPieces.ts), footings (footingPieces.ts), related tables (relatedFlow.ts), passages
 */

const HEADING_LINE = 16;

/** Whether rows stand in a table. */
const isTabled = ({ spec }: ReportPlan): boolean => spec.shape.kind === "table" || spec.shape.kind === "columns";

/** How far rows are set in by the levels around them. */
export const indentOf = (report: ReportPlan): number => (report.spec.shape.kind === "labels" ? 0 : report.levels.length * INDENT);

class ReportFlow {
  private readonly setting: FlowSetting;
  private readonly levelWriters: CellWriter[];
  private readonly heldOf: ReturnType<typeof heldFigures>;
  private readonly groups: OpenGroup[] = [];
  private readonly depth: number;
  /** The depth of the groups that print nothing but their footing; those inside them are not printed at all. */
  private readonly collapsed: number;
  private readonly rowsPrinted: boolean;
  /** Down to which depth groups have headings: without rows, the innermost is its footing alone. */
  private readonly headed: number;
  /** Column headings stand once over all groups, or within those that have tables or charts under them. */
  private readonly headsAt: number;
  private previous: Cell[] | null = null;
  private labels: Cell[][] = [];
  private tableCount = 0;
  private rowCount = 0;

  constructor(private readonly input: FlowInput) {
    const { report, locale, tables, left } = input;
    const { spec, levels } = report;
    this.depth = levels.length;
    this.collapsed = levels.findIndex((l) => l.spec.totalsOnly) + 1 || Number.POSITIVE_INFINITY;
    this.rowsPrinted = spec.details !== false && this.collapsed > this.depth;
    this.headed = this.rowsPrinted ? this.depth : Math.min(this.depth, this.collapsed) - 1;
    const within = [...tables.map((t) => t.plan.spec.under), ...(spec.inserts ?? []).map((i) => i.under)];
    this.headsAt = Math.max(0, ...within.map((under) => levels.findIndex((l) => l.spec.id === under) + 1));
    this.heldOf = heldFigures(report);
    this.levelWriters = levels.map((l) => cellWriter(l.column.type, l.column.format, locale));
    this.setting = {
      ...input,
      related: input.sources.related,
      inserted: input.sources.inserted,
      inner: left + indentOf(report),
      tabled: isTabled(report),
      writers: figureWriters(input),
      text: (text, opened) => this.fill(text, opened),
      nextTable: () => ++this.tableCount,
      nextRow: (table = this.tableCount, head = false) => ({ kind: "cell", table, row: ++this.rowCount, head }),
    };
  }

  *pieces(): Generator<Flow> {
    const { before, sources, report } = this.input;
    yield* before;
    for (const passage of this.passages("start")) yield* this.passage(passage, null);
    for (const { told, next } of withNext(tellGroups(report, sources)))
      switch (told.kind) {
        case "open":
          yield* this.open(told.group);
          break;
        case "row":
          yield* this.row(told);
          break;
        case "close":
          yield* this.close(next?.kind === "close");
          break;
        default:
          told satisfies never;
      }
  }

  private *open(group: Group): Generator<Flow> {
    const { report, entries } = this.input;
    const level = report.levels[group.depth - 1];
    const opened: OpenGroup = {
      group,
      level,
      words: "",
      value: "",
      carry: null,
      parents: new Map(),
      told: 0,
      rows: 0,
      held: this.heldOf(group.depth, group.keys),
      summed: { places: summaryFields(report, group.depth), same: true },
      relatedTotals: new Map(),
      inserted: [],
    };
    this.groups.push(opened);
    if (level) {
      const { words, empty } = levelWords(level, group.first, (cell) => this.levelWriters[group.depth - 1]?.(cell).text ?? "");
      opened.value = words;
      opened.words = this.fill(level.spec.heading || "{}", opened);
      const around = this.groups[group.depth - 1];
      // The first group in another begins with it, which has asked already; the first of all stands under the title.
      if (around && around.told++ > 0 && group.depth <= this.collapsed && this.beginsPage(group)) yield { kind: "break", restart: this.restarts(group) };
      opened.entry = { level: group.depth - 1, text: opened.words, page: 0, empty, rows: 0 };
      if (group.depth <= this.collapsed) entries.push(opened.entry);
    }
    const headed = level !== undefined && group.depth <= this.headed;
    yield {
      kind: "open",
      stretch: {
        ...(level?.spec.keepWhole ? { keepWhole: true } : {}),
        ...(headed && level.spec.repeat ? { again: () => [this.heading(opened, `${opened.words}, continued`, false)] } : {}),
      },
    };
    if (headed) yield this.heading(opened, opened.words, true);
    if (headed) for (const passage of this.passages(level.spec.id)) yield* this.passage(passage, opened);
    if (level && group.depth <= this.collapsed) yield* this.inserts(opened, "top");
    if (headed || group.depth === 0) yield* footingPieces(this.setting, opened, true, false);
    if (this.opensTable(group)) yield* this.openTable();
    opened.carry = this.carryOf(opened);
    const { carry } = opened;
    if (carry) yield { kind: "open", stretch: { carry, ended: () => this.input.checks.carried(carry, group) } };
  }

  /** Whether a group, or one that begins with it, begins a page. */
  private beginsPage({ depth }: Group): boolean {
    return this.input.report.levels.slice(depth - 1).some((l) => l.spec.newPage || l.spec.restart);
  }

  private restarts({ depth }: Group): boolean {
    return this.input.report.levels.slice(depth - 1).some((l) => l.spec.restart);
  }

  private opensTable({ depth }: Group): boolean {
    return depth === this.headsAt && this.setting.tabled && this.rowsPrinted;
  }

  private *openTable(): Generator<Flow> {
    const { columns, left, right } = this.input;
    const table = this.setting.nextTable();
    const heads = headsPiece(columns, left, right, this.setting.nextRow(table, true), (column) => ({ kind: "columnHeading", column }));
    yield { kind: "open", stretch: { again: () => [heads] } };
    yield { ...heads, joined: true };
  }

  /** The totals carried over pages within the outermost groups, or within those whose tables have headings of their own. */
  private carryOf({ group }: OpenGroup): RunningCarry | null {
    const { report, columns, checks, right } = this.input;
    const carried = columns.filter((c) => report.spec.carried?.includes(c.id));
    const at = Math.max(Math.min(1, this.depth), this.headsAt);
    if (carried.length === 0 || !this.rowsPrinted || !this.setting.tabled || group.depth !== at) return null;
    return new RunningCarry(
      carried.map((column) => ({ column, tally: () => checks.tally(column.column) })),
      { left: this.setting.inner, right, tag: () => this.setting.nextRow() },
      checks,
    );
  }

  private *row({ row, last }: Extract<Told, { kind: "row" }>): Generator<Flow> {
    const { report, checks, tables } = this.input;
    checks.row();
    for (const opened of this.groups) {
      opened.rows++;
      for (const held of opened.held) held.add(row);
      if (opened.summed.places.some((at) => String(row[at]) !== String(opened.group.first[at]))) opened.summed.same = false;
      if (opened.entry) opened.entry.rows++;
    }
    for (const table of tables) this.noteParent(table, row);
    if (!this.rowsPrinted) return;
    if (report.spec.shape.kind === "labels") {
      this.labels.push(row);
      if (this.labels.length === labelsAcross(report.spec.shape, this.input.right - this.input.left)) yield* this.flushLabels();
      return;
    }
    // A heading keeps rows with it, a footing the last.
    const kept = this.groups.some((g) => g.level && g.rows < g.level.spec.keepRows);
    const joined = last ? linesAt(this.setting, this.depth, false).length > 0 : kept;
    const own = tables.filter((t) => t.plan.spec.under === GRAND);
    const carry = this.groups.findLast((g) => g.carry)?.carry;
    yield { ...rowPiece(this.setting, row, this.previous), row, joined: joined && own.length === 0, placed: () => carry?.add(row) };
    for (const table of own) yield* relatedFlow(this.setting, table, [parentOf(report, table.plan.spec.of, row)], this.depth);
    this.previous = row;
  }

  private *flushLabels(): Generator<Flow> {
    const { shape } = this.input.report.spec;
    if (shape.kind !== "labels" || this.labels.length === 0) return;
    yield labelsPiece(shape, this.labels, this.input.left, (line, row) => this.input.fill(line, { row, figure: null, own: {} }));
    this.labels = [];
  }

  /** @param around whether the group around it closes, too */
  private *close(around: boolean): Generator<Flow> {
    const { report, checks, tables, left } = this.input;
    const opened = this.groups.at(-1);
    if (!opened) return;
    const { group, carry, level } = opened;
    yield* this.flushLabels();
    if (carry) yield { kind: "close" };
    checks.group(group);
    if (group.depth === 0 && group.rows === 0) yield notePiece("No rows.", left, "faint");
    if (group.depth <= this.collapsed && report.spec.shape.kind !== "labels")
      yield* footingPieces(this.setting, opened, false, around && linesAt(this.setting, group.depth - 1, false).length > 0);
    if (this.opensTable(group)) yield { kind: "close" };
    if (level && group.depth <= this.collapsed)
      for (const table of tables.filter((t) => t.plan.spec.under === level.spec.id))
        yield* relatedFlow(this.setting, table, [...(opened.parents.get(table.plan.spec.id)?.values() ?? [])], group.depth, opened.relatedTotals);
    if (level && group.depth <= this.collapsed) yield* summaryFlow(this.setting, opened);
    if (level && group.depth <= this.collapsed) yield* this.inserts(opened, "foot");
    for (const held of opened.held) held.end(checks);
    if (opened.summed.places.length > 0) checks.summary(opened.summed.same);
    for (const inserted of opened.inserted) checks.inserted(inserted, group.rows);
    if (group.depth === 0) for (const passage of this.passages("end")) yield* this.passage(passage, opened);
    yield { kind: "close" };
    this.groups.pop();
    this.previous = null;
  }

  private *inserts(opened: OpenGroup, at: "top" | "foot"): Generator<Flow> {
    for (const insert of this.input.report.spec.inserts ?? [])
      if (insert.under === opened.level?.spec.id && insert.at === at) yield* insertFlow(this.setting, insert, opened, opened.group.keys);
  }

  private noteParent({ plan }: RelatedLayout, row: Cell[]): void {
    const opened = plan.spec.under === GRAND ? undefined : this.groups.find((g) => g.level?.spec.id === plan.spec.under);
    if (!opened) return;
    const parent = parentOf(this.input.report, plan.spec.of, row);
    if (plan.table.key.every((name) => (parent[name] ?? null) === null)) return;
    const known = opened.parents.get(plan.spec.id) ?? new Map<string, RowCells>();
    opened.parents.set(plan.spec.id, known.set(rowKey(plan, parent), parent));
  }

  // ── texts ──────────────────────────────────────────────────────────────────────────────────────────────────────

  private fill(text: string, { group, value }: OpenGroup): string {
    const { report, fill, locale } = this.input;
    return fill(text, givenByGroup(report, group, value, this.setting.writers, locale));
  }

  private passages(at: "start" | "end" | string): Passage[] {
    return (this.input.report.spec.passages ?? []).filter((p) => (typeof p.at === "string" ? p.at : p.at.level) === at);
  }

  /** @param opened the group whose text it is; null before all rows */
  private *passage(passage: Passage, opened: OpenGroup | null): Generator<Flow> {
    const { report, fill, left, right, metrics } = this.input;
    const when = passage.when?.trim() ? report.whens[passage.when] : undefined;
    if (when !== undefined && Number(opened?.group.first[when] ?? 0) !== 1) return;
    const text = opened ? this.fill(passage.text, opened) : fill(passage.text, { row: null, figure: null, own: { title: report.spec.title } });
    if (isBlank(text)) return;
    const from = left + Math.max(0, (opened?.group.depth ?? 0) - 1) * INDENT;
    yield* passagePieces(text, { left: from, right, align: passage.align ?? "left", id: passage.id, joined: passage.at !== "end" }, metrics);
  }

  private heading({ group, level, entry }: OpenGroup, words: string, first: boolean): Piece {
    const { left, right } = this.input;
    const x = left + (group.depth - 1) * INDENT;
    const tone: Tone = entry?.empty ? "ochre" : group.depth === 1 ? "ink" : "green";
    return {
      kind: "piece",
      height: HEADING_LINE,
      joined: true,
      row: group.first,
      placed: (page) => {
        if (first && entry) entry.page = page;
      },
      draw: (draft, y) => {
        draft.text(x, y + 12, words, "sansBold", SIZE.heading, tone, { kind: "heading", level: Math.min(6, group.depth + 1) });
        draft.area(x, y, right - x, HEADING_LINE, { kind: "heading", level: level?.spec.id ?? "" });
      },
    };
  }
}

/** What comes, each with what comes after it. */
function* withNext<T>(source: Iterable<T>): Generator<{ told: T; next: T | null }> {
  let held: { told: T } | null = null;
  for (const told of source) {
    if (held) yield { told: held.told, next: told };
    held = { told };
  }
  if (held) yield { told: held.told, next: null };
}

/** The pieces of a report, in order. */
export const reportFlow = (input: FlowInput): Generator<Flow> => new ReportFlow(input).pieces();
