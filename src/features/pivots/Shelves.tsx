"use client";

import { DndContext, type DragEndEvent, DragOverlay, PointerSensor, pointerWithin, useDraggable, useDroppable, useSensor, useSensors } from "@dnd-kit/core";
import { Popover, PopoverButton, PopoverPanel } from "@headlessui/react";
import { type KeyboardEvent, type ReactNode, useState } from "react";
import { addCount, addField, addFormula, movePart, nudgePart, removePart, type Shelf } from "@/core/pivot/edit";
import type { PivotSpec } from "@/core/pivot/spec";
import type { Column, Table } from "@/core/schema/schema";
import { GROUP_PART_WORDS, GROUP_PARTS, type GroupPart } from "@/core/types/date";
import { isDated } from "@/core/types/valueType";
import { Link } from "../Link";
import { COMMON } from "../words";
import { WORDS } from "./words";

type Change = (next: PivotSpec) => void;
type Props = { spec: PivotSpec; table: Table; change: Change };

/** What is dragged: a field from the list (as a part of a date, perhaps), or a chip from a shelf. */
type Dragged = { from: "fields"; column: Column; part?: GroupPart } | { from: Shelf; id: string };
type Place = { shelf: Shelf; index: number };

export const SHELVES: Record<Shelf, string> = { down: WORDS.down, across: WORDS.across, figures: COMMON.figures };

/** Lets fields be dragged onto shelves and chips between them. Without a pointer, menus and Alt with an arrow do the same. */
export function ShelfDrag({ spec, change, children }: Omit<Props, "table"> & { children: ReactNode }) {
  const sensors = useSensors(useSensor(PointerSensor, { activationConstraint: { distance: 5 } }));
  const [dragged, setDragged] = useState("");
  function drop({ active, over }: DragEndEvent): void {
    setDragged("");
    const what = active.data.current as Dragged | undefined;
    const place = over?.data.current as Place | undefined;
    if (!what || !place) return;
    if (what.from === "fields") return change(addField(spec, what.column, place.shelf, place.index, what.part));
    const old = spec[what.from].findIndex((p) => p.id === what.id);
    const shift = what.from === place.shelf && old < place.index ? 1 : 0;
    change(movePart(spec, what.id, place.shelf, place.index - shift));
  }
  return (
    <DndContext
      sensors={sensors}
      collisionDetection={pointerWithin}
      onDragStart={({ active }) => setDragged(String(active.data.current?.words ?? ""))}
      onDragCancel={() => setDragged("")}
      onDragEnd={drop}
      accessibility={{ screenReaderInstructions: { draggable: WORDS.pressEnterForItsMenu } }}
    >
      {children}
      <DragOverlay dropAnimation={null}>
        {dragged && <span className="rounded border border-bottle bg-bottle-tint px-2 py-1 font-semibold text-bottle shadow">{dragged}</span>}
      </DragOverlay>
    </DndContext>
  );
}

type NavProps = Omit<Props, "table"> & { table: Table | null; query: { id: string; name: string }; names?: Record<Shelf, string> };

/** The left of a page on which a query's fields are put on shelves. */
export const FieldsNav = ({ table, query, ...more }: NavProps) => (
  <nav aria-label={COMMON.fields} className="w-57 shrink-0 overflow-auto border-r border-rule max-[1100px]:w-44 max-md:hidden">
    {table && <FieldList table={table} queryName={query.name} {...more} />}
    <p className="px-4 pb-4">
      <Link className="link" href={`/queries/${query.id}`}>
        {COMMON.openQuery}
      </Link>
    </p>
  </nav>
);

/** The fields of the query, and the parts dates offer. */
function FieldList({ spec, table, change, queryName, names = SHELVES }: Props & { queryName: string; names?: Record<Shelf, string> }) {
  const used = new Set([...spec.down, ...spec.across, ...spec.figures].flatMap((p) => (p.value?.kind === "field" ? [p.value.column] : [])));
  const dated = [...spec.down, ...spec.across].filter((a) => a.value.kind === "field" && a.value.part);
  const parts = new Set(dated.map((a) => (a.value.kind === "field" ? a.value.part : undefined)));
  const date = table.columns.find((c) => isDated(c.type) && used.has(c.name)) ?? table.columns.find((c) => isDated(c.type));
  return (
    <div className="px-4 py-3">
      <h2 className="caption pb-2">{WORDS.fieldsOf(queryName)}</h2>
      <ul>
        {table.columns.map((column) => (
          <li key={column.name}>
            <Field column={column} words={column.label} used={used.has(column.name)} spec={spec} table={table} change={change} names={names} />
          </li>
        ))}
        <li>
          <button type="button" className="menu-item px-1 py-[3px] text-soft" onClick={() => change(addCount(spec))}>
            {WORDS.countOfRows}
          </button>
        </li>
        <li>
          <button type="button" className="menu-item px-1 py-[3px] text-soft" onClick={() => change(addFormula(spec))}>
            {WORDS.formulaOverFigures}
          </button>
        </li>
      </ul>
      {date && (
        <>
          <h2 className="caption pt-4 pb-2">{WORDS.dateParts}</h2>
          <ul>
            {GROUP_PARTS.map((part) => (
              <li key={part}>
                <Field
                  column={date}
                  part={part}
                  words={GROUP_PART_WORDS[part]}
                  used={parts.has(part)}
                  spec={spec}
                  table={table}
                  change={change}
                  names={names}
                />
              </li>
            ))}
          </ul>
        </>
      )}
    </div>
  );
}

