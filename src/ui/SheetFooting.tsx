import { CELL, type SheetCell, type SheetColumn, TONES } from "./sheetParts";
import { WORDS } from "./words";

type FootingProps = { columns: SheetColumn[]; template: string; rowIndex: number; footing: SheetCell[]; left: (index: number) => number | undefined };

/** The footing of a sheet, which stays in sight. */
export function SheetFooting({ columns, template, rowIndex, footing, left }: FootingProps) {
  return (
    <div
      role="row"
      aria-rowindex={rowIndex}
      className="sticky bottom-0 z-10 grid h-9 border-t border-b-[3px] border-t-ink border-b-ink bg-sheet font-semibold [border-bottom-style:double]"
      style={{ gridTemplateColumns: template }}
    >
      <div role="rowheader" className="sticky left-0 z-2 border-r-[3px] border-double border-column bg-sheet">
        <span className="sr-only">{WORDS.footing}</span>
      </div>
      {columns.map((c, i) => (
        <div
          key={c.id}
          role="gridcell"
          tabIndex={-1}
          aria-colindex={i + 2}
          style={{ left: left(i) }}
          className={`${CELL} ${left(i) === undefined ? "" : "sticky z-1 bg-sheet"} ${c.right ? "justify-end" : ""} ${footing[i]?.tone ? TONES[footing[i].tone] : ""}`}
        >
          {footing[i]?.text}
        </div>
      ))}
    </div>
  );
}
