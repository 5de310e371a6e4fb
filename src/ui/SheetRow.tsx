import type { ReactNode } from "react";
import { CellMenu, type CellMenuProps } from "./CellMenu";
import { Sparkline } from "./Sparkline";
import { CELL, MARK_BARS, MARK_GROUNDS, MARK_INKS, type SheetCell, type SheetColumn, type SheetMark, TONES } from "./sheetParts";
import { WORDS } from "./words";

const ROW_TONES = { agrees: "bg-bottle-tint", wrong: "bg-vermilion-tint" } as const;

type Props = {
  id: string;
  index: number;
  /** How far it stands below the headings, in pixels. */
  top: number;
  height: number;
  columns: SheetColumn[];
  template: string;
  /** undefined while it is on its way. */
  cells: SheetCell[] | undefined;
  number: number | undefined;
  tone: "agrees" | "wrong" | undefined;
  onOpen: (() => void) | undefined;
  /** The column whose cell has the focus. */
  focused: number | null;
  isSelected: (column: number) => boolean;
  /** The cell that is typed over, and what stands in its place. */
  typed: { column: number; input: ReactNode } | null;
  /** How far from the left a column stands that stays in sight. */
  left: (index: number) => number | undefined;
  /** What the cell offers that was reached last. */
  menu: (CellMenuProps & { column: number }) | null;
  /** Asked for by a right click; false where there is none. */
  onMenu: (column: number) => boolean;
  /** A press on a cell, or the pointer drawn over it. */
  onPress: (column: number, extend: boolean) => void;
  onEnter: (column: number) => void;
  onDoubleClick: (column: number) => void;
};

/** One row of a sheet, with its number in the gutter. */
export function SheetRow(props: Props) {
  const { id, index, top, height, columns, template, cells, number, tone, onOpen, typed, left } = props;
  return (
    <div
      role="row"
      aria-rowindex={index + 2}
      className={`absolute inset-x-0 grid border-b border-hairline ${tone ? ROW_TONES[tone] : "bg-sheet"}`}
      style={{ gridTemplateColumns: template, height, transform: `translateY(${top}px)`, zIndex: typed ? 5 : undefined }}
    >
      <div
        role="rowheader"
        onDoubleClick={onOpen}
        className={`sticky left-0 z-2 flex items-center justify-end border-r-[3px] bg-inherit border-double border-column pr-2 text-tiny ${tone ? "text-soft" : "text-faint"} ${onOpen ? "cursor-pointer hover:text-bottle" : ""}`}
        title={onOpen ? WORDS.doubleClickOrPressEnter : undefined}
      >
        {number}
      </div>
      {columns.map((c, i) => {
        const cell = cells?.[i];
        const stays = left(i);
        const shade = cell?.marks?.find((m) => m.look === "shade");
        const filled = props.isSelected(i) || cell?.tone === "subtotal" || shade !== undefined;
        const here = typed?.column === i;
        const looks = [
          CELL,
          // What is said below the field is not cut off by its cell.
          here ? "overflow-visible!" : "",
          stays === undefined ? "relative" : `sticky z-1 ${filled ? "" : "bg-inherit"}`,
          c.right ? "justify-end" : "",
          cell?.tone ? TONES[cell.tone] : "",
          shade && !props.isSelected(i) ? MARK_GROUNDS[shade.tone] : "",
          props.isSelected(i) ? "bg-bottle-tint" : "",
          props.focused === i ? "outline-2 -outline-offset-2 outline-bottle" : "",
        ];
        return (
          <div
            key={c.id}
            id={`${id}-${index}-${i}`}
            role="gridcell"
            tabIndex={-1}
            aria-colindex={i + 2}
            aria-selected={props.isSelected(i)}
            style={{ left: stays }}
            onContextMenu={(e) => {
              if (!here && props.onMenu(i)) e.preventDefault();
            }}
            onMouseDown={(e) => {
              // A right click opens the menu of what is selected.
              if (here || e.button === 2) return;
              props.onPress(i, e.shiftKey);
              e.preventDefault();
            }}
            onMouseEnter={(e) => e.buttons === 1 && props.onEnter(i)}
            onDoubleClick={() => props.onDoubleClick(i)}
            className={looks.join(" ")}
          >
            {here ? (
              typed.input
            ) : cells ? (
              <>
                {cell?.marks?.map((mark) => (
                  <Mark key={mark.look} mark={mark} right={c.right} />
                ))}
                <span className="truncate" title={(cell?.text.length ?? 0) > 24 ? cell?.text : undefined}>
                  {cell?.spark ? <Sparkline points={cell.spark} text={cell.text} /> : cell?.text}
                </span>
              </>
            ) : (
              <span className="h-2 w-2/3 rounded bg-hairline" />
            )}
            {props.menu?.column === i && !here && <CellMenu {...props.menu} right={c.right} />}
          </div>
        );
      })}
    </div>
  );
}

/** The mark of a cell beside its text: its sign, or its bar along the foot of the cell. */
function Mark({ mark: { look, tone, sign, share, words }, right }: { mark: SheetMark; right: boolean }) {
  if (look === "bar")
    return (
      <span
        aria-hidden="true"
        className={`absolute bottom-0 h-1 opacity-70 ${right ? "right-0" : "left-0"} ${MARK_BARS[tone]}`}
        style={{ width: `${100 * (share ?? 0)}%` }}
      />
    );
  return (
    <span title={words} className={`${right ? "mr-auto" : "mr-1"} shrink-0 text-tiny ${MARK_INKS[tone]}`}>
      {sign}
    </span>
  );
}
