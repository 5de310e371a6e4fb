"use client";

import { type CSSProperties, type KeyboardEvent, useEffect, useMemo, useRef, useState } from "react";
import { POINTS_PER_MM } from "@/core/report/frame";
import type { Page, Part } from "@/core/report/page";
import type { ReportSpec } from "@/core/report/spec";
import { writeNumber } from "@/core/types/format";
import { useLocale } from "../workspace/locale";
import { PageView } from "./PageView";
import { columnByKey, dropBefore, isSamePart, nextPart, partsOf, type Shown } from "./pageParts";
import { type HeadingShown, useColumnDrag } from "./useColumnDrag";
import { WORDS } from "./words";

type Props = {
  page: Page;
  spec: ReportSpec;
  change: (next: ReportSpec, kind?: string) => void;
  nameOf: (part: Part) => string;
  selected: Part | null;
  select: (part: Part) => void;
  /** Groups by a column that was dropped over the page. */
  groupBy: (column: string) => void;
};

const KEYS = ["ArrowRight", "ArrowLeft", "ArrowUp", "ArrowDown", "Home", "End"];

type Place = (box: Pick<Shown, "x" | "y" | "width" | "height">) => CSSProperties;

/** A page whose parts can be chosen, and whose columns can be dragged: by their edges, and to other places. */
export function PageParts({ page, spec, change, nameOf, selected, select, groupBy }: Props) {
  const parts = useMemo(() => partsOf(page), [page]);
  const held = useRef<HTMLDivElement>(null);
  const { at, setAt, onKeyDown } = usePartKeys({ parts, held, spec, change });
  const headings = parts.flatMap((p): HeadingShown[] => (p.part.kind === "columnHeading" ? [{ ...p, column: p.part.column }] : []));
  const drag = useColumnDrag({ page, held, headings, spec, change, groupBy });
  const place: Place = ({ x, y, width, height }) => ({
    left: `${(x / page.width) * 100}%`,
    top: `${(y / page.height) * 100}%`,
    width: `${(width / page.width) * 100}%`,
    height: `${(height / page.height) * 100}%`,
  });
  return (
    <div className="grid gap-1">
      {drag.moving && <GroupByDrop over={drag.moving.over} column={nameOf({ kind: "columnHeading", column: drag.moving.column })} />}
      <div ref={held} className="relative" role="group" aria-label={WORDS.parts}>
        <PageView page={page} />
        {parts.map((shown, i) => {
          const { part } = shown;
          const chosen = selected !== null && isSamePart(selected, part);
          const column = part.kind === "columnHeading" ? part.column : null;
          return (
            <button
              key={shown.key}
              type="button"
              data-part={part.kind}
              aria-label={nameOf(part)}
              aria-pressed={chosen}
              tabIndex={i === at ? 0 : -1}
              onFocus={() => setAt(i)}
              onClick={() => !drag.moving && select(part)}
              onKeyDown={(e) => onKeyDown(e, shown)}
              {...(column ? drag.ofColumn(column) : {})}
              className={`absolute touch-none rounded-[1px] border border-transparent hover:border-bottle/60 hover:bg-bottle/5 focus-visible:border-bottle ${chosen ? "border-bottle bg-bottle/10" : ""} ${column ? "cursor-grab" : "cursor-pointer"}`}
              style={place(shown)}
            />
          );
        })}
        {headings.map((h) => (
          <span
            key={`edge ${h.key}`}
            data-edge={h.column}
            aria-hidden="true"
            className="absolute z-10 -translate-x-1/2 cursor-col-resize touch-none border-x-2 border-transparent hover:border-r-bottle"
            style={{ ...place({ x: h.x + h.width + 3, y: h.y, width: 0, height: h.height }), width: "0.6rem" }}
            {...drag.ofEdge(h)}
          />
        ))}
        <WidthShown heading={headings.find((h) => h.column === drag.edge)} place={place} />
        {drag.moving && !drag.moving.over && <DropLine headings={headings} to={drag.moving.to} place={place} />}
      </div>
    </div>
  );
}

/** The keyboard on a page: arrows go from part to part, with Alt and Shift they change a column, and go with it. */
function usePartKeys({ parts, held, spec, change }: Pick<Props, "spec" | "change"> & { parts: Shown[]; held: { current: HTMLElement | null } }) {
  const [at, setAt] = useState(0);
  /** The part that was changed by a key: where it moves, the keyboard goes with it. */
  const changed = useRef<string | null>(null);
  useEffect(() => {
    const { activeElement } = document;
    if (changed.current === null || (activeElement !== document.body && !held.current?.contains(activeElement))) return;
    const at = parts.findIndex((p) => p.key === changed.current);
    if (at < 0) return;
    setAt(at);
    held.current?.querySelectorAll<HTMLElement>("[data-part]")[at]?.focus();
  }, [parts, held]);

  function onKeyDown(event: KeyboardEvent<HTMLButtonElement>, shown: Shown): void {
    const { part } = shown;
    const column = part.kind === "columnHeading" || part.kind === "value" ? part.column : null;
    const widthMm = (parts.find((p) => p.part.kind === "columnHeading" && p.part.column === column)?.width ?? 0) / POINTS_PER_MM;
    const made = column === null ? null : columnByKey(spec, column, event, widthMm);
    if (!made && !KEYS.includes(event.key)) return;
    event.preventDefault();
    changed.current = made ? shown.key : null;
    if (made) {
      if (made !== spec) change(made, event.altKey ? undefined : `width ${column}`);
      return;
    }
    const next = nextPart(parts, parts.indexOf(shown), event.key);
    setAt(next);
    held.current?.querySelectorAll<HTMLElement>("[data-part]")[next]?.focus();
  }
  return { at: Math.min(at, parts.length - 1), setAt, onKeyDown };
}

/** Over the page: here a column is dropped to group by it. */
const GroupByDrop = ({ over, column }: { over: boolean; column: string }) => (
  <p
    className={`-mt-1 rounded border border-dashed p-1 text-center text-small ${over ? "border-bottle bg-bottle-tint text-bottle" : "border-faint text-soft"}`}
  >
    {WORDS.groupByDropped(column)}
  </p>
);

/** How wide a column is while its edge is dragged. */
function WidthShown({ heading, place }: { heading: HeadingShown | undefined; place: Place }) {
  const { locale } = useLocale();
  if (!heading) return null;
  const mm = writeNumber(new Intl.NumberFormat(locale, { maximumFractionDigits: 1 }), heading.width / POINTS_PER_MM);
  return (
    <span
      className="pointer-events-none absolute z-20 rounded bg-ink px-1.5 text-tiny text-paper"
      style={place({ ...heading, y: Math.max(0, heading.y - 14), height: 12 })}
    >
      {WORDS.width(mm)}
    </span>
  );
}

/** Where a dragged column comes to stand. */
function DropLine({ headings, to, place }: { headings: HeadingShown[]; to: number; place: Place }) {
  const before = dropBefore(headings, to);
  const last = headings.at(-1);
  if (!last) return null;
  const x = headings.find((h) => h.column === before)?.x ?? last.x + last.width;
  return <span className="pointer-events-none absolute z-20 bg-bottle" style={{ ...place({ x: x - 4, y: last.y, width: 0, height: 60 }), width: "2px" }} />;
}
