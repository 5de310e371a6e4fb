"use client";

import dynamic from "next/dynamic";
import { useEffect, useState } from "react";
import { unmetWords } from "@/core/brief/dashboardBrief";
import type { Mark } from "@/core/chart/rows";
import type { Drawn } from "@/core/chart/style";
import { askedWords, differing } from "@/core/dashboard/asked";
import { figureWords } from "@/core/dashboard/compare";
import { fillText } from "@/core/dashboard/edit";
import type { DashboardSpec, FilterValues, PlainTile, Tile } from "@/core/dashboard/spec";
import type { Line, Column as PivotColumn } from "@/core/pivot/lines";
import { onTheRight } from "@/core/query/shownColumn";
import type { Today } from "@/core/types/calendar";
import { writeCount, writeDate } from "@/core/types/format";
import { withUnit } from "@/core/types/unit";
import type { TileAnswer } from "@/server/jobs/dashboards/tileAnswer";
import { Notice } from "@/ui/Notice";
import { AsOf } from "../AsOf";
import { tdsWriter } from "../CellTds";
import { ChartTable } from "../charts/ChartTable";
import { PivotGrid } from "../pivots/PivotGrid";
import { COMMON } from "../words";
import { useLocale } from "../workspace/locale";
import type { Asks } from "./tileAsked";
import { asOfTile } from "./tileRows";
import { useTile } from "./useTile";
import { WORDS } from "./words";

const ChartView = dynamic(() => import("../charts/ChartView"), { loading: () => null });

/** What tiles have in common: the dashboard as its viewer has it, and what can be done from a tile. */
export type Desk = {
  spec: DashboardSpec;
  /** Where it is asked about, where it is only looked at. */
  asks: Asks | null;
  values: FilterValues;
  /** What the filters show, in words, for texts. */
  filters: string;
  turn: number;
  today: Today;
  viewer: string;
  chosen: Record<string, number>;
  /** Opens the rows of a tile; null where nobody may. */
  openRows: null | ((answer: TileAnswer, words: string, at?: { line: Line; column: PivotColumn }) => void);
  /** What choosing a mark does, in words and in deed; null where it does nothing. */
  onMark: null | { does: string; act: (tile: PlainTile, answer: Extract<TileAnswer, { kind: "chart" }>, mark: Mark, drawn: Drawn) => void };
  /** The figures shown by figure tiles, by title, for texts. */
  figures: Record<string, string>;
  tellFigure: (title: string, words: string) => void;
  /** What the queries of tiles ask for, by tile. */
  asked: Record<string, string>;
  tellAsked: (tile: string, words: string) => void;
};

type Of<K extends PlainTile["kind"]> = Extract<PlainTile, { kind: K }>;

/** What stands in a tile, by its kind; each asks for itself and shows its own state. */
export function TileBody({ tile, desk }: { tile: PlainTile; desk: Desk }) {
  switch (tile.kind) {
    case "text":
      return <TextTile tile={tile} desk={desk} />;
    case "picture":
      if (!tile.source) return <p className="text-soft">{WORDS.noPictureYet}</p>;
      // biome-ignore lint/performance/noImgElement: a picture kept in the description itself
      return <img src={tile.source} alt={tile.alt} className="h-full w-full object-contain" />;
    case "figure":
    case "chart":
    case "pivot":
    case "table":
      return <AskedTile tile={tile} desk={desk} />;
    default:
      return tile satisfies never;
  }
}

function TextTile({ tile, desk }: { tile: Of<"text">; desk: Desk }) {
  const locale = useLocale();
  const words = fillText(tile.text, { ...desk.figures, today: writeDate(desk.today.day, locale), filters: desk.filters, viewer: desk.viewer });
  return <p className="h-full overflow-auto whitespace-pre-wrap">{words}</p>;
}

