"use client";

import { type KeyboardEvent, type ReactNode, type RefObject, useId, useMemo, useRef, useState } from "react";
import { useDensity, useTextScale } from "./appearance";
import { type GridPlace, isWithin, laidOutPlace, type Range } from "./gridWalk";
import { SheetFooting } from "./SheetFooting";
import { SheetHeadings } from "./SheetHeadings";
import { SheetRow } from "./SheetRow";
import { type SheetDeed, sheetDeed } from "./sheetKeys";
import { frozenAt, HEADINGS, ROW_HEIGHTS, type SheetCell, type SheetColumn, type SheetEdit, type SheetLayout } from "./sheetParts";
import { useColumnInSight, useRowsInSight } from "./useInSight";
import { useSelection } from "./useSelection";
import { useTyping } from "./useTyping";
import { WORDS } from "./words";

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
  /** What a cell offers, with the cells selected around it; opened by its button, a right click, or the menu key. */
  cellMenu?: ((place: GridPlace, range: Range, close: () => void) => ReactNode) | undefined;
  /** Single keys that mean something of the sheet's own, with what they do where they are pressed. */
  keys?: Record<string, (place: GridPlace, range: Range | null) => void> | undefined;
  /** Single keys that open the menu of the heading, with what is done before it opens. */
  menuKeys?: Record<string, () => void> | undefined;
  layout?: SheetLayout | undefined;
  /** Begins a search in its rows, by Ctrl F. */
  onFind?: (() => void) | undefined;
  /** A handle for what stands beside the sheet: the row reached, and going to one. */
  handle?: RefObject<SheetHandle | null> | undefined;
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

/** What stands beside a sheet does with it. */
export type SheetHandle = { row: () => number; go: (row: number) => void; focus: () => void };

/** Pixels of the numbers of rows, at the usual size of type. */
const GUTTER = 44;
/** By how much a key makes a column wider or narrower. */
const WIDENED = 16;

/**
 * A grid of rows after the WAI-ARIA grid pattern: one tab stop, arrows move, Shift extends, Ctrl+C copies, Enter on
 * a heading sorts. Only the rows in sight are in the page.
 */
