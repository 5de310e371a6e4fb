import { type Expr, type FigureExpr, figuresOf } from "../expression/expr";
import { valueOfColumn } from "../query/home";
import type { Plan } from "../query/plan";
import { evaluator } from "../recount/evaluator";
import { type Tally, tallyOf } from "../recount/figures";
import { cellOfValue, type Value } from "../recount/value";
import { type Cell, isExact, isMisfit, type ValueType, whole } from "../types/valueType";
import type { FiguresPlan } from "./figuresPlan";

/*
 * The figures of a report's groups taken once more of the rows that are printed, without SQL: what the proof holds the
 * printed ones against, and what the first page shows before the others are known.
 */

/** A cell as the recount works with it; what does not fit its type is empty to every figure. */
export function valueOfCell(cell: Cell, type: ValueType): Value {
  if (cell === null || isMisfit(cell)) return null;
  if (isExact(type)) return BigInt(cell);
  if (type.kind === "floating") return Number(cell);
  return type.kind === "yesno" ? Number(cell) === 1 : String(cell);
}

type Read = (row: Cell[]) => Value;
type State = { tallies: Tally[]; keys: Cell[] };

/** Takes the figures of one plan of groups. */
export class FigureRecount {
  private readonly figures: { node: FigureExpr; of: Read; by: Read; keys: Read[] | null }[];
  private readonly values: ((state: State) => Value)[];

  /** @param rows the plan whose rows come */
  constructor(
    { plan, keys }: Pick<FiguresPlan, "plan" | "keys">,
    private readonly rows: Plan,
  ) {
    const exprs = plan.columns.map((c) => (c.window ? null : valueOfColumn(c)));
    const nodes = new Map(exprs.flatMap((e) => (e ? figuresOf(e) : [])).map((node) => [JSON.stringify(node), node]));
    const names = [...nodes.keys()];
    this.figures = [...nodes.values()].map((node) => ({
      node,
      of: node.of ? this.read(node.of) : () => 1n,
      by: node.by ? this.read(node.by) : () => null,
      keys: node.keys?.map((key) => this.read(key)) ?? null,
    }));
    const keyNames = keys.map((at) => JSON.stringify(plan.columns[at]?.expr));
    this.values = exprs.map((expr) => {
      if (!expr) return () => null;
      return evaluator<State>(expr, (part) => {
        if (part.node === "figure") {
          const at = names.indexOf(JSON.stringify(part));
          return ({ tallies }) => tallies[at]?.value() ?? null;
        }
        const at = part.node === "literal" ? -1 : keyNames.indexOf(JSON.stringify(part));
        return at < 0 ? null : ({ keys: own }) => valueOfCell(own[at] ?? null, part.type);
      });
    });
  }

  /** How an expression is found in a row. */
  private read(expr: Expr): Read {
    return evaluator<Cell[]>(expr, (leaf) => {
      if (leaf.node !== "field") return null;
      const at = this.rows.columns.findIndex((c) => c.id === leaf.column);
      if (at < 0) throw new TypeError(`no column ${leaf.column} among the rows of the report`);
      const type = this.rows.columns[at]?.type ?? whole;
      // A key is compared as it is stored: its text tells rows apart.
      if (leaf.column.startsWith("key ")) return (row) => (row[at] === null || row[at] === undefined ? null : String(row[at]));
      return (row) => valueOfCell(row[at] ?? null, type);
    });
  }

  /** A group without rows so far. @param keys what makes it */
  start(keys: Cell[]): { add: (row: Cell[]) => void; cells: () => Cell[] } {
    const state: State = { keys, tallies: this.figures.map(({ node }) => tallyOf(node.figure, node.of?.type ?? whole, node)) };
    return {
      add: (row) => {
        for (const [i, { of, by, keys: told }] of this.figures.entries())
          state.tallies[i]?.add({ value: of(row), by: by(row), keys: told?.map((key) => key(row)) ?? null });
      },
      cells: () => this.values.map((value) => cellOfValue(value(state))),
    };
  }
}