function AskedTile({ tile, desk }: { tile: Of<"figure" | "chart" | "pivot" | "table">; desk: Desk }) {
  const [search, setSearch] = useState("");
  const { answer, failure, running, stopped, stop, again } = useTile(desk.spec, desk.asks, tile.id, desk.values, search, desk.turn);
  const shown = answer?.kind === tile.kind ? answer : null;
  const asked = useAskedWords(shown, tile, desk);
  return (
    <div className="relative flex h-full min-h-0 flex-col" aria-busy={running}>
      {failure && (
        <Notice tone="wrong">
          {failure}{" "}
          <button type="button" className="link" onClick={again}>
            {COMMON.tryAgain}
          </button>
        </Notice>
      )}
      {stopped && (
        <p className="text-soft">
          {WORDS.stopped}{" "}
          <button type="button" className="link" onClick={again}>
            {COMMON.runAgain}
          </button>
        </p>
      )}
      {running && (
        <p className={`appear-late text-small text-soft ${shown ? "absolute top-0 right-0 z-10 bg-paper px-1" : ""}`}>
          {WORDS.counting}{" "}
          <button type="button" className="link" onClick={stop}>
            {COMMON.stop}
          </button>
        </p>
      )}
      {tile.kind === "table" && tile.search && (
        <input
          className="field mb-1 max-w-60"
          placeholder={WORDS.findInTheseRows}
          aria-label={WORDS.findIn(tile.title || WORDS.table)}
          value={search}
          onChange={(e) => setSearch(e.target.value)}
        />
      )}
      {asked && (
        <p className="truncate text-tiny text-soft" title={asked}>
          {asked}
        </p>
      )}
      {shown && <div className={`min-h-0 flex-1 ${running ? "opacity-60" : ""}`}>{answerView(tile, shown, desk)}</div>}
      {shown && asOfTile(shown) && (
        // A figure's own lines take all of its height.
        <p className={`text-tiny ${shown.kind === "figure" ? "absolute top-0 right-0 bg-paper pl-1" : ""}`}>
          <AsOf moment={asOfTile(shown)} />
        </p>
      )}
    </div>
  );
}

/** What a tile's query asks for, where the tiles of the dashboard do not all ask for the same; else nothing. */
function useAskedWords(answer: TileAnswer | null, tile: PlainTile, { tellAsked, asked, today }: Desk): string {
  const locale = useLocale();
  // A visitor of a published page is not told the query.
  const words = answer?.query ? askedWords(answer, today, locale) : null;
  useEffect(() => {
    if (words !== null) tellAsked(tile.id, words);
  }, [tellAsked, tile.id, words]);
  return differing(asked)[tile.id] ?? "";
}

function answerView(tile: PlainTile, answer: TileAnswer, desk: Desk) {
  if (answer.kind === "figure" && tile.kind === "figure") return <FigureView tile={tile} answer={answer} desk={desk} />;
  if (answer.kind === "chart" && tile.kind === "chart") return <ChartTileView tile={tile} answer={answer} desk={desk} />;
  if (answer.kind === "pivot") return <PivotTileView tile={tile} answer={answer} desk={desk} />;
  return answer.kind === "table" ? <TableView tile={tile} answer={answer} desk={desk} /> : null;
}

function FigureView({ tile, answer, desk }: { tile: Of<"figure">; answer: Extract<TileAnswer, { kind: "figure" }>; desk: Desk }) {
  const locale = useLocale();
  const { words, negative, strong, good, rest } = figureWords(tile, answer, locale);
  const { tellFigure } = desk;
  useEffect(() => tellFigure(tile.title.toLowerCase(), words), [tellFigure, tile.title, words]);
  return (
    <button
      type="button"
      className="block w-full text-left"
      disabled={!desk.openRows}
      onClick={() => desk.openRows?.(answer, tile.title)}
      title={desk.openRows ? WORDS.opensItsRows : undefined}
    >
      <span className={`block truncate font-serif text-[1.9rem] leading-tight font-semibold ${negative ? "text-vermilion" : ""}`}>{words}</span>
      <span className="line-clamp-2 text-soft">
        {strong && <b className={good ? "text-bottle" : "text-vermilion"}>{strong}</b>}
        {rest}
      </span>
    </button>
  );
}

function ChartTileView({ tile, answer, desk }: { tile: Of<"chart">; answer: Extract<TileAnswer, { kind: "chart" }>; desk: Desk }) {
  const [tabled, setTabled] = useState(false);
  const { onMark } = desk;
  const label = tile.title || answer.name;
  return (
    <div className="flex h-full min-h-0 flex-col">
      <div className="min-h-0 flex-1">
        {tabled ? (
          <ChartTable spec={answer.spec} answer={answer.answer} label={label} />
        ) : (
          <ChartView
            spec={answer.spec}
            answer={answer.answer}
            chosen={desk.chosen}
            label={label}
            onMark={onMark ? { does: onMark.does, act: (mark, drawn) => onMark.act(tile, answer, mark, drawn) } : undefined}
            onTable={() => setTabled(true)}
          />
        )}
      </div>
      <p className="no-print flex justify-end gap-4 text-small">
        <button type="button" className="link" onClick={() => setTabled(!tabled)}>
          {tabled ? WORDS.chart : WORDS.table}
        </button>
        {desk.openRows && (
          <button type="button" className="link" onClick={() => desk.openRows?.(answer, label)}>
            {COMMON.rows}
          </button>
        )}
      </p>
    </div>
  );
}

