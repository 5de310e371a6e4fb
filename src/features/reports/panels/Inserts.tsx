"use client";

import * as edit from "@/core/report/edit";
import { NumberRow, Row, SmallButton } from "../fields";
import { WORDS } from "../words";
import type { PanelProps } from "./panel";

/** The charts and pivots that each group of a level has. */
export function Inserts({ spec, change, items, level }: Pick<PanelProps, "spec" | "change" | "items"> & { level: string }) {
  const own = (spec.inserts ?? []).filter((i) => i.under === level);
  const fitting = items.filter((item) => item.query === spec.query);
  return (
    <section className="grid gap-1 pt-3">
      <h3 className="caption">{WORDS.inEachGroup}</h3>
      {own.map((insert) => {
        const name = items.find((item) => item.id === insert.of)?.name ?? WORDS.deleted(insert.kind);
        return (
          <div key={insert.id} className="border-b border-hairline pb-1">
            <p className="flex items-center gap-2">
              <span className="flex-1 truncate">{name}</span>
              <span className="text-small text-soft">{insert.kind}</span>
              <SmallButton label={WORDS.removeItem(name)} tone="text-vermilion" onClick={() => change(edit.changeInsert(spec, insert.id, null))}>
                ×
              </SmallButton>
            </p>
            <Row label={WORDS.place}>
              <select
                className="field"
                aria-label={WORDS.placeOf(name)}
                value={insert.at}
                onChange={(e) => change(edit.changeInsert(spec, insert.id, { at: e.target.value as "top" }))}
              >
                <option value="top">{WORDS.underItsHeading}</option>
                <option value="foot">{WORDS.underItsFooting}</option>
              </select>
            </Row>
            {insert.kind === "chart" && (
              <NumberRow
                label={WORDS.heightMm}
                value={insert.heightMm}
                least={25}
                most={250}
                set={(heightMm) => change(edit.changeInsert(spec, insert.id, { heightMm }))}
              />
            )}
          </div>
        );
      })}
      {fitting.length > 0 ? (
        <select
          className="field"
          aria-label={WORDS.addInEachGroup}
          value=""
          onChange={(e) => {
            const found = fitting.find((item) => item.id === e.target.value);
            if (found) change(edit.addInsert(spec, level, { kind: found.kind, of: found.id }));
          }}
        >
          <option value="">{WORDS.addAPivotOrChart}</option>
          {fitting.map((item) => (
            <option key={item.id} value={item.id}>
              {item.name}, {item.kind}
            </option>
          ))}
        </select>
      ) : (
        <p className="text-small text-soft">{WORDS.noItemsOverTheQuery}</p>
      )}
    </section>
  );
}
