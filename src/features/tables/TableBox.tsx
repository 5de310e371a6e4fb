"use client";

import { Handle, type Node, type NodeProps, Position, useUpdateNodeInternals } from "@xyflow/react";
import { storedColumns, type Table } from "@/core/schema/schema";
import { TYPE_WORDS } from "@/core/types/valueType";
import { Link } from "../Link";
import { columnHandle, HEAD, heightOf, PORT, type Port, portAt, WIDTH } from "./mapLayout";
import { WORDS } from "./words";

export type TableNode = Node<{ table: Table; rows: string; ports: Port[]; faint: boolean; link: () => void; open: boolean; toggle: () => void }, "table">;

/**
 * A table with the links that lead away from it, each the beginning of its line; a new one is drawn from its corner. Its columns are shown
 * when it is opened: a link is drawn from one to another, too.
 */
export function TableBox({ id, data: { table, rows, ports, faint, link, open, toggle } }: NodeProps<TableNode>) {
  const measure = useUpdateNodeInternals();
  const switched = () => {
    toggle();
    requestAnimationFrame(() => measure(id));
  };
  return (
    <div className={`rounded border bg-sheet ${faint ? "border-hairline opacity-40" : "border-rule"}`} style={{ width: WIDTH, height: heightOf(ports.length) }}>
      <Handle type="target" position={Position.Left} className="opacity-0" style={{ top: HEAD / 2 }} />
      <div className="flex items-start justify-between gap-1 px-3 pt-1.5" style={{ height: HEAD }}>
        <span className="min-w-0">
          <Link className="block truncate font-semibold text-bottle hover:underline" href={`/tables/${encodeURIComponent(table.name)}`}>
            {table.label}
          </Link>
          <span className="block text-tiny text-soft">{rows}</span>
        </span>
        <span className="flex">
          <button
            type="button"
            className="nodrag small-button"
            aria-expanded={open}
            aria-label={WORDS.columnsOnMap(table.label)}
            title={WORDS.columnsOnMapTip}
            onClick={switched}
          >
            {open ? "▴" : "▾"}
          </button>
          <button type="button" className="nodrag small-button" aria-label={WORDS.linkFrom(table.label)} title={WORDS.linkFromTip} onClick={link}>
            {WORDS.plus}
          </button>
        </span>
      </div>
      <Handle type="source" id="new" position={Position.Right} className="!h-3 !w-3 !border-bottle !bg-sheet" style={{ top: HEAD / 2 }} />
      {ports.length > 0 && (
        <ul className="border-t border-hairline pt-0.5">
          {ports.map((port) => (
            <li key={port.link} className="truncate px-3 text-right text-[11px] leading-5" style={{ height: PORT }}>
              <Link className={`hover:underline ${port.made ? "text-bottle" : "text-soft"}`} href={`/links/${encodeURIComponent(port.link)}`}>
                {port.far === table.name ? `↻ ${port.words}` : port.words}
              </Link>
            </li>
          ))}
        </ul>
      )}
      {ports.map((port, i) => (
        <Handle key={port.link} type="source" id={port.link} isConnectable={false} position={Position.Right} className="opacity-0" style={{ top: portAt(i) }} />
      ))}
      {open && <Columns table={table} />}
    </div>
  );
}

/** The columns of a table below its box, over what lies there: each the beginning and the end of a link that is drawn. */
const Columns = ({ table }: { table: Table }) => (
  <ul className="nowheel absolute top-full left-0 z-20 rounded-b border border-t-0 border-bottle bg-sheet shadow-lg" style={{ width: WIDTH }}>
    {storedColumns(table).map((c) => (
      <li key={c.name} className="relative flex justify-between gap-2 px-3 text-[11px] leading-5" style={{ height: PORT }}>
        <Handle type="target" id={columnHandle(c.name)} position={Position.Left} className="!border-bottle !bg-sheet" />
        <span className="truncate">{c.label}</span>
        <span className="text-faint">{TYPE_WORDS[c.type.kind]}</span>
        <Handle type="source" id={columnHandle(c.name)} position={Position.Right} className="!border-bottle !bg-sheet" />
      </li>
    ))}
  </ul>
);