function PivotTileView({ tile, answer, desk }: { tile: PlainTile; answer: Extract<TileAnswer, { kind: "pivot" }>; desk: Desk }) {
  const [shut, setShut] = useState(answer.spec.shut);
  const label = tile.title || answer.name;
  const toggle = (path: string) => setShut(shut.includes(path) ? shut.filter((p) => p !== path) : [...shut, path]);
  return (
    <div className="flex h-full min-h-0 flex-col">
      <PivotGrid
        pivot={answer.pivot}
        spec={{ ...answer.spec, shut }}
        label={label}
        onToggle={toggle}
        onOpen={(line, column) => desk.openRows?.(answer, label, { line, column })}
      />
    </div>
  );
}

function TableView({ tile, answer, desk }: { tile: PlainTile; answer: Extract<TileAnswer, { kind: "table" }>; desk: Desk }) {
  const locale = useLocale();
  const tds = tdsWriter(answer.columns, locale, "px-1.5 py-1");
  return (
    // biome-ignore lint/a11y/noNoninteractiveTabindex: what scrolls must be reachable by keyboard (WCAG 2.1.1)
    <section className="h-full overflow-auto" tabIndex={0} aria-label={COMMON.rowsOf(tile.title || COMMON.table)}>
      <table className="w-full">
        <thead>
          <tr className="border-b border-ink">
            {answer.columns.map((c) => (
              <th key={c.id} scope="col" className={`px-1.5 py-1 text-small ${onTheRight(c) ? "text-right" : "text-left"}`}>
                {withUnit(c.heading, c.unit)}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {answer.rows.map((row, i) => (
            <tr key={`row ${i}`} className="border-b border-rule">
              {tds(row)}
            </tr>
          ))}
        </tbody>
      </table>
      {answer.rows.length === 0 && <p className="py-2 text-soft">{WORDS.noMatchingRows}</p>}
      <p className="pt-1 text-right text-small text-soft">
        {WORDS.shownOf(writeCount(answer.rows.length, locale), writeCount(answer.count, locale))}
        {desk.openRows && (
          <>
            {" "}
            ·{" "}
            <button type="button" className="link" onClick={() => desk.openRows?.(answer, tile.title)}>
              {WORDS.openAll}
            </button>
          </>
        )}
      </p>
    </section>
  );
}

/** A tile's title and note above what it shows; a switch shows its tiles as choices. */
export function TileFrame({ tile, desk }: { tile: Tile; desk: Desk }) {
  const [at, setAt] = useState(0);
  const small = tile.kind === "figure";
  const inner = tile.kind === "switch" ? tile.tiles[Math.min(at, tile.tiles.length - 1)] : tile;
  const unmet = inner ? unmetWords(desk.spec, inner, desk.values) : "";
  return (
    <div className="flex h-full min-h-0 flex-col px-4 py-3">
      <div className={`flex items-baseline gap-x-3 ${small ? "" : "flex-wrap"}`}>
        {tile.title && <h2 className={small ? "text-soft" : "font-serif text-[1.06rem] font-semibold"}>{tile.title}</h2>}
        {tile.kind === "switch" && (
          <div role="tablist" aria-label={tile.title || WORDS.chooseOne} className="flex overflow-hidden rounded border border-rule">
            {tile.tiles.map((t, i) => (
              <button
                key={t.id}
                type="button"
                role="tab"
                aria-selected={i === at}
                tabIndex={i === at ? 0 : -1}
                onClick={() => setAt(i)}
                onKeyDown={(e) => {
                  const by = { ArrowRight: 1, ArrowLeft: -1 }[e.key];
                  if (!by) return;
                  e.preventDefault();
                  const next = (i + by + tile.tiles.length) % tile.tiles.length;
                  setAt(next);
                  (e.currentTarget.parentElement?.children[next] as HTMLElement | undefined)?.focus();
                }}
                className={`border-r border-rule px-3 py-1 last:border-r-0 ${i === at ? "bg-bottle font-semibold text-on-fill" : "bg-sheet"}`}
              >
                {t.title || t.kind}
              </button>
            ))}
          </div>
        )}
        {unmet && (
          <span className={`min-w-0 truncate text-small text-ochre ${small ? "flex-1" : ""}`} title={WORDS.theseFiguresAre(unmet)}>
            {unmet}
          </span>
        )}
        {tile.note && <p className="w-full text-small text-soft">{tile.note}</p>}
      </div>
      <div className={`min-h-0 flex-1 ${small ? "" : "pt-2"}`}>{inner && <TileBody key={inner.id} tile={inner} desk={desk} />}</div>
    </div>
  );
}
