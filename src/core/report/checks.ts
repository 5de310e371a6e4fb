import { keyPlaces, overlaps } from "../query/home";
import type { Plan, PlanColumn } from "../query/plan";
import { isSameAmount } from "../types/amount";
import { type Cell, exactOf, isExact, isNumber, type ValueType } from "../types/valueType";
import type { Group } from "./groups";
import type { ReportPlan } from "./plan";
import { Tally } from "./tally";

/*
 * What a report's proof is made of, gathered while its pages are laid out: every printed figure of a group against the same
 * figure taken of its rows; what groups come to together against the group around them; what was carried against what the
 * pages hold.
 */

/** What a carried column comes to at its end: what was carried onto the last page, and the rows since. */
export type CarryEnd = { column: { id: string; column: PlanColumn }; cell: Cell; brought: Cell; since: Cell };

/** How many figures were held against others, and how many of them differ. */
export type Agreement = { compared: number; differ: number };

export type RelatedSum = { id: string; tables: number; rows: number; totals: Record<string, Cell>; cut: boolean };

export type ReportProof = {
  rows: number;
  /** Figures of groups as read against those of their rows; by level, the whole report first. */
  levels: Agreement[];
  /** Totals of groups added up against the group around them. */
  sums: Agreement;
  /** Totals carried over pages. */
  carried: Agreement;
  /** Totals of the rows placed on pages against the footings they stand over. */
  placed: Agreement;
  /** Charts and cross-tables of groups: the rows they are worked out from against those printed, and each within itself. */
  inserts: Agreement;
  /** Figures of groups that rows hold against those of the rows of their groups, the same in all of them. */
  held: Agreement;
  /** Fields in summaries of groups: the same in all rows of their groups. */
  summaries: Agreement;
  related: RelatedSum[];
  /** Grand footings that add up, by the report's columns: as printed, and as the outermost groups come to. */
  totals: Record<string, { printed: Cell; groups: Cell; overlaps: string | null }>;
  agrees: boolean;
};

const none = (): Agreement => ({ compared: 0, differ: 0 });

export class ReportChecks {
  private readonly levels: Agreement[];
  private readonly sums = none();
  private readonly carries = none();
  private readonly placed = none();
  private readonly inserts = none();
  private readonly summaries = none();
  private readonly held = none();
  private readonly relatedSums = new Map<
    string,
    { tables: number; rows: number; totals: Map<string, { type: ValueType; exact: bigint; floating: number; some: boolean }>; cut: boolean }
  >();
  /** What the groups inside of each open group come to so far, by the places of figures that add up. */
  private readonly inner: Map<string, { exact: bigint; floating: number }>[] = [];
  private rowCount = 0;
  private totals: ReportProof["totals"] = {};

  constructor(private readonly report: ReportPlan) {
    this.levels = report.figures.map(none);
    for (const r of report.related) this.sumOf(r.spec.id);
  }

  row(): void {
    this.rowCount++;
  }

  /** What adds a column up: each of its rows once, where a link repeats them. */
  tally(column: PlanColumn, rows: Plan = this.report.rows): Tally {
    return new Tally(column.type, keyPlaces(column, rows));
  }

  private compare(into: Agreement, a: Cell, b: Cell, type: ValueType): void {
    into.compared++;
    const same = isNumber(type) ? isSameAmount(a, b, type) : String(a) === String(b);
    if (!same) into.differ++;
  }

  /** A group has come to its end. */
  group(group: Group): void {
    const { figures, levels } = this.report;
    const own = figures[group.depth];
    if (!own) return;
    const recounted = group.recounted();
    const printed = group.read ?? recounted;
    const into = this.levels[group.depth] ?? none();
    own.plan.columns.forEach((column, at) => {
      if (!column.figure || column.window || column.hidden) return;
      if (group.read) this.compare(into, printed[at] ?? null, recounted[at] ?? null, column.type);
    });
    for (const [line, cells] of Object.entries(own.cells))
      for (const [column, at] of Object.entries(cells)) {
        const figure = own.plan.columns[at];
        const cell = printed[at] ?? null;
        if (!figure || !addsUp(figure)) continue;
        const name = `${line}\n${column}`;
        const inside = this.inner[group.depth]?.get(name);
        const apart = overlapping(figure, own.plan, levels.length > group.depth ? figures[group.depth + 1]?.plan : undefined);
        if (inside && !apart) this.compare(this.sums, sumCell(inside, figure.type), zero(cell, figure.type), figure.type);
        if (group.depth === 0 && figure.figure === "total" && this.totals[column] === undefined)
          this.totals[column] = {
            printed: cell,
            groups: inside ? sumCell(inside, figure.type) : cell,
            overlaps: apart ? (figure.home?.words ?? "rows") : null,
          };
        if (group.depth > 0) this.addInside(group.depth - 1, name, cell, figure.type);
      }
    this.inner[group.depth]?.clear();
  }

  private addInside(depth: number, name: string, cell: Cell, type: ValueType): void {
    this.inner[depth] ??= new Map();
    const sums = this.inner[depth] as Map<string, { exact: bigint; floating: number }>;
    const sum = sums.get(name) ?? { exact: 0n, floating: 0 };
    sums.set(name, sum);
    if (isExact(type)) sum.exact += exactOf(cell) ?? 0n;
    else sum.floating += Number(cell ?? 0);
  }

