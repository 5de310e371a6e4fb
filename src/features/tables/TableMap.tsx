"use client";

import dagre from "@dagrejs/dagre";
import { Background, Controls, type Edge, Handle, type Node, type NodeProps, Position, ReactFlow, ReactFlowProvider, useReactFlow } from "@xyflow/react";
import "@xyflow/react/dist/style.css";
import { useRouter } from "next/navigation";
import { useEffect, useMemo } from "react";
import type { Schema, Table } from "@/core/schema/schema";
import { counted } from "@/core/types/format";
import { useLocale } from "../workspace/locale";

type TableNode = Node<{ table: Table; rows: string; faint: boolean }, "table">;

const WIDTH = 168;
const HEIGHT = 52;

function TableBox({ data }: NodeProps<TableNode>) {
  return (
    <div
      className={`rounded border bg-sheet px-3 py-1.5 ${data.faint ? "border-hairline opacity-40" : "border-rule"}`}
      style={{ width: WIDTH, height: HEIGHT }}
    >
      <Handle type="target" position={Position.Left} className="opacity-0" />
      <p className="truncate font-semibold text-bottle">{data.table.label}</p>
      <p className="text-tiny text-soft">{data.rows}</p>
      <Handle type="source" position={Position.Right} className="opacity-0" />
    </div>
  );
}

const NODES = { table: TableBox };

/** Places the tables so that links run from left to right, from those that lead to many to those that lead to one. */
function arranged(schema: Schema): Map<string, { x: number; y: number }> {
  const graph = new dagre.graphlib.Graph();
  graph.setGraph({ rankdir: "LR", nodesep: 18, ranksep: 90 });
  graph.setDefaultEdgeLabel(() => ({}));
  const linked = new Set(schema.links.flatMap((l) => [l.a.table, l.b.table]));
  for (const t of schema.tables) if (linked.has(t.name)) graph.setNode(t.name, { width: WIDTH, height: HEIGHT });
  for (const l of schema.links) if (l.a.table !== l.b.table) graph.setEdge(l.a.table, l.b.table);
  dagre.layout(graph);
  const places = new Map(graph.nodes().map((name): [string, { x: number; y: number }] => [name, graph.node(name)]));
  // Tables without a link stand in a row of their own below.
  const bottom = Math.max(0, ...[...places.values()].map((p) => p.y)) + HEIGHT * 2;
  schema.tables.filter((t) => !linked.has(t.name)).forEach((t, i) => places.set(t.name, { x: i * (WIDTH + 24) + WIDTH / 2, y: bottom }));
  return places;
}

const toItself = (schema: Schema, table: Table): string[] =>
  schema.links.filter((l) => l.a.table === table.name && l.b.table === table.name).map((l) => `↻ ${l.b.name}`);

/** The tables and their links as a map; a table opens by a click or by Enter. */
export default function TableMap({ schema, wanted }: { schema: Schema; wanted: string }) {
  return (
    <ReactFlowProvider>
      <Drawn schema={schema} wanted={wanted} />
    </ReactFlowProvider>
  );
}

function Drawn({ schema, wanted }: { schema: Schema; wanted: string }) {
  const locale = useLocale();
  const router = useRouter();
  const { fitView } = useReactFlow();
  const words = wanted.trim().toLowerCase();
  const nodes = useMemo(() => {
    const places = arranged(schema);
    return schema.tables.map((table): TableNode => {
      const { x, y } = places.get(table.name) ?? { x: 0, y: 0 };
      const faint = words !== "" && !table.label.toLowerCase().includes(words);
      return {
        id: table.name,
        type: "table",
        position: { x: x - WIDTH / 2, y: y - HEIGHT / 2 },
        data: { table, rows: [counted(table.rows, "row", locale), ...toItself(schema, table)].join(" · "), faint },
        ariaLabel: `${table.label}, ${counted(table.rows, "row", locale)}`,
      };
    });
  }, [schema, words, locale]);
  const edges = useMemo(() => {
    // Links between the same two tables are one line with all their names.
    const lines = new Map<string, Schema["links"]>();
    for (const l of schema.links) {
      if (l.a.table === l.b.table) continue;
      const key = JSON.stringify([l.a.table, l.b.table]);
      lines.set(key, [...(lines.get(key) ?? []), l]);
    }
    return [...lines].map(([key, links]): Edge => {
      const [first] = links;
      return {
        id: key,
        source: first?.a.table ?? "",
        target: first?.b.table ?? "",
        label: links.map((l) => l.b.name).join(", "),
        style: { stroke: links.some((l) => l.madeBy === "person") ? "var(--color-bottle)" : "var(--color-faint)" },
        labelStyle: { fontSize: 11, fill: "var(--color-soft)" },
        labelBgStyle: { fill: "var(--color-paper)" },
      };
    });
  }, [schema]);
  useEffect(() => {
    const found = words === "" ? [] : nodes.filter((n) => !n.data.faint);
    void fitView({ padding: 0.08, ...(found.length > 0 ? { nodes: found, maxZoom: 1.2 } : {}) });
  }, [nodes, words, fitView]);
  return (
    <ReactFlow
      nodes={nodes}
      edges={edges}
      nodeTypes={NODES}
      fitView
      nodesConnectable={false}
      onNodeClick={(_, node) => router.push(`/tables/${encodeURIComponent(node.id)}`)}
      onKeyDown={(event) => {
        const id = event.target instanceof HTMLElement ? event.target.closest(".react-flow__node")?.getAttribute("data-id") : null;
        if (event.key === "Enter" && id) router.push(`/tables/${encodeURIComponent(id)}`);
      }}
    >
      <Background color="var(--color-rule)" gap={24} />
      <Controls showInteractive={false} />
    </ReactFlow>
  );
}
