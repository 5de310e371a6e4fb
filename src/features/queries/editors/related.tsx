import { AGGREGATES, needsBy } from "@/core/query/aggregates";
import { AGGREGATE_NAMES, type AggregateName } from "@/core/query/choices";
import * as edit from "@/core/query/edit";
import { queryOfRelated, relatedFigure } from "@/core/query/related";
import type { QueryColumn, QuerySpec, RelatedFigure } from "@/core/query/spec";
import type { EditorProps } from "../../editors/parts";
import { WORDS } from "../words";
import { FigureConditions } from "./figures";

/** Which figure over related rows a column is, and which of them it counts. */
export function RelatedSettings({ column, operand, ...props }: EditorProps & { column: QueryColumn; operand: RelatedFigure }) {
  const { spec, schema, change } = props;
  const set = (value: RelatedFigure, parameters = spec.parameters) => change({ ...edit.changeColumn(spec, column.id, { value }), parameters });
  const { conditions, ...query } = queryOfRelated(operand, schema);
  const inner: QuerySpec = { ...query, conditions: [], columns: query.columns.map((c) => ({ ...c, where: conditions })), parameters: spec.parameters };
  const [figure] = inner.columns;
  const type = figure?.value && edit.operandTypeIn(inner, schema, figure.value);
  const asked = (next: QuerySpec) => set({ ...operand, where: next.columns[0]?.where, joins: next.joins }, next.parameters);
  return (
    <>
      {type && (
        <label className="grid gap-0.5 text-small">
          {WORDS.figureOfRelated}
          <select
            className="field"
            value={operand.figure}
            onChange={(e) => {
              const { words } = relatedFigure(operand.join, operand.step, e.target.value as AggregateName, operand.column, schema);
              set({ ...operand, figure: e.target.value as AggregateName, words });
            }}
          >
            {AGGREGATE_NAMES.filter((n) => AGGREGATES[n].takes(type) && !needsBy(n) && !AGGREGATES[n].percent).map((n) => (
              <option key={n} value={n}>
                {AGGREGATES[n].words}
              </option>
            ))}
          </select>
        </label>
      )}
      {figure && (
        <div>
          <p className="caption">{WORDS.rowsCounted}</p>
          <FigureConditions {...props} spec={inner} change={asked} column={figure} />
        </div>
      )}
    </>
  );
}
