"use client";

import { COMMON } from "../../words";
import { SmallButton } from "../fields";
import { WORDS } from "../words";
import type { PanelProps } from "./panel";

/** The pivots and charts printed after a report's rows. */
export function Closings({ spec, change, items }: Pick<PanelProps, "spec" | "change" | "items">) {
  const chosen = spec.closing ?? [];
  return (
    <section className="grid gap-1 pt-4">
      <h3 className="caption pb-1">{WORDS.afterTheRows}</h3>
      {chosen.map((c, i) => (
        <p key={`${c.id} ${i}`} className="flex items-center gap-2 border-b border-hairline py-1">
          <span className="flex-1 truncate">{items.find((o) => o.id === c.id)?.name ?? WORDS.deleted(c.kind)}</span>
          <span className="text-small text-soft">{c.kind}</span>
          <SmallButton label={COMMON.remove} tone="text-vermilion" onClick={() => change({ ...spec, closing: chosen.filter((_, k) => k !== i) })}>
            ×
          </SmallButton>
        </p>
      ))}
      {items.length > 0 && (
        <select
          className="field"
          aria-label={WORDS.printAfterTheRows}
          value=""
          onChange={(e) => {
            const found = items.find((c) => c.id === e.target.value);
            if (found) change({ ...spec, closing: [...chosen, { kind: found.kind, id: found.id }] });
          }}
        >
          <option value="">{WORDS.addAPivotOrChart}</option>
          {items.map((c) => (
            <option key={c.id} value={c.id}>
              {c.name}, {c.kind}
            </option>
          ))}
        </select>
      )}
    </section>
  );
}
