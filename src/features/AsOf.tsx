"use client";

import { asOfWords } from "@/core/types/format";
import { COMMON } from "./words";
import { useLocale } from "./workspace/locale";

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
