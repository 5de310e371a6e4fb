"use client";

import { Popover, PopoverButton, PopoverPanel } from "@headlessui/react";
import { useVirtualizer } from "@tanstack/react-virtual";
import { type KeyboardEvent, type ReactNode, useEffect, useId, useRef, useState } from "react";
import { Sparkline } from "./Sparkline";

export type SheetColumn = {
  id: string;
  heading: string;
  origin?: string;
  right: boolean;
  width: number;
  sorted?: "up" | "down" | undefined;
  tone?: "derived" | undefined;
};
export type SheetCell = {
  text: string /** drawn as a line in place of the text, which stays for readers */;
  spark?: { at: number; value: number }[] | undefined;
  tone?: "negative" | "misfit" | "missing" | "agrees" | "faint" | undefined;
};
export type Range = { top: number; bottom: number; left: number; right: number };

type Props = {
  label: string;
  columns: SheetColumn[];
  rowCount: number;
  /** undefined while the row is on its way. */
  row: (index: number) => SheetCell[] | undefined;
  footing: SheetCell[] | null;
  onWindow: (first: number, last: number) => void;
  onSort?: ((column: string) => void) | undefined;
  onSelect?: (range: Range | null) => void;
  onCopy?: (range: Range) => void;
  /** What a heading offers besides sorting; opened by its button, or by Alt and the down arrow. */
  menu?: ((column: string, close: () => void) => ReactNode) | undefined;
  /** The page of a row, opened by Enter or a double click. */
  onOpen?: ((row: number) => void) | undefined;
  /** Lets cells be typed over: by F2, by typing, or by a double click. Returns what is wrong with the text, if anything. */
  edit?: SheetEdit | undefined;
  /** What stands in the gutter, where it is not the row's place in the sheet. */
  rowNumber?: ((row: number) => number | undefined) | undefined;
  /** The tint of a whole row. */
  rowTone?: ((row: number) => "agrees" | "wrong" | undefined) | undefined;
  empty?: ReactNode;
};

export type SheetEdit = {
  text: (row: number, column: number) => string | null;
  save: (row: number, column: number, text: string) => Promise<string | null>;
  remove?: (range: Range) => void;
};

const ROW_HEIGHT = 30;
const GUTTER = 44;
/** Chrome lays out elements up to about 33 million pixels: a sheet of more rows is scrolled in proportion. */
const MOST_LAID_OUT = 1_000_000;
const TONES = {
  negative: "text-vermilion",
  misfit: "text-vermilion italic",
  missing: "text-ochre",
  agrees: "font-semibold text-bottle",
  faint: "text-faint",
} as const;
const ROW_TONES = { agrees: "bg-bottle-tint", wrong: "bg-vermilion-tint" } as const;

/**
 * A grid of rows after the WAI-ARIA grid pattern: one tab stop, arrows move, Shift extends, Ctrl+C copies, Enter on
 * a heading sorts. Only the rows in sight are in the page.
 */
