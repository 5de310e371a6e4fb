"use client";

import { asOfWords } from "@/core/types/format";
import { COMMON } from "./words";
import { useLocale } from "./workspace/locale";

/** Said beside rows that a figure of an earlier moment is opened by: they may be others by now. */
export function RowsAreCurrent({ moment }: { moment: string | null | undefined }) {
  const locale = useLocale();
  return moment ? <> {COMMON.rowsAreCurrent(asOfWords(moment, new Date(), locale))}</> : null;
}

/** Says that figures are of an earlier moment than now; nothing where they are not. */
export function AsOf({ moment }: { moment: string | null | undefined }) {
  const locale = useLocale();
  if (!moment) return null;
  return (
    <span className="text-ink whitespace-nowrap" title={COMMON.asOfHelp}>
      {COMMON.asOf(asOfWords(moment, new Date(), locale))}
    </span>
  );
}
