import { aggregateOf } from "../query/aggregates";
import { type Asking, rowsOf } from "../query/asking";
import { isSameAmount } from "../types/amount";
import type { Cell, ValueType } from "../types/valueType";
import type { CrossFoot, Heading, PivotPlan, PivotProof, PlannedFigure } from "./pivot";
import { groupingPlan } from "./plan";
import { plus } from "./show";

const added = (headings: Heading[], at: (index: number) => Cell, type: ValueType): Cell | undefined =>
  headings.length === 1 ? undefined : headings.reduce<Cell>((sum, h, i) => (h.level === 1 ? plus(sum, at(i), type) : sum), null);

const adds = ({ spec }: PlannedFigure): boolean => aggregateOf(spec.figure)?.merges === "add";

/** The figures that are held against others' counts, each once however often it is shown. */
export function provenFigures({ figures }: PivotPlan): PlannedFigure[] {
  const asked = figures.map(({ spec: { id: _, showAs: __, label: ___, format: ____, ...figure } }) => JSON.stringify(figure));
  return figures.filter((_, i) => asked.indexOf(asked[i] ?? "") === i);
}

/**
 * Cross-foots a pivot: totals down, totals across and the query's own footing must be the same, exactly where the type
 * is exact. The query is asked once more, without any grouping.
 * @param cells the figures before they are shown as shares or otherwise
 */
export function* provingPivot(pivot: PivotPlan, { down, across }: { down: Heading[]; across: Heading[] }, cells: Cell[][]): Asking<PivotProof> {
  const proven = provenFigures(pivot);
  const adding = proven.filter(adds).map((figure) => ({ figure, cells: cells[pivot.figures.indexOf(figure)] ?? [] }));
  const [whole = []] = yield* rowsOf(
    groupingPlan(
      pivot,
      [],
      [],
      adding.map((a) => a.figure),
    ),
  );
  const width = across.length;
  const figures = adding.map(({ figure, cells: own }, i): CrossFoot => {
    const { type } = figure.column;
    const query = whole[i] ?? null;
    const byRow = added(down, (d) => own[d * width] ?? null, type);
    const byColumn = added(across, (a) => own[a] ?? null, type);
    return {
      figure: figure.spec.id,
      heading: figure.column.heading,
      type,
      down: byRow,
      across: byColumn,
      query,
      overlaps: figure.overlaps ? (figure.column.home?.words ?? "rows") : null,
      agrees: (figure.overlaps || (isSameAmount(byRow, query, type) && isSameAmount(byColumn, query, type))) && isSameAmount(own[0] ?? null, query, type),
    };
  });
  const count = (headings: Heading[]) => headings.reduce((sum, h) => sum + (h.level === 1 || headings.length === 1 ? h.rows : 0), 0);
  const rows = { down: count(down), across: count(across), query: Number(whole[adding.length] ?? 0) };
  const empties = [...pivot.down.map((a, i) => ({ a, list: down, level: i + 1 })), ...pivot.across.map((a, i) => ({ a, list: across, level: i + 1 }))]
    .map(({ a, list, level }) => ({
      field: a.column.heading,
      rows: list.reduce((sum, h) => sum + (h.level === level && h.key === null && h.rest === null ? h.rows : 0), 0),
    }))
    .filter((e) => e.rows > 0);
  const wholes = proven
    .filter((f) => !adds(f))
    .map(({ spec, column }) => ({
      figure: spec.id,
      heading: column.heading,
      type: column.type,
      cell: cells[pivot.figures.findIndex((f) => f.spec.id === spec.id)]?.[0] ?? null,
    }));
  return { figures, wholes, rows, empties, agrees: figures.every((f) => f.agrees) && rows.down === rows.query && rows.across === rows.query };
}
