import { parseDecimal } from "../types/decimal";
import { cellWriter, type Locale } from "../types/format";
import { type Cell, exactOf, isExact, scaleOf, type ValueType, whole } from "../types/valueType";
import type { Plan } from "./plan";
import type { ControlTotal, QuerySpec } from "./spec";

/**
 * A figure known from elsewhere held against the query's own. `out` is the query's less the other; null where they cannot be
 * compared: the column is gone or does not add up, or what was written is no such number.
 */
export type ControlCheck = { control: ControlTotal; heading: string; type: ValueType; is: Cell; out: Cell; agrees: boolean };

/** The columns of a plan a control total can be given for: those whose values add up. */
export const controlColumns = (plan: Plan) => plan.columns.filter((c) => c.totalled);

/**
 * Holds a query's control totals against its footing. Exact figures must be the same to the last digit.
 * @param footing over all rows of the query; its totals by column
 */
export function checkControls(spec: Pick<QuerySpec, "controls">, plan: Plan, footing: { rows: number; totals: Record<string, Cell> }): ControlCheck[] {
  return (spec.controls ?? []).map((control) => {
    const column = control.column === null ? null : plan.columns.find((c) => c.id === control.column && c.totalled);
    const type = control.column === null ? whole : (column?.type ?? whole);
    const heading = control.column === null ? "rows" : (column?.heading ?? "a missing column");
    const is = control.column === null ? footing.rows : column ? (footing.totals[column.id] ?? zero(type)) : null;
    const out = is === null ? null : difference(is, control.value, type);
    return {
      control,
      heading,
      type,
      is,
      out,
      agrees: out !== null && (type.kind === "floating" ? Math.abs(Number(out)) <= 1e-9 * Math.max(1, Math.abs(Number(is))) : String(out) === "0"),
    };
  });
}

const zero = (type: ValueType): Cell => (isExact(type) ? "0" : 0);

/** The figure from elsewhere as a cell of the column's type; null where it is none. */
function wantedCell(wanted: string, type: ValueType): Cell {
  const plain = plainDigits(wanted);
  if (type.kind === "floating") return plain === "" || Number.isNaN(Number(plain)) ? null : Number(plain);
  return parseDecimal(plain, scaleOf(type))?.toString() ?? null;
}

function difference(is: Cell, wanted: string, type: ValueType): Cell {
  const cell = wantedCell(wanted, type);
  if (cell === null) return null;
  return type.kind === "floating" ? Number(is) - Number(cell) : ((exactOf(is) ?? 0n) - (exactOf(cell) ?? 0n)).toString();
}

/**
 * A number as it is typed or shown: with thousands set apart, a minus or parentheses where it is negative.
 * @example plainDigits("(1,234.50)") // "-1234.50"
 */
export function plainDigits(typed: string): string {
  const bare = typed.trim().replace(/[\s\u00a0\u202f’']/g, "");
  const negative = /^\(.*\)$/.test(bare) || /^[-\u2212]/.test(bare);
  const size = bare.replace(/^[(\-\u2212+]+|\)$/g, "");
  const joined = /^\d{1,3}(,\d{3})+(\.\d*)?$/.test(size) ? size.replaceAll(",", "") : size;
  return negative ? `-${joined}` : joined;
}

/** A control total that agreed, as it is told later: where it is from, which figure, and what both said. */
export type AgreedControl = { source: string; figure: string; value: string };

/** The control totals that agree, written down. */
export const agreedControls = (checks: ControlCheck[], locale: Locale): AgreedControl[] =>
  checks
    .filter((c) => c.agrees)
    .map(({ control, heading, type, is }) => ({ source: control.source, figure: heading, value: cellWriter(type, {}, locale)(is).text }));

/** A description with one more control total, to be held against a column, or the rows. */
export function withControl<S extends Pick<QuerySpec, "controls">>(spec: S, control: Omit<ControlTotal, "id">): S {
  const controls = spec.controls ?? [];
  let n = 1;
  while (controls.some((c) => c.id === `k${n}`)) n++;
  return { ...spec, controls: [...controls, { id: `k${n}`, ...control }] };
}

/** What does not agree, in one sentence for each. */
export const controlWords = (checks: ControlCheck[], locale: Locale): string =>
  checks
    .filter((c) => !c.agrees)
    .map(({ control, heading, type, is, out }) => {
      const from = control.source ? ` of ${control.source}` : "";
      if (out === null) return `The control total${from} for ${heading} cannot be compared.`;
      const write = (cell: Cell) => cellWriter(type, {}, locale)(cell).text;
      return `The control total${from} for ${heading} is ${write(wantedCell(control.value, type))}; the query shows ${write(is)}: ${write(out)} out.`;
    })
    .join(" ");
