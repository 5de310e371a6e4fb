import { linkPanel, tablePanel } from "@/core/folio/panel";
import { belongsTo } from "@/core/folio/shown";
import type { Panel, Shown } from "@/core/folio/spec";
import type { PivotFigure } from "@/core/pivot/spec";
import { operandTypeIn } from "@/core/query/edit";
import { type Schema, stepsFrom, type Table } from "@/core/schema/schema";
import { isNumber, text } from "@/core/types/valueType";
import type { Sources } from "@/server/services/dashboards/sources";
import { Choice } from "../editors/parts";
import { COMMON } from "../words";
import { WORDS } from "./words";

type Props = {
  table: Table;
  schema: Schema;
  freshId: () => string;
  add: (panel: Panel | null) => void;
  sources: Sources;
  show: (next: Shown) => void;
};

/** What a panel can show: rows by a link, by the same value, or of any table. */
export function AddPanel({ table, schema, freshId, add, sources, show }: Props) {
  const queries = sources.queries.filter((q) => belongsTo(schema, q.spec, table));
  const charts = sources.charts.filter((c) => queries.some((q) => q.id === c.spec.query));
  const figure = (query: string, title: string, of: PivotFigure): Shown => ({
    id: freshId(),
    title,
    note: "",
    kind: "figure",
    query,
    figure: of,
    compare: null,
    lessIsBetter: false,
  });
  const steps = stepsFrom(schema, table.name);
  return (
    <>
      <p className="caption pb-1">{WORDS.linkedRows}</p>
      {steps.map(({ step, far }) => (
        <Choice key={`${step.link} ${step.toward}`} onClick={() => add(linkPanel(schema, step, freshId()))}>
          {far.leadsTo} {far.name}
        </Choice>
      ))}
      {charts.length > 0 && <p className="caption pt-2 pb-1">{WORDS.chartsOfLinkedRows}</p>}
      {charts.map((c) => (
        <Choice key={c.id} onClick={() => show({ id: freshId(), title: c.name, note: "", kind: "chart", chart: c.id })}>
          {c.name}
        </Choice>
      ))}
      {queries.length > 0 && <p className="caption pt-2 pb-1">{WORDS.figuresOfLinkedRows}</p>}
      {queries.flatMap((q) => [
        <Choice key={`${q.id} rows`} onClick={() => show(figure(q.id, COMMON.rowsOf(q.name), { id: "f", value: null, figure: "count", showAs: "asIs" }))}>
          {COMMON.rowsOf(q.name)}
        </Choice>,
        ...q.spec.columns
          .filter((c) => c.value !== null && isNumber(operandTypeIn(q.spec, schema, c.value) ?? text))
          .map((c) => {
            const title = WORDS.totalOf(q.name, c.label ?? c.id);
            return (
              <Choice
                key={title}
                onClick={() => show(figure(q.id, title, { id: "f", value: { kind: "field", join: "", column: c.id }, figure: "total", showAs: "asIs" }))}
              >
                {title}
              </Choice>
            );
          }),
      ])}
      <p className="caption pt-2 pb-1">{WORDS.rowsWithTheSameValue}</p>
      {table.columns
        .filter((c) => !table.key.includes(c.name) && !c.derived?.broken)
        .map((c) => (
          <Choice key={c.name} onClick={() => add(tablePanel(schema, table, { kind: "same", column: c.name, itself: false }, freshId()))}>
            {c.label}
          </Choice>
        ))}
      <p className="caption pt-2 pb-1">{WORDS.rowsOfATableBy}</p>
      {schema.tables.map((t) => (
        <Choice key={t.name} onClick={() => add(tablePanel(schema, t, { kind: "all" }, freshId()))}>
          {t.label}
        </Choice>
      ))}
    </>
  );
}