  /** At a page's end: what was brought onto it and its own rows are what is carried on. Where rows are counted once, pages overlap. */
  carry(columns: PlanColumn[], brought: Cell[] | null, page: Cell[], forward: Cell[]): void {
    columns.forEach((column, i) => {
      const sum = added(brought?.[i] ?? null, page[i] ?? null, column.type);
      if (keyPlaces(column, this.report.rows) === null) this.compare(this.carries, sum, forward[i] ?? null, column.type);
    });
  }

  /** At the end of what is carried in a group: what was carried and the rows since are the footing printed there. */
  carried(carry: { ends: () => CarryEnd[] }, group: Group): void {
    const { figures, spec } = this.report;
    const own = figures[group.depth];
    const line = (column: string) => spec.lines.find((l) => figureOf(l.cells[column]) === "total" && own?.cells[l.id]?.[column] !== undefined);
    const footing = (column: string): Cell | undefined => {
      const at = own?.cells[line(column)?.id ?? ""]?.[column];
      return at === undefined ? undefined : group.read?.[at];
    };
    this.carryEnds(carry.ends(), footing);
  }

  /** The same of what is carried anywhere. @param footing the figure printed under a column, where there is one */
  carryEnds(ends: CarryEnd[], footing: (column: string) => Cell | undefined): void {
    for (const { column, cell, brought, since } of ends) {
      const { type } = column.column;
      if (keyPlaces(column.column, this.report.rows) === null) this.compare(this.carries, added(brought, since, type), cell, type);
      const printed = footing(column.id);
      if (printed !== undefined) this.compare(this.placed, cell, printed, type);
    }
  }

  private sumOf(id: string) {
    const known = this.relatedSums.get(id) ?? { tables: 0, rows: 0, totals: new Map(), cut: false };
    this.relatedSums.set(id, known);
    return known;
  }

  /** A group with a chart or a cross-table has come to its end. @param from how many rows that was worked out from; null where that is its own choice */
  inserted({ rows: from, agrees }: { rows: number | null; agrees: boolean }, printed: number): void {
    this.inserts.compared++;
    if (!agrees || (from !== null && from !== printed)) this.inserts.differ++;
  }

  /** A group with fields in its summary has come to its end. @param same whether they are the same in all its rows */
  summary(same: boolean): void {
    this.summaries.compared++;
    if (!same) this.summaries.differ++;
  }

  /** A group has come to its end whose rows hold a figure of it. @param same whether all of them hold the same */
  holds(held: Cell, recounted: Cell, same: boolean, type: ValueType): void {
    this.compare(this.held, held, recounted, type);
    if (!same) this.held.differ++;
  }

  /** A related table has come to its end. */
  related(id: string, rows: number, totals: { column: string; cell: Cell; type: ValueType }[], cut = false): void {
    const sum = this.sumOf(id);
    sum.cut ||= cut;
    sum.tables += rows > 0 ? 1 : 0;
    sum.rows += rows;
    for (const { column, cell, type } of totals) {
      const total = sum.totals.get(column) ?? { type, exact: 0n, floating: 0, some: false };
      sum.totals.set(column, total);
      if (cell === null) continue;
      total.some = true;
      if (isExact(type)) total.exact += exactOf(cell) ?? 0n;
      else total.floating += Number(cell);
    }
  }

  proof(): ReportProof {
    const all = [...this.levels, this.sums, this.carries, this.placed, this.inserts, this.summaries, this.held];
    return {
      rows: this.rowCount,
      levels: this.levels,
      sums: this.sums,
      carried: this.carries,
      placed: this.placed,
      inserts: this.inserts,
      summaries: this.summaries,
      held: this.held,
      related: [...this.relatedSums].map(([id, { tables, rows, totals, cut }]) => ({
        id,
        tables,
        rows,
        cut,
        totals: Object.fromEntries([...totals].map(([column, t]) => [column, t.some ? sumCell(t, t.type) : null])),
      })),
      totals: this.totals,
      agrees: all.every((a) => a.differ === 0),
    };
  }
}

const figureOf = (cell: ReportPlan["spec"]["lines"][number]["cells"][string] | undefined): string => (cell?.kind === "figure" ? cell.figure : "");

const addsUp = ({ figure }: PlanColumn): boolean => figure === "total" || figure === "count";

/** Whether a row counted once may fall into several of the groups inside. */
function overlapping(figure: PlanColumn, plan: Plan, inside: Plan | undefined): boolean {
  const groups = (inside ?? plan).columns.filter((c) => !c.figure);
  return overlaps(figure, groups);
}

const sumCell = ({ exact, floating }: { exact: bigint; floating: number }, type: ValueType): Cell => (isExact(type) ? exact.toString() : floating);

/** The total of no values is 0 among sums. */
const zero = (cell: Cell, type: ValueType): Cell => cell ?? (isExact(type) ? "0" : 0);

function added(a: Cell, b: Cell, type: ValueType): Cell {
  if (a === null) return b;
  if (b === null) return a;
  return isExact(type) ? ((exactOf(a) ?? 0n) + (exactOf(b) ?? 0n)).toString() : Number(a) + Number(b);
}
