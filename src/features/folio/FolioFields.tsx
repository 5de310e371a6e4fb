import { useMemo, useRef, useState } from "react";
import { rowLedTo } from "@/core/folio/edit";
import type { RowCells } from "@/core/folio/panel";
import { namesWanted } from "@/core/query/namedRows";
import type { Plan } from "@/core/query/plan";
import type { QuerySpec } from "@/core/query/spec";
import type { Schema, Table } from "@/core/schema/schema";
import type { Today } from "@/core/types/calendar";
import { cellWriter } from "@/core/types/format";
import { isMisfit } from "@/core/types/valueType";
import { CellInput } from "@/ui/CellInput";
import { Link } from "../Link";
import { namedWriter, useRowNames } from "../queries/useRowNames";
import { useLocale } from "../workspace/locale";
import { useFieldEdit } from "./useFieldEdit";
import { WORDS } from "./words";

type Props = { plan: Plan; cells: RowCells; table: Table; schema: Schema; spec: QuerySpec; today: Today; again: () => void };

/** The fields of a row, each beside its value, which can be typed over. */
export function FolioFields({ plan, cells, table, schema, spec, today, again }: Props) {
  const locale = useLocale();
  const row = useMemo(() => plan.columns.map((c) => cells[c.id] ?? null), [plan, cells]);
  const edit = useFieldEdit({ table, spec, schema, today, row, again });
  const [typing, setTyping] = useState<{ at: number; text: string; problem: string | null } | null>(null);
  const saving = useRef(false);
  async function end(picked?: string): Promise<void> {
    if (!typing || !edit || saving.current) return;
    saving.current = true;
    const text = picked ?? typing.text;
    const problem = text === edit.text(0, typing.at) ? null : await edit.save(0, typing.at, text);
    saving.current = false;
    setTyping(problem === null ? null : { ...typing, text, problem });
  }
  const nameOf = useRowNames(namesWanted(plan, [row]));
  return (
    <dl className="grid grid-cols-[repeat(auto-fill,minmax(15rem,1fr))] gap-x-8 border-t border-b-[3px] border-ink py-2 [border-bottom-style:double]">
      {plan.columns.map((c, at) => {
        // By its key the page is known.
        const held = table.key.includes(c.id) ? null : (edit?.text(0, at) ?? null);
        const written = namedWriter(c, cellWriter(c.type, c.format, locale), nameOf)(cells[c.id] ?? null);
        const tone = isMisfit(cells[c.id] ?? null) || written.negative ? "text-vermilion" : "";
        return (
          <div key={c.id} className="flex items-baseline justify-between gap-3 border-b border-hairline py-1">
            <dt className={`shrink-0 text-small ${c.derived ? "text-plum" : "text-soft"}`} title={c.origin}>
              {c.heading}
            </dt>
            <dd
              className={`group relative min-w-0 text-right ${tone} ${typing?.at === at ? "grow" : ""}`}
              onDoubleClick={() => held !== null && setTyping({ at, text: held, problem: null })}
            >
              {typing?.at === at ? (
                <CellInput
                  label={c.heading}
                  text={typing.text}
                  problem={typing.problem}
                  suggest={(text) => edit?.suggest?.(0, at, text) ?? null}
                  beside={edit?.beside?.(at, typing.text, (text) => void end(text))}
                  onChange={(text) => setTyping({ at, text, problem: null })}
                  onPick={(text) => void end(text)}
                  onEnd={() => void end()}
                  onCancel={() => setTyping(null)}
                />
              ) : (
                <>
                  <FieldValue text={written.text} to={written.text === "" ? null : folioOf(schema, table, c.id, cells)} />{" "}
                  {c.unit && written.text ? <span className="text-small text-soft">{c.unit}</span> : null}
                  {held !== null && (
                    <button
                      type="button"
                      className="absolute top-0.5 left-full pl-1 text-small font-semibold text-soft opacity-0 group-hover:opacity-100 hover:text-bottle focus-visible:opacity-100"
                      aria-label={WORDS.editField(c.heading)}
                      onClick={() => setTyping({ at, text: held, problem: null })}
                    >
                      {WORDS.edit}
                    </button>
                  )}
                </>
              )}
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
  const led = rowLedTo(schema, table, column, cells);
  return led && `/tables/${encodeURIComponent(led.table)}/folio?k=${encodeURIComponent(led.key)}`;
}
