import * as edit from "@/core/folio/edit";
import type { RowCells } from "@/core/folio/panel";
import { namesWanted } from "@/core/query/namedRows";
import type { Plan } from "@/core/query/plan";
import type { Schema, Table } from "@/core/schema/schema";
import { cellWriter } from "@/core/types/format";
import { isMisfit } from "@/core/types/valueType";
import { Link } from "../Link";
import { namedWriter, useRowNames } from "../queries/useRowNames";
import { useLocale } from "../workspace/locale";

type Props = { plan: Plan; cells: RowCells; table: Table; schema: Schema };

/** The fields of a row, each beside its value. */
export function FolioFields({ plan, cells, table, schema }: Props) {
  const locale = useLocale();
  const row = plan.columns.map((c) => cells[c.id] ?? null);
  const nameOf = useRowNames(namesWanted(plan, [row]));
  return (
    <dl className="grid grid-cols-[repeat(auto-fill,minmax(15rem,1fr))] gap-x-8 border-t border-b-[3px] border-ink py-2 [border-bottom-style:double]">
      {plan.columns.map((c) => {
        const written = namedWriter(c, cellWriter(c.type, c.format, locale), nameOf)(cells[c.id] ?? null);
        const tone = isMisfit(cells[c.id] ?? null) || written.negative ? "text-vermilion" : "";
        return (
          <div key={c.id} className="flex items-baseline justify-between gap-3 border-b border-hairline py-1">
            <dt className={`shrink-0 text-small ${c.derived ? "text-plum" : "text-soft"}`} title={c.origin}>
              {c.heading}
            </dt>
            <dd className={`text-right ${tone}`}>
              <FieldValue text={written.text} to={written.text === "" ? null : folioOf(schema, table, c.id, cells)} />{" "}
              {c.unit && written.text ? <span className="text-small text-soft">{c.unit}</span> : null}
            </dd>
          </div>
        );
      })}
    </dl>
  );
}

/** A value; where it names a row elsewhere, the way to that row's folio. */
function FieldValue({ text, to }: { text: string; to: string | null }) {
  if (text === "") return <span className="text-faint">–</span>;
  return to ? (
    <Link className="link" href={to}>
      {text}
    </Link>
  ) : (
    text
  );
}

/** The address of the folio of the row that a column leads to; null where it leads to none. */
function folioOf(schema: Schema, table: Table, column: string, cells: RowCells): string | null {
  const led = edit.rowLedTo(schema, table, column, cells);
  return led && `/tables/${encodeURIComponent(led.table)}/folio?k=${encodeURIComponent(led.key)}`;
}
