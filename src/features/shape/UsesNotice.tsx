"use client";

import { counted, writeCount } from "@/core/types/format";
import type { ShapeUse, ShapeUses } from "@/server/services/shape/uses";
import { Notice } from "@/ui/Notice";
import { Link } from "../Link";
import { useLocale } from "../workspace/locale";
import { WORDS } from "./words";

/** Where an object that would stop working is opened; null for parts of a table. */
const placeOf = ({ kind, id }: ShapeUse): string | null => {
  if (kind === "link" || kind === "derived" || kind === "table" || kind === "view") return null;
  return kind === "schedule" ? "/schedules" : `/${kind === "query" ? "queries" : `${kind}s`}/${id}`;
};

/** What uses a table or a field, each by its name with what it would miss. */
export function UseList({ uses }: { uses: ShapeUses }) {
  const locale = useLocale();
  return (
    <>
      <ul className="mt-1 grid max-h-72 gap-1 overflow-auto">
        {uses.named.map((use) => {
          const place = placeOf(use);
          return (
            <li key={`${use.kind} ${use.id}`} className="text-small">
              {use.kind}{" "}
              {place ? (
                <Link className="link" href={place}>
                  {use.name}
                </Link>
              ) : (
                <b>{use.name}</b>
              )}
              : {use.words}
            </li>
          );
        })}
      </ul>
      {uses.hidden > 0 && <p className="text-small">{WORDS.hidden(writeCount(uses.hidden, locale))}</p>}
    </>
  );
}

/** What would stop working, each by its name with what it would miss. */
export function UsesNotice({ uses }: { uses: ShapeUses | null }) {
  const locale = useLocale();
  if (!uses) return null;
  const along = uses.carried > 0 && <p className="text-small text-soft">{WORDS.carried(counted(uses.carried, "item", locale), uses.carried === 1)}</p>;
  if (uses.named.length + uses.hidden === 0) return along || <p className="text-small text-soft">{WORDS.usedByNothing}</p>;
  return (
    <div className="grid gap-2">
      <Notice tone="wrong">
        <b>{WORDS.stopWorking(counted(uses.named.length + uses.hidden, "item", locale))}</b>
        <UseList uses={uses} />
      </Notice>
      {along}
    </div>
  );
}
