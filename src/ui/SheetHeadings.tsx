import { Popover, PopoverButton, PopoverPanel } from "@headlessui/react";
import type { KeyboardEvent, ReactNode } from "react";
import type { SheetColumn } from "./sheetParts";
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
};

/** The row of headings, which stays in sight. */
export function SheetHeadings({ id, height, columns, template, focused, onSort, menu }: Props) {
  return (
    <div role="row" aria-rowindex={1} className="sticky top-0 z-10 grid border-b border-ink bg-sheet" style={{ gridTemplateColumns: template, height }}>
      <div role="columnheader" className="border-r-[3px] border-double border-column">
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
          className={`group relative flex cursor-pointer flex-col justify-center border-r border-column px-2.5 ${c.right ? "items-end text-right" : ""} ${focused === i ? "outline-2 -outline-offset-2 outline-bottle" : ""}`}
        >
          {menu && <HeadingMenu label={WORDS.menuOf(c.heading)}>{(close) => menu(c.id, close)}</HeadingMenu>}
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
