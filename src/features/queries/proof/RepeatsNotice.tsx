import { minus } from "@/core/proof/followed";
import type { RepeatsCheck } from "@/core/proof/proof";
import { changeColumn } from "@/core/query/edit";
import type { QuerySpec } from "@/core/query/spec";
import { writeCount } from "@/core/types/format";
import { filled } from "@/ui/filled";
import { Notice } from "@/ui/Notice";
import { useLocale } from "../../workspace/locale";
import { WORDS } from "../words";
import { saidValue } from "./saidValue";

/** Of a column whose values a link repeats: which rows its total counts, and the other way to count them. */
export function RepeatsNotice({ repeats, spec, change }: { repeats: RepeatsCheck; spec: QuerySpec; change: (next: QuerySpec) => void }) {
  const locale = useLocale();
  const { column, heading, type, of, rows, once, every, counted: how, groups } = repeats;
  const write = saidValue(type, locale);
  const set = (everyRow: boolean | undefined) => change(changeColumn(spec, column, { everyRow }));
  const whose = rows === null ? of : `${writeCount(rows, locale)} ${of}`;
  if (how === "every")
    return (
      <Notice tone="look">
        <b>{WORDS.addsEveryRow(heading, write(every))}</b>{" "}
        {rows === null
          ? WORDS.noKeyApart(of)
          : filled(
              WORDS.onceTotal,
              whose,
              write(once),
              <span className="mt-1 flex gap-3">
                <button type="button" className="link" onClick={() => set(undefined)}>
                  {WORDS.countEachOnce}
                </button>
              </span>,
            )}
      </Notice>
    );
  const more = groups !== null && once !== null && String(groups) !== String(once) ? minus(groups, once, type.kind !== "floating") : null;
  return (
    <p className="text-small text-soft">
      {filled(
        WORDS.countedOnce,
        <b className="font-semibold text-ink">{heading}</b>,
        whose,
        more !== null && WORDS.someAreInSeveralGroups(write(groups), write(more)),
        <button type="button" className="link" onClick={() => set(true)}>
          {WORDS.addEveryRowInstead}
        </button>,
        write(every),
      )}
    </p>
  );
}
