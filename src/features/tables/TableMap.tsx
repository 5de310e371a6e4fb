"use client";

import { applyNodeChanges, Background, type Connection, Controls, type Edge, type NodeChange, ReactFlow, ReactFlowProvider, useReactFlow } from "@xyflow/react";
import "@xyflow/react/dist/style.css";
import { useRouter } from "next/navigation";
import { type CSSProperties, useEffect, useMemo, useState } from "react";
import { linkOfColumns } from "@/core/schema/editLink";
import type { LinkSpec } from "@/core/schema/linkSpec";
import { findTable, type Schema, type Table } from "@/core/schema/schema";
import { SidePanel } from "../SidePanel";
import { tableRows } from "../tableRows";
import { useLocale } from "../workspace/locale";
import { LinkMaker } from "./LinkMaker";
import { columnOfHandle, type Point, placesOf, portsOf } from "./mapLayout";
import { TableBox, type TableNode } from "./TableBox";
import { useKeptPlaces } from "./useKeptPlaces";
import { WORDS } from "./words";

const NODES = { table: TableBox };

type Props = { schema: Schema; wanted: string; places: Record<string, Point>; onLinked: () => void };

/** The tables and their links as a map: boxes are moved, links drawn from one table to another; a name opens its page. */
export default function TableMap(props: Props) {
  return (
    <ReactFlowProvider>
      <Drawn {...props} />
    </ReactFlowProvider>
  );
}

/** The library's own parts in the colours of the page. */
const COLOURS = {
  "--xy-controls-button-background-color": "var(--color-sheet)",
  "--xy-controls-button-background-color-hover": "var(--color-bottle-tint)",
  "--xy-controls-button-color": "var(--color-ink)",
  "--xy-controls-button-border-color": "var(--color-rule)",
  "--xy-attribution-background-color": "transparent",
} as CSSProperties;

/** How far a key moves a box. */
const STEPS: Record<string, Point> = { ArrowLeft: { x: -12, y: 0 }, ArrowRight: { x: 12, y: 0 }, ArrowUp: { x: 0, y: -12 }, ArrowDown: { x: 0, y: 12 } };

function Drawn({ schema, wanted, places: first, onLinked }: Props) {
  const locale = useLocale();
  const router = useRouter();
  const { fitView } = useReactFlow();
  const { kept, move } = useKeptPlaces(first);
  const [linking, setLinking] = useState<{ from: Table; first: LinkSpec | null } | null>(null);
  /** Tables whose columns are shown, over the boxes they lie on. */
  const [open, setOpen] = useState<ReadonlySet<string>>(new Set());
  const words = wanted.trim().toLowerCase();
  const made = useMemo(() => {
    const [places, ports] = [placesOf(schema, kept), portsOf(schema)];
    const isFaint = (label: string) => words !== "" && !label.toLowerCase().includes(words);
    return schema.tables.map((table): TableNode => {
      const rows = tableRows(table, locale, "row");
      return {
        id: table.name,
        type: "table",
        position: places.get(table.name) ?? { x: 0, y: 0 },
        zIndex: open.has(table.name) ? 10 : 0,
        data: {
          table,
          rows,
          ports: ports.get(table.name) ?? [],
          faint: isFaint(table.label),
          link: () => setLinking({ from: table, first: null }),
          open: open.has(table.name),
          toggle: () => setOpen((now) => (now.has(table.name) ? new Set([...now].filter((name) => name !== table.name)) : new Set([...now, table.name]))),
        },
        ariaLabel: `${table.label}, ${rows}`,
      };
    });
  }, [schema, kept, words, locale, open]);
  const [nodes, setNodes] = useState(made);
  useEffect(() => setNodes(made), [made]);
  const edges = useMemo(() => {
    const faint = new Set(made.filter((n) => n.data.faint).map((n) => n.id));
    return schema.links
      .filter((l) => l.a.table !== l.b.table)
      .map(
        ({ id, a, b, madeBy }): Edge => ({
          id,
          source: a.table,
          sourceHandle: id,
          target: b.table,
          style: { stroke: madeBy === "person" ? "var(--color-bottle)" : "var(--color-faint)", opacity: faint.has(a.table) && faint.has(b.table) ? 0.3 : 1 },
        }),
      );
  }, [schema, made]);
  useEffect(() => {
    const found = words === "" ? [] : made.filter((n) => !n.data.faint);
    void fitView({ padding: 0.08, ...(found.length > 0 ? { nodes: found, maxZoom: 1.2 } : {}) });
  }, [words, schema, fitView]);

  function connect({ source, target, sourceHandle, targetHandle }: Connection): void {
    const [from, to] = [findTable(schema, source), findTable(schema, target)];
    if (from && to) setLinking({ from, first: linkOfColumns(from, to, { near: columnOfHandle(sourceHandle), far: columnOfHandle(targetHandle) }) });
  }

  return (
    <>
      <ReactFlow
        nodes={nodes}
        edges={edges}
        nodeTypes={NODES}
        fitView
        onNodesChange={(changes: NodeChange<TableNode>[]) => setNodes((now) => applyNodeChanges(changes, now))}
        onNodeDragStop={(_, node) => move({ ...kept, [node.id]: node.position })}
        onConnect={connect}
        disableKeyboardA11y
        style={COLOURS}
        onKeyDown={(event) => {
          const box =
            event.target instanceof HTMLElement && event.target.classList.contains("react-flow__node")
              ? nodes.find((n) => n.id === (event.target as HTMLElement).dataset.id)
              : null;
          const by = STEPS[event.key];
          if (!box || !(by || event.key === "Enter")) return;
          event.preventDefault();
          if (by) move({ ...kept, [box.id]: { x: box.position.x + by.x, y: box.position.y + by.y } });
          else router.push(`/tables/${encodeURIComponent(box.id)}`);
        }}
      >
        <Background color="var(--color-rule)" gap={24} />
        <Controls showInteractive={false} position="top-right" />
      </ReactFlow>
      {Object.keys(kept).length > 0 && (
        <button type="button" className="button absolute right-4 bottom-8" onClick={() => move({})}>
          {WORDS.arrangeAgain}
        </button>
      )}
      {linking && (
        <SidePanel title={WORDS.newLink} close={() => setLinking(null)}>
          <LinkMaker
            table={linking.from}
            schema={schema}
            first={linking.first}
            onDone={(saved) => {
              setLinking(null);
              if (saved) onLinked();
            }}
          />
        </SidePanel>
      )}
    </>
  );
}