export function Sheet({ label, columns, rowCount, row, footing, onWindow, onSort, onSelect, onCopy, menu, onOpen, edit, rowNumber, rowTone, empty }: Props) {
  const [typing, setTyping] = useState<{ row: number; column: number; text: string; problem: string | null } | null>(null);
  const saving = useRef(false);
  const scroller = useRef<HTMLDivElement>(null);
  const id = useId();
  /** Row -1 is the headings. */
  const [at, setAt] = useState({ row: -1, column: 0 });
  const [anchor, setAnchor] = useState<{ row: number; column: number } | null>(null);
  const [focused, setFocused] = useState(false);
  const laidOut = Math.min(rowCount, MOST_LAID_OUT);
  const virtual = useVirtualizer({
    count: laidOut,
    getScrollElement: () => scroller.current,
    estimateSize: () => ROW_HEIGHT,
    overscan: 12,
    scrollPaddingStart: 49,
    scrollPaddingEnd: 36,
  });
  const items = virtual.getVirtualItems();
  // Where there are more rows than can be laid out, the place among those laid out tells how many rows lie above.
  const topmost = items[0]?.index ?? 0;
  const above = laidOut < rowCount ? Math.round((topmost / (laidOut - items.length)) * (rowCount - laidOut)) : 0;
  const first = topmost + above;
  const last = (items.at(-1)?.index ?? 0) + above;
  useEffect(() => {
    onWindow(first, last);
  }, [first, last, onWindow]);

  const range: Range | null =
    anchor && at.row >= 0
      ? {
          top: Math.min(anchor.row, at.row),
          bottom: Math.max(anchor.row, at.row),
          left: Math.min(anchor.column, at.column),
          right: Math.max(anchor.column, at.column),
        }
      : null;
  const template = `${GUTTER}px ${columns.map((c) => `minmax(${c.width}px, ${c.right ? `${c.width}px` : "1fr"})`).join(" ")}`;
  const width = GUTTER + columns.reduce((sum, c) => sum + c.width, 0);

  function move(row: number, column: number, extend: boolean): void {
    const to = { row: Math.max(-1, Math.min(rowCount - 1, row)), column: Math.max(0, Math.min(columns.length - 1, column)) };
    const from = extend && anchor ? anchor : to;
    setAt(to);
    setAnchor(to.row < 0 ? null : from);
    if (to.row >= 0) virtual.scrollToIndex(laidOut < rowCount ? Math.round((to.row * (laidOut - 1)) / (rowCount - 1)) : to.row);
    select(to.row < 0 ? null : from, to);
  }

  function select(from: { row: number; column: number } | null, to: { row: number; column: number }): void {
    onSelect?.(
      from && {
        top: Math.min(from.row, to.row),
        bottom: Math.max(from.row, to.row),
        left: Math.min(from.column, to.column),
        right: Math.max(from.column, to.column),
      },
    );
  }

  function beginTyping(row: number, column: number, first?: string): void {
    const stored = edit?.text(row, column) ?? null;
    saving.current = false;
    if (stored !== null) setTyping({ row, column, text: first ?? stored, problem: null });
  }

  async function endTyping(then: "down" | "right" | "stay"): Promise<void> {
    // Saved by Enter, the field goes, and loses its focus on the way: what is typed is saved once.
    if (!typing || !edit || saving.current) return;
    saving.current = true;
    const problem = typing.text === edit.text(typing.row, typing.column) ? null : await edit.save(typing.row, typing.column, typing.text);
    if (problem) {
      saving.current = false;
      return setTyping({ ...typing, problem });
    }
    setTyping(null);
    scroller.current?.focus({ preventScroll: true });
    if (then !== "stay") move(typing.row + (then === "down" ? 1 : 0), typing.column + (then === "right" ? 1 : 0), false);
  }

  function onKeyDown(event: KeyboardEvent): void {
    if (typing || event.target !== scroller.current) return;
    const { row, column } = at;
    const far = event.ctrlKey || event.metaKey;
    const page = Math.max(1, Math.floor((scroller.current?.clientHeight ?? 300) / ROW_HEIGHT) - 3);
    const moves: Record<string, [number, number]> = {
      ArrowDown: [far ? rowCount - 1 : row + 1, column],
      ArrowUp: [far ? 0 : row - 1, column],
      ArrowRight: [row, far ? columns.length - 1 : column + 1],
      ArrowLeft: [row, far ? 0 : column - 1],
      PageDown: [row + page, column],
      PageUp: [Math.max(0, row - page), column],
      Home: far ? [0, 0] : [row, 0],
      End: far ? [rowCount - 1, columns.length - 1] : [row, columns.length - 1],
    };
    const to = moves[event.key];
    const cell = row >= 0;
    if (event.altKey && event.key === "ArrowDown" && row === -1) scroller.current?.querySelector<HTMLElement>(`[id="${id}--1-${column}"] button`)?.click();
    else if (to) move(to[0], to[1], event.shiftKey);
    else if (cell && edit && event.key === "F2") beginTyping(row, column);
    else if (cell && edit?.remove && event.key === "Delete" && range) edit.remove(range);
    else if (cell && onOpen && event.key === "Enter") onOpen(row);
    else if (cell && edit && event.key.length === 1 && !far && !event.altKey && event.key !== " ") beginTyping(row, column, event.key);
    else if (event.key === "Enter" && row === -1) onSort?.(columns[column]?.id ?? "");
    else if (far && event.key.toLowerCase() === "c" && range) onCopy?.(range);
    else if (far && event.key.toLowerCase() === "a" && rowCount > 0) {
      setAnchor({ row: 0, column: 0 });
      setAt({ row: rowCount - 1, column: columns.length - 1 });
      select({ row: 0, column: 0 }, { row: rowCount - 1, column: columns.length - 1 });
    } else return;
    event.preventDefault();
  }

  const toneOf = (index: number) => {
    const tone = rowTone?.(index);
    return tone ? ROW_TONES[tone] : "";
  };
  const inRange = (r: number, c: number) => range !== null && r >= range.top && r <= range.bottom && c >= range.left && c <= range.right;
  const isAt = (r: number, c: number) => focused && at.row === r && at.column === c;
  const cellBase = "flex items-center border-r border-column px-2.5 overflow-hidden whitespace-nowrap";

  return (
    <div
      ref={scroller}
      role="grid"
      aria-label={label}
      aria-rowcount={rowCount + 1}
      aria-colcount={columns.length + 1}
      tabIndex={0}
      aria-activedescendant={`${id}-${at.row}-${at.column}`}
      onKeyDown={onKeyDown}
      onFocus={() => setFocused(true)}
      onBlur={() => setFocused(false)}
      className="relative min-h-0 flex-1 overflow-auto border border-rule bg-sheet"
    >
      <div style={{ minWidth: width }}>
        <div role="row" aria-rowindex={1} className="sticky top-0 z-10 grid h-[49px] border-b border-ink bg-sheet" style={{ gridTemplateColumns: template }}>
          <div role="columnheader" className="border-r-[3px] border-double border-column">
            <span className="sr-only">Row</span>
          </div>
          {columns.map((c, i) => (
            <div
              key={c.id}
              id={`${id}--1-${i}`}
              role="columnheader"
              aria-colindex={i + 2}
              aria-sort={c.sorted === "up" ? "ascending" : c.sorted === "down" ? "descending" : "none"}
              onClick={() => onSort?.(c.id)}
              className={`group relative flex cursor-pointer flex-col justify-center border-r border-column px-2.5 ${c.right ? "items-end text-right" : ""} ${isAt(-1, i) ? "outline-2 -outline-offset-2 outline-bottle" : ""}`}
            >
              {menu && <HeadingMenu label={`Menu of ${c.heading}`}>{(close) => menu(c.id, close)}</HeadingMenu>}
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
        <div style={{ height: virtual.getTotalSize(), position: "relative" }}>
          {items.map(({ index: place, start }) => {
            const index = place + above;
            const cells = row(index);
            return (
              <div
                key={index}
                role="row"
                aria-rowindex={index + 2}
                className={`absolute inset-x-0 grid border-b border-hairline ${toneOf(index)}`}
                style={{
                  gridTemplateColumns: template,
                  height: ROW_HEIGHT,
                  transform: `translateY(${start}px)`,
                  zIndex: typing?.row === index ? 5 : undefined,
                }}
              >
                <div
                  role="rowheader"
                  onDoubleClick={() => onOpen?.(index)}
                  className={`flex items-center justify-end border-r-[3px] border-double border-column pr-2 text-tiny ${rowTone?.(index) ? "text-soft" : "text-faint"} ${onOpen ? "cursor-pointer hover:text-bottle" : ""}`}
                  title={onOpen ? "Double click, or Enter, opens the folio" : undefined}
                >
                  {rowNumber ? rowNumber(index) : index + 1}
                </div>
                {columns.map((c, i) => {
                  const cell = cells?.[i];
                  return (
                    <div
                      key={c.id}
                      id={`${id}-${index}-${i}`}
                      role="gridcell"
                      tabIndex={-1}
                      aria-colindex={i + 2}
                      aria-selected={inRange(index, i)}
                      onMouseDown={(e) => {
                        if (typing?.row === index && typing.column === i) return;
                        move(index, i, e.shiftKey);
                        scroller.current?.focus({ preventScroll: true });
                        e.preventDefault();
                      }}
                      onMouseEnter={(e) => {
                        if (e.buttons === 1) move(index, i, true);
                      }}
                      onDoubleClick={() => (edit?.text(index, i) != null ? beginTyping(index, i) : onOpen?.(index))}
                      className={`${cellBase} ${c.right ? "justify-end" : ""} ${cell?.tone ? TONES[cell.tone] : ""} ${inRange(index, i) ? "bg-bottle-tint" : ""} ${isAt(index, i) ? "outline-2 -outline-offset-2 outline-bottle" : ""}`}
                    >
                      {typing?.row === index && typing.column === i ? (
                        <CellInput
                          label={c.heading}
                          text={typing.text}
                          problem={typing.problem}
                          onChange={(text) => setTyping({ ...typing, text, problem: null })}
                          onEnd={endTyping}
                          onCancel={() => {
                            setTyping(null);
                            scroller.current?.focus({ preventScroll: true });
                          }}
                        />
                      ) : cells ? (
                        <span className="truncate" title={(cell?.text.length ?? 0) > 24 ? cell?.text : undefined}>
                          {cell?.spark ? <Sparkline points={cell.spark} text={cell.text} /> : cell?.text}
                        </span>
                      ) : (
                        <span className="h-2 w-2/3 rounded bg-hairline" />
                      )}
                    </div>
                  );
                })}
              </div>
            );
          })}
        </div>
        {rowCount === 0 && empty}
        {footing && (
          <div
            role="row"
            aria-rowindex={rowCount + 2}
            className="sticky bottom-0 z-10 grid h-9 border-t border-b-[3px] border-t-ink border-b-ink bg-sheet font-semibold [border-bottom-style:double]"
            style={{ gridTemplateColumns: template }}
          >
            <div role="rowheader" className="border-r-[3px] border-double border-column">
              <span className="sr-only">Footing</span>
            </div>
            {columns.map((c, i) => (
              <div
                key={c.id}
                role="gridcell"
                tabIndex={-1}
                aria-colindex={i + 2}
                className={`${cellBase} ${c.right ? "justify-end" : ""} ${footing[i]?.tone ? TONES[footing[i].tone] : ""}`}
              >
                {footing[i]?.text}
              </div>
            ))}
          </div>
        )}
      </div>
    </div>
  );
}

/** The button in a heading, and the popover it opens. */
function HeadingMenu({ label, children }: { label: string; children: (close: () => void) => ReactNode }) {
  return (
    <Popover className="absolute top-0.5 right-0.5" onClick={(e: React.MouseEvent) => e.stopPropagation()}>
      <PopoverButton
        tabIndex={-1}
        aria-label={label}
        className="small-button rounded bg-sheet text-faint opacity-0 group-hover:opacity-100 hover:text-bottle focus-visible:opacity-100 data-open:opacity-100"
      >
        ▾
      </PopoverButton>
      <PopoverPanel anchor={{ to: "bottom end", gap: 4, padding: 12 }} focus className="popover" onKeyDown={(e: KeyboardEvent) => e.stopPropagation()}>
        {({ close }) => <>{children(() => close())}</>}
      </PopoverPanel>
    </Popover>
  );
}

type CellInputProps = {
  label: string;
  text: string;
  problem: string | null;
  onChange: (text: string) => void;
  onEnd: (then: "down" | "right" | "stay") => void;
  onCancel: () => void;
};

/** A cell being typed over: Enter and Tab save, Escape leaves it as it was. */
function CellInput({ label, text, problem, onChange, onEnd, onCancel }: CellInputProps) {
  const field = useRef<HTMLInputElement>(null);
  /** Where the cell begins in its row, so that what is wrong is said below it and not cut off by it. */
  const [left, setLeft] = useState(0);
  useEffect(() => {
    field.current?.focus();
    setLeft(field.current?.parentElement?.offsetLeft ?? 0);
  }, []);
  return (
    <>
      <input
        ref={field}
        aria-label={label}
        aria-invalid={problem !== null}
        value={text}
        onChange={(e) => onChange(e.target.value)}
        onBlur={() => problem === null && onEnd("stay")}
        onKeyDown={(e) => {
          e.stopPropagation();
          if (e.key === "Escape") onCancel();
          if (e.key !== "Enter" && e.key !== "Tab") return;
          e.preventDefault();
          onEnd(e.key === "Enter" ? "down" : "right");
        }}
        className={`-mx-2 w-[calc(100%+1rem)] bg-sheet px-2 outline-2 ${problem ? "outline-vermilion" : "outline-bottle"}`}
      />
      {problem && (
        <span
          role="alert"
          style={{ left }}
          className="absolute top-full z-20 rounded border border-vermilion bg-vermilion-tint px-2 py-1 whitespace-normal text-ink shadow"
        >
          {problem}
        </span>
      )}
    </>
  );
}
