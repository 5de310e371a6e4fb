"use client";

import { columnFormat } from "@/core/query/naming";
import { findColumn, type Schema, type Table } from "@/core/schema/schema";
import { cellWriter } from "@/core/types/format";
import { type Cell, text } from "@/core/types/valueType";
import type { RowChange } from "@/server/jobs/posting/rowHistory";
import { BriefPopover } from "@/ui/Brief";
import { Link } from "../Link";
import { changeText } from "../postings/changeText";
import { useAnswer } from "../useAnswer";
import { COMMON } from "../words";
import { useLocale } from "../workspace/locale";
import { WORDS } from "./words";

type Props = { table: Table; schema: Schema; rowKey: string[] };

/** What was done to this row, and by whom; each entry opens in the journal. */
export const RowHistory = (props: Props) => (
  <BriefPopover label={WORDS.history} className="button">
    {() => <Changes {...props} />}
  </BriefPopover>
);

function Changes({ table, schema, rowKey }: Props) {
  const locale = useLocale();
  const { answer, failure } = useAnswer<RowChange[]>("/api/tables/history", { table: table.name, key: rowKey }, { settleMs: 0 });
  const when = new Intl.DateTimeFormat(locale.locale, { timeZone: locale.zone, dateStyle: "medium", timeStyle: "short" });
  const write = (name: string, cell: Cell) => {
    const column = findColumn(table, name);
    return cellWriter(column?.type ?? text, column ? columnFormat(schema, { table, column }) : {}, locale)(cell).text;
  };
  if (failure) return <p>{failure.message}</p>;
  if (!answer) return <p className="text-soft">{COMMON.counting}</p>;
  if (answer.length === 0) return <p className="text-soft">{WORDS.noHistory}</p>;
  return (
    <ol className="grid gap-2 text-small">
      {answer.map((change) => (
        <li key={`${change.entry} ${change.kind} ${change.fields[0]?.column ?? ""}`} className="border-b border-hairline pb-2">
          <Link className={`link ${change.reversed ? "line-through" : ""}`} href={`/postings/entry/${change.entry}`}>
            #{change.entry} · {change.name}
          </Link>
          <span className="block text-soft">
            {when.format(new Date(change.at))}, {change.by}
          </span>
          {change.kind !== "change" && <span>{change.kind === "add" ? WORDS.rowAdded : WORDS.rowRemoved}</span>}
          {change.fields.map((f) => (
            <span key={f.column} className="block">
              {findColumn(table, f.column)?.label ?? f.column}: {changeText(write(f.column, f.before), write(f.column, f.after), "→")}
            </span>
          ))}
        </li>
      ))}
    </ol>
  );
}
