"use client";

import {
  Background,
  Controls,
  type Edge,
  EdgeLabelRenderer,
  type EdgeProps,
  Handle,
  type Node,
  type NodeProps,
  Position,
  ReactFlow,
  ReactFlowProvider,
  useReactFlow,
} from "@xyflow/react";
import "@xyflow/react/dist/style.css";
import { useRouter } from "next/navigation";
import { useCallback, useEffect, useMemo } from "react";
import type { Schema, Table } from "@/core/schema/schema";
import { counted } from "@/core/types/format";
import { useLocale } from "../workspace/locale";
import { arranged, HEIGHT, type Point, pathThrough, WIDTH } from "./mapLayout";

type TableNode = Node<{ table: Table; rows: string; faint: boolean }, "table">;

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

type LinkEdge = Edge<{ points: Point[]; at: Point; words: string; made: boolean; faint: boolean }, "link">;

/** A link as a line, its name where the layout has kept room for it. */
function LinkLine({ data }: EdgeProps<LinkEdge>) {
  if (!data) return null;
  return (
    <>
      <path
        d={pathThrough(data.points)}
        className="react-flow__edge-path"
        style={{ stroke: data.made ? "var(--color-bottle)" : "var(--color-faint)", opacity: data.faint ? 0.3 : 1 }}
      />
      <EdgeLabelRenderer>
        <span
          className={`absolute bg-paper px-1 text-[11px] leading-none text-soft ${data.faint ? "opacity-40" : ""}`}
          style={{ transform: `translate(-50%, -50%) translate(${data.at.x}px, ${data.at.y}px)` }}
        >
          {data.words}
        </span>
      </EdgeLabelRenderer>
    </>
  );
}

const NODES = { table: TableBox };
const EDGES = { link: LinkLine };

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
  const map = useMemo(() => arranged(schema), [schema]);
  const isFaint = useCallback((label: string) => words !== "" && !label.toLowerCase().includes(words), [words]);
  const nodes = useMemo(
    () =>
      schema.tables.map((table): TableNode => {
        const { x, y } = map.places.get(table.name) ?? { x: 0, y: 0 };
        return {
          id: table.name,
          type: "table",
          position: { x: x - WIDTH / 2, y: y - HEIGHT / 2 },
          data: { table, rows: [counted(table.rows, "row", locale), ...toItself(schema, table)].join(" · "), faint: isFaint(table.label) },
          ariaLabel: `${table.label}, ${counted(table.rows, "row", locale)}`,
        };
      }),
    [schema, map, isFaint, locale],
  );
  const edges = useMemo(() => {
    const labels = new Map(schema.tables.map((t) => [t.name, t.label]));
    return map.lines.map(({ key, a, b, ...line }): LinkEdge => {
      const faint = [a, b].every((name) => isFaint(labels.get(name) ?? ""));
      return { id: key, type: "link", source: a, target: b, data: { ...line, faint } };
    });
  }, [schema, map, isFaint]);
  useEffect(() => {
    const found = words === "" ? [] : nodes.filter((n) => !n.data.faint);
    void fitView({ padding: 0.08, ...(found.length > 0 ? { nodes: found, maxZoom: 1.2 } : {}) });
  }, [nodes, words, fitView]);
  return (
    <ReactFlow
      nodes={nodes}
      edges={edges}
      nodeTypes={NODES}
      edgeTypes={EDGES}
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