export function Sheet({
  label,
  columns: given,
  rowCount,
  row,
  footing,
  onWindow,
  onSort,
  onSelect,
  onCopy,
  menu,
  cellMenu,
  keys = {},
  menuKeys = {},
  layout,
  onFind,
  handle,
  onOpen,
  edit,
  rowNumber,
  rowTone,
  empty,
}: Props) {
  const scroller = useRef<HTMLDivElement>(null);
  const id = useId();
  const [focused, setFocused] = useState(false);
  const scale = useTextScale();
  const [pulled, setPulled] = useState<{ column: string; width: number } | null>(null);
  const columns = useMemo(
    () =>
      given.map((c) => {
        const width = Math.round(c.width * scale);
        return c.id === pulled?.column ? { ...c, width: pulled.width, fixed: true } : { ...c, width };
      }),
    [given, scale, pulled],
  );
  const frozen = layout?.frozen ?? 0;
  const gutter = Math.round(GUTTER * scale);
  const rowHeight = Math.round(ROW_HEIGHTS[useDensity()] * scale);
  const { virtual, items, above } = useRowsInSight(scroller, rowCount, rowHeight, scale, onWindow);
  const stretches = (c: SheetColumn, at: number) => !c.right && !c.fixed && at >= frozen;
  const template = `${gutter}px ${columns.map((c, i) => `minmax(${c.width}px, ${stretches(c, i) ? "1fr" : `${c.width}px`})`).join(" ")}`;
  const left = (index: number) => frozenAt(columns, index, frozen, gutter);
  const width = gutter + columns.reduce((sum, c) => sum + c.width, 0);
  const size = () => ({
    rows: rowCount,
    columns: columns.length,
    firstColumn: 0 as const,
    page: Math.max(1, Math.floor((scroller.current?.clientHeight ?? 300) / rowHeight) - 3),
  });
  const focus = () => scroller.current?.focus({ preventScroll: true });
  const { at, range, move, selectAll } = useSelection(size, (row) => virtual.scrollToIndex(laidOutPlace(row, rowCount)), onSelect);
  const { typing, begin, input } = useTyping(edit, columns, move, focus);
  const [opening, setOpening] = useState(false);
  useColumnInSight(scroller, `${id}-${at.row}-${at.column}`, at.column < frozen ? 0 : (left(frozen - 1) ?? gutter) + (columns[frozen - 1]?.width ?? 0));

  if (handle) handle.current = { row: () => at.row, go: (row) => move({ row, column: at.column }, false), focus };
  const here = columns[at.column]?.id ?? "";
  const plain: Record<Exclude<SheetDeed["does"], "move" | "type" | "widen" | "place" | "own">, () => void> = {
    cellMenu: () => setOpening(true),
    menu: () => scroller.current?.querySelector<HTMLElement>(`[id="${id}--1-${at.column}"] button`)?.click(),
    sort: () => onSort?.(here),
    open: () => onOpen?.(at.row),
    remove: () => range && edit?.remove?.(range),
    fill: () => range && edit?.fill?.(range),
    find: () => onFind?.(),
    copy: () => range && onCopy?.(range),
    all: selectAll,
  };
  function onKeyDown(event: KeyboardEvent): void {
    if (typing || event.target !== scroller.current) return;
    const can = {
      type: Boolean(edit),
      remove: Boolean(edit?.remove),
      fill: Boolean(edit?.fill),
      open: Boolean(onOpen),
      selected: range !== null,
      layOut: Boolean(layout),
      cellMenu: Boolean(cellMenu),
      find: Boolean(onFind),
      keys: Object.keys({ ...keys, ...menuKeys }).join(" "),
    };
    const deed = sheetDeed({ key: event.key, far: event.ctrlKey || event.metaKey, alt: event.altKey, shift: event.shiftKey }, at, size(), can);
    if (!deed) return;
    if (deed.does === "move") move(deed.to, event.shiftKey);
    else if (deed.does === "type") begin(at, deed.first);
    else if (deed.does === "widen") layout?.onWidth(here, (columns[at.column]?.width ?? 0) / scale + deed.by * WIDENED);
    else if (deed.does === "place") {
      layout?.onShift(here, deed.by);
      move({ row: at.row, column: at.column + deed.by }, false);
    } else if (deed.does === "own") {
      keys[deed.key]?.(at, range);
      const menuKey = menuKeys[deed.key];
      menuKey?.();
      if (menuKey) plain.menu();
    } else plain[deed.does]();
    event.preventDefault();
  }

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
      onPaste={(event) => {
        if (typing || !range || !edit?.paste) return;
        event.preventDefault();
        edit.paste(range, event.clipboardData.getData("text/plain"));
      }}
      onFocus={() => setFocused(true)}
      onBlur={() => setFocused(false)}
      className="relative min-h-0 flex-1 overflow-auto border border-rule bg-sheet"
    >
      <div style={{ minWidth: width }}>
        <SheetHeadings
          id={id}
          height={Math.round(HEADINGS * scale)}
          columns={columns}
          template={template}
          focused={focused && at.row === -1 ? at.column : null}
          onSort={onSort}
          menu={menu}
          onClosed={focus}
          left={left}
          layout={
            layout && {
              ...layout,
              onPull: (column, wide) => setPulled({ column, width: wide }),
              onWidth: (column, wide) => {
                setPulled(null);
                layout.onWidth(column, wide === null ? null : wide / scale);
              },
            }
          }
        />
        <div style={{ height: virtual.getTotalSize(), position: "relative" }}>
          {items.map(({ index: place, start }) => {
            const index = place + above;
            return (
              <SheetRow
                key={index}
                id={id}
                index={index}
                top={start}
                height={rowHeight}
                columns={columns}
                template={template}
                cells={row(index)}
                number={rowNumber ? rowNumber(index) : index + 1}
                tone={rowTone?.(index)}
                onOpen={onOpen && (() => onOpen(index))}
                left={left}
                menu={
                  cellMenu && at.row === index && range
                    ? {
                        column: at.column,
                        label: WORDS.cellMenu,
                        opening,
                        onOpened: () => setOpening(false),
                        onClosed: focus,
                        content: (close) => cellMenu(at, range, close),
                      }
                    : null
                }
                onMenu={(column) => {
                  if (!cellMenu) return false;
                  if (!isWithin(range, index, column)) move({ row: index, column }, false);
                  setOpening(true);
                  return true;
                }}
                focused={focused && at.row === index ? at.column : null}
                isSelected={(column) => isWithin(range, index, column)}
                typed={typing?.row === index ? { column: typing.column, input } : null}
                onPress={(column, extend) => {
                  move({ row: index, column }, extend);
                  focus();
                }}
                onEnter={(column) => move({ row: index, column }, true)}
                onDoubleClick={(column) => (edit?.text(index, column) != null ? begin({ row: index, column }) : onOpen?.(index))}
              />
            );
          })}
        </div>
        {rowCount === 0 && empty}
        {footing && <SheetFooting columns={columns} template={template} rowIndex={rowCount + 2} footing={footing} left={left} />}
      </div>
    </div>
  );
}