function Field({
  column,
  part,
  words,
  used,
  spec,
  change,
  names,
}: Props & { column: Column; part?: GroupPart; words: string; used: boolean; names: Record<Shelf, string> }) {
  const data: Dragged & { words: string } = { from: "fields", column, words, ...(part ? { part } : {}) };
  const { setNodeRef, listeners } = useDraggable({ id: `field ${column.name} ${part ?? ""}`, data });
  const shelves = (["down", "across", "figures"] as const).filter((shelf) => shelf !== "figures" || !part);
  // A menu would open as soon as the pointer goes down, which is where dragging begins.
  return (
    <Popover>
      <PopoverButton
        ref={setNodeRef}
        {...listeners}
        className={`flex w-full touch-none items-center gap-2 rounded px-1 py-[3px] text-left hover:bg-bottle-tint ${used ? "font-semibold text-bottle" : ""}`}
      >
        <span aria-hidden="true" className="text-tiny text-faint">
          ⠿
        </span>
        <span className="truncate">{words}</span>
      </PopoverButton>
      <PopoverPanel anchor={{ to: "bottom start", gap: 2, padding: 12 }} focus className="popover w-48">
        {({ close }) => (
          <>
            {shelves.map((shelf) => (
              <button
                key={shelf}
                type="button"
                className="menu-item"
                onClick={() => {
                  change(addField(spec, column, shelf, undefined, part));
                  close();
                }}
              >
                {names === SHELVES ? (shelf === "figures" ? WORDS.addAsFigure : WORDS.addToShelf(shelf)) : WORDS.addToNamed(names[shelf].toLowerCase())}
              </button>
            ))}
          </>
        )}
      </PopoverPanel>
    </Popover>
  );
}

type ShelfProps = {
  shelf: Shelf;
  /** What it is called, where that is not its own name. */
  name?: string;
  spec: PivotSpec;
  change: Change;
  chips: { id: string; words: string; more: string; wrong?: string | undefined }[];
  editor: (id: string, close: () => void) => ReactNode;
};

/** One of the three places: its chips in order, each with a popover for what it can be. */
export function ShelfBox({ shelf, name = SHELVES[shelf], spec, change, chips, editor }: ShelfProps) {
  const { setNodeRef, isOver } = useDroppable({ id: `shelf ${shelf}`, data: { shelf, index: chips.length } satisfies Place });
  return (
    <div
      ref={setNodeRef}
      role="group"
      aria-label={name}
      className={`flex min-h-9 flex-1 flex-wrap items-center gap-1.5 rounded border border-dashed px-2 py-1 ${isOver ? "border-bottle bg-bottle-tint" : "border-faint/50"}`}
    >
      <span className="text-small text-soft">{name}</span>
      {chips.map((chip, index) => (
        <Chip
          key={chip.id}
          {...chip}
          shelf={shelf}
          index={index}
          onNudge={(by) => change(nudgePart(spec, chip.id, by))}
          onRemove={() => change(removePart(spec, chip.id))}
        >
          {(close) => editor(chip.id, close)}
        </Chip>
      ))}
      {chips.length === 0 && <span className="text-small text-faint">{WORDS.dragAFieldHere}</span>}
    </div>
  );
}

type ChipProps = Place & {
  id: string;
  words: string;
  more: string;
  wrong?: string | undefined;
  onNudge: (by: -1 | 1) => void;
  onRemove: () => void;
  children: (close: () => void) => ReactNode;
};

function Chip({ id, words, more, wrong, shelf, index, onNudge, onRemove, children }: ChipProps) {
  const drag = useDraggable({ id: `chip ${id}`, data: { from: shelf, id, words } });
  const drop = useDroppable({ id: `before ${id}`, data: { shelf, index } satisfies Place });
  const onKeyDown = (event: KeyboardEvent) => {
    const by = { ArrowLeft: -1, ArrowRight: 1 }[event.key] as -1 | 1 | undefined;
    if (event.altKey && by) onNudge(by);
    else if (event.key === "Delete") onRemove();
    else return;
    event.preventDefault();
  };
  return (
    <Popover as="span" ref={drop.setNodeRef} className={`border-l-2 ${drop.isOver ? "border-bottle" : "border-transparent"}`}>
      <PopoverButton
        ref={drag.setNodeRef}
        {...drag.listeners}
        onKeyDown={onKeyDown}
        data-chip={id}
        title={wrong ?? WORDS.enterEditsAltAndArrow}
        className={`inline-flex touch-none items-baseline gap-1.5 rounded border px-2 py-0.5 font-semibold ${wrong ? "border-vermilion bg-vermilion-tint text-vermilion" : "border-column bg-bottle-tint text-bottle"} ${drag.isDragging ? "opacity-40" : ""}`}
      >
        {words} <span className="text-tiny font-normal text-soft">{more}</span>
      </PopoverButton>
      <PopoverPanel anchor={{ to: "bottom start", gap: 6, padding: 12 }} focus className="popover">
        {({ close }) => <>{children(() => close())}</>}
      </PopoverPanel>
    </Popover>
  );
}
