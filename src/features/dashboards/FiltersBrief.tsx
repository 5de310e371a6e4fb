"use client";

import type { ReactNode } from "react";
import { dashboardBrief } from "@/core/brief/dashboardBrief";
import { filterColumn, strangerTo, valueFor } from "@/core/dashboard/filters";
import type { DashboardSpec, FilterValue, FilterValues } from "@/core/dashboard/spec";
import type { Schema } from "@/core/schema/schema";
import { Brief } from "@/ui/Brief";
import { phraseKey } from "../editors/phraseKey";
import { useLocale } from "../workspace/locale";
import { useSignedIn } from "../workspace/person";
import { FilterEditor } from "./FilterEditor";
import type { Asks } from "./tileAsked";
import { askChoices } from "./useTile";
import { WORDS } from "./words";

type Props = {
  spec: DashboardSpec;
  values: FilterValues;
  schema: Schema;
  asks: Asks | null;
  set: (filter: string, value: FilterValue | null) => void;
  children?: ReactNode;
};

/** The brief of a dashboard's filters, each phrase opening its values. */
export function FiltersBrief({ spec, values, schema, asks, set, children }: Props) {
  const { knownAs } = useSignedIn();
  const strange = strangerTo(spec, values, schema, knownAs).map((f) => f.label);
  return (
    <>
      <Brief
        phrases={dashboardBrief({ spec, values, schema, locale: useLocale() })}
        keyOf={phraseKey}
        onDelete={(target) => target.kind === "field" && set(target.name, null)}
        editor={(target, close) => {
          const filter = spec.filters.find((f) => target.kind === "field" && f.id === target.name);
          const column = filter && filterColumn(schema, filter);
          if (!filter || !column) return <p>{WORDS.theColumnOfThisFilter}</p>;
          return (
            <FilterEditor
              choices={() => askChoices(spec, asks, filter.id)}
              filter={filter}
              type={column.type}
              value={valueFor(filter, values)}
              change={(v) => set(filter.id, v)}
              close={close}
            />
          );
        }}
      >
        {children}
      </Brief>
      {strange.length > 0 && <p className="text-small text-ochre">{WORDS.notInData(strange.join(WORDS.or))}</p>}
    </>
  );
}
