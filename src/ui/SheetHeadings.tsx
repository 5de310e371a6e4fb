import { Popover, PopoverButton, PopoverPanel } from "@headlessui/react";
import { type KeyboardEvent, type ReactNode, useRef, useState } from "react";
import { LEAST_PULLED, MOST_PULLED, type SheetColumn, type SheetLayout } from "./sheetParts";
import { WORDS } from "./words";

type Props = {
  /** What the ids of the sheet's cells begin with. */
  id: string;
  height: number;
  columns: SheetColumn[];
  template: string;
  /** The heading that has the focus. */
  focused: number | null;
  onSort: ((column: string) => void) | undefined;
  menu: ((column: string, close: () => void) => ReactNode) | undefined;
  /** The focus goes back to the sheet. */
  onClosed: () => void;
  /** How far from the left a column stands that stays in sight. */
  left: (index: number) => number | undefined;
  layout: (SheetLayout & { onPull: (column: string, width: number) => void }) | undefined;
};

/** What a heading that is dragged is known by. */
const DRAGGED = "application/x-column";

/** The row of headings, which stays in sight. */
export function SheetHeadings({ id, height, columns, template, focused, onSort, menu, onClosed, left, layout }: Props) {
  const [over, setOver] = useState<number | null>(null);
  /** The place among the columns at which a heading would be dropped. */
  const gap = (event: React.DragEvent<HTMLElement>, i: number): number => {
    const box = event.currentTarget.getBoundingClientRect();
    return event.clientX < box.left + box.width / 2 ? i : i + 1;
  };
  const drag = (column: string, i: number) =>
    layout && {
      draggable: true,
      onDragStart: (event: React.DragEvent<HTMLElement>) => {
        event.dataTransfer.setData(DRAGGED, column);
        event.dataTransfer.effectAllowed = "move";
      },
      onDragOver: (event: React.DragEvent<HTMLElement>) => {
        if (!event.dataTransfer.types.includes(DRAGGED)) return;
        event.preventDefault();
        setOver(gap(event, i));
      },
      onDragLeave: () => setOver(null),
      onDrop: (event: React.DragEvent<HTMLElement>) => {
        event.preventDefault();
        setOver(null);
        const dropped = event.dataTransfer.getData(DRAGGED);
        if (dropped) layout.onPlace(dropped, columns[gap(event, i)]?.id ?? null);
      },
    };
  const mark = (i: number) =>
    over === i
      ? "before:absolute before:inset-y-0 before:-left-px before:w-1 before:bg-bottle"
      : over === i + 1 && over === columns.length
        ? "after:absolute after:inset-y-0 after:right-0 after:w-1 after:bg-bottle"
        : "";
  return (
    <div role="row" aria-rowindex={1} className="sticky top-0 z-10 grid border-b border-ink bg-sheet" style={{ gridTemplateColumns: template, height }}>
      <div role="columnheader" className="sticky left-0 z-2 border-r-[3px] border-double border-column bg-sheet">
        <span className="sr-only">{WORDS.row}</span>
      </div>
      {columns.map((c, i) => (
        <div
          key={c.id}
          id={`${id}--1-${i}`}
          role="columnheader"
          aria-colindex={i + 2}
          aria-sort={c.sorted === "up" ? "ascending" : c.sorted === "down" ? "descending" : "none"}
          onClick={() => onSort?.(c.id)}
          {...drag(c.id, i)}
          style={{ left: left(i) }}
          className={`group flex cursor-pointer flex-col justify-center border-r border-column px-2.5 ${left(i) === undefined ? "relative" : "sticky z-1 bg-sheet"} ${c.right ? "items-end text-right" : ""} ${focused === i ? "outline-2 -outline-offset-2 outline-bottle" : ""} ${mark(i)}`}
        >
          {layout && <WidthHandle label={c.heading} width={c.width} pull={(w) => layout.onPull(c.id, w)} set={(w) => layout.onWidth(c.id, w)} />}
          {menu && (
            <HeadingMenu label={WORDS.menuOf(c.heading)} onClosed={onClosed}>
              {(close) => menu(c.id, close)}
            </HeadingMenu>
          )}
          <span className={`max-w-full truncate text-small font-semibold ${c.tone === "derived" ? "text-plum" : ""}`}>
            {c.heading}
            {c.sorted && <span aria-hidden="true">{c.sorted === "up" ? " ▴" : " ▾"}</span>}
          </span>
          <span className={`max-w-full truncate text-tiny ${c.tone === "derived" ? "text-plum" : "text-faint"}`} title={c.origin}>
            {c.origin}
          </span>
        </div>
      ))}
    </div>
  );
}

type HandleProps = { label: string; width: number; pull: (width: number) => void; set: (width: number | null) => void };

/** The edge of a heading that is dragged to make its column wider; a double click makes it as wide as its values. */
function WidthHandle({ label, width, pull, set }: HandleProps) {
  const from = useRef<{ x: number; width: number } | null>(null);
  const wide = (event: React.PointerEvent) =>
    Math.min(MOST_PULLED, Math.max(LEAST_PULLED, (from.current?.width ?? width) + event.clientX - (from.current?.x ?? 0)));
  return (
    <span
      aria-hidden="true"
      title={WORDS.widthOf(label)}
      draggable
      onDragStart={(event) => {
        // The heading itself is not dragged by its edge.
        event.preventDefault();
        event.stopPropagation();
      }}
      onClick={(event) => event.stopPropagation()}
      onDoubleClick={() => set(null)}
      onPointerDown={(event) => {
        event.stopPropagation();
        event.currentTarget.setPointerCapture(event.pointerId);
        from.current = { x: event.clientX, width };
      }}
      onPointerMove={(event) => from.current && pull(wide(event))}
      onPointerUp={(event) => {
        const moved = from.current !== null && event.clientX !== from.current.x;
        const to = wide(event);
        from.current = null;
        if (moved) set(to);
      }}
      className="absolute inset-y-0 right-0 z-3 w-1.5 cursor-col-resize touch-none hover:bg-column"
    />
  );
}

/** The button in a heading, and the popover it opens. */
function HeadingMenu({ label, onClosed, children }: { label: string; onClosed: () => void; children: (close: () => void) => ReactNode }) {
  return (
    <Popover className="absolute top-0.5 right-0.5" onClick={(e: React.MouseEvent) => e.stopPropagation()}>
      <PopoverButton
        tabIndex={-1}
        aria-label={label}
        className="small-button rounded bg-sheet text-faint opacity-0 group-hover:opacity-100 hover:text-bottle focus-visible:opacity-100 data-open:opacity-100"
      >
        ▾
      </PopoverButton>
      <PopoverPanel
        anchor={{ to: "bottom end", gap: 4, padding: 12 }}
        focus
        className="popover max-h-[80vh] w-auto max-w-[92vw]"
        onKeyDown={(e: KeyboardEvent) => {
          e.stopPropagation();
          // Once it is closed.
          if (e.key === "Escape") setTimeout(onClosed);
        }}
      >
        {({ close }) => (
          <>
            {children(() => {
              close();
              onClosed();
            })}
          </>
        )}
      </PopoverPanel>
    </Popover>
  );
}
