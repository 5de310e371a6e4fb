"use client";

import { cellWriter } from "@/core/types/format";
import type { ControlNow } from "@/server/services/desk/controls";
import { Link } from "../Link";
import { placeOf } from "../places";
import { useAnswer } from "../useAnswer";
import { useLocale } from "../workspace/locale";
import { WORDS } from "./words";

/** The control totals of all queries against what the queries show now; nothing where there are none. */
export function ControlsNow() {
  const locale = useLocale();
  const { answer: controls } = useAnswer<ControlNow[]>("/api/desk/controls", {}, { method: "GET" });
  if (!controls?.length) return null;
  return (
    <section className="pt-6">
      <h2 className="flex items-baseline gap-2 pb-1">
        <span className="font-serif text-[1.125rem] font-semibold">{WORDS.figuresAgree}</span>
        <span className="text-small text-faint">{WORDS.controlTotals}</span>
      </h2>
      <ul>
        {controls.map((c) => {
          const write = cellWriter(c.type, {}, locale);
          return (
            <li key={`${c.query} ${c.id}`} className="flex gap-3 py-1">
              <Link href={placeOf("query", c.query)} className="min-w-0 flex-1 truncate hover:underline" title={c.name}>
                {c.words}
              </Link>
              <span className="text-right">{write(c.is).text}</span>
              <span className={`w-20 shrink-0 text-right font-semibold ${c.agrees ? "text-bottle" : "text-vermilion"}`}>
                {c.agrees ? "✓" : c.out === null ? WORDS.notComparable : WORDS.out(write(c.out).text)}
              </span>
            </li>
          );
        })}
      </ul>
    </section>
  );
}
