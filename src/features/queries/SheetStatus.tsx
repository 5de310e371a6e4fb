import type { ReactNode } from "react";
import { counted, writeCount } from "@/core/types/format";
import { AsOf } from "../AsOf";
import { useLocale } from "../workspace/locale";
import type { Running } from "./useRun";
import { WORDS } from "./words";

type Props = { run: Running; columns: number; selected: { words: string; repeated: boolean }; children: ReactNode };

/** The line under a sheet: its rows and columns, what does not fit, the figures of what is selected, or what its totals count. */
export function SheetStatus({ run, columns, selected, children }: Props) {
  const locale = useLocale();
  const { footing } = run;
  const misfits = Object.values(footing?.misfits ?? {}).reduce((a, b) => a + b, 0);
  return (
    <div className="flex min-h-9 shrink-0 items-center justify-between gap-4 px-1 text-small text-soft" role="status" data-testid="status">
      <span>
        {run.rows === null ? "" : counted(footing?.rows ?? run.rows, "row", locale)}
        {footing ? "" : run.running ? WORDS.soFar : ""} <span className="ml-4">{counted(columns, "column", locale)}</span>
        {run.asOf && (
          <span className="ml-4">
            <AsOf moment={run.asOf} />
          </span>
        )}
        {misfits > 0 && " "}
        {misfits > 0 && <span className="ml-4 text-vermilion">{WORDS.misfits(counted(misfits, "value", locale))}</span>}
        {footing?.emptied.map((e) => (
          <span key={e.column} className="ml-4 text-ochre" title={e.isText ? WORDS.emptiedText : WORDS.emptiedNumber}>
            {WORDS.emptied(counted(e.rows, "row", locale), e.heading)}
          </span>
        ))}
      </span>
      {children}
      <span className={selected.repeated ? "text-ochre" : ""}>
        {selected.words ||
          footing?.repeats.map((r) => (
            <span key={r.column} className={`ml-4 ${r.counted === "every" ? "text-ochre" : ""}`}>
              {r.heading}: {r.counted === "once" ? WORDS.eachOnce(writeCount(r.rows ?? 0, locale), r.of) : WORDS.repeatedValuesAdded}
            </span>
          ))}
      </span>
    </div>
  );
}
