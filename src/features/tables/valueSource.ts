import type { SheetColumns } from "@/core/posting/typeOver";
import { emptyQuery } from "@/core/query/empty";
import { rowsNamed } from "@/core/schema/rowNames";
import { type Schema, singular, type Table } from "@/core/schema/schema";
import type { Today } from "@/core/types/calendar";
import type { Locale } from "@/core/types/format";
import { RELATIVE_DATES, type RelativeDate } from "@/core/types/relative";
import { writeTyped } from "@/core/types/typed";
import { date } from "@/core/types/valueType";
import type { Choice } from "@/server/services/queries/choices";
import type { FrequentAnswer } from "@/server/services/queries/profile";
import type { Suggestion } from "@/ui/sheetParts";
import { ask } from "../ask";
import { WORDS as EDITORS } from "../editors/words";
import { WORDS } from "./words";

/** A value as it is kept, or what is wrong with what was typed. */
export type Read = { text: string } | { problem: string };

/** Values that are offered to a cell. */
const OFFERED = 8;

/** Days that are offered to a cell for a date, by their words. */
const DAYS: RelativeDate[] = ["today", "yesterday", "previousWorkingDay", "firstOfThisMonth", "lastOfThisMonth", "firstOfLastMonth", "lastOfLastMonth"];

/**
 * Days by their words.
 * @example daysOffered("yes", today, locale) // [{ text: "22 Nov 2026", words: "yesterday", note: "22 Nov 2026" }]
 */
export function daysOffered(typed: string, today: Today, locale: Locale): Suggestion[] {
  const sought = typed.trim().toLowerCase();
  return DAYS.filter((day) => RELATIVE_DATES[day].words.includes(sought)).map((day) => {
    const text = writeTyped(date, RELATIVE_DATES[day].of(today), locale);
    return { text, words: RELATIVE_DATES[day].words, note: text };
  });
}

/** Where the values of a table's cells come from: the rows a column leads to, by their names; yes and no; days; texts that stand in the column already. */
export function valueSource(table: Table, schema: Schema, columns: SheetColumns) {
  /** The table a column leads to, where its rows have names. */
  const ledTo = (at: number) => {
    const column = columns[at];
    return column ? rowsNamed(schema, table.name, column.name) : null;
  };
  const known = new Map<string, Promise<Choice[]>>();
  /** Rows whose names hold what is sought; asked for once. */
  function found(at: number, sought: string): Promise<Choice[]> {
    const led = ledTo(at);
    if (!led) return Promise.resolve([]);
    const key = JSON.stringify([led.table, sought]);
    const asked = known.get(key) ?? ask<Choice[]>("/api/query/choices", { table: led.table, column: led.column, shown: led.shown, sought, values: {} });
    known.set(key, asked);
    asked.catch(() => known.delete(key));
    return asked;
  }

  async function texts(at: number, sought: string): Promise<Suggestion[]> {
    const left = { kind: "field" as const, join: "", column: columns[at]?.name ?? "" };
    const { frequent } = await ask<FrequentAnswer>("/api/query/frequent", { spec: emptyQuery(table.name), values: {}, left, condition: "none", sought });
    return frequent
      .slice(0, OFFERED)
      .flatMap(({ value, rows }) => (typeof value === "string" && rows > 1 ? [{ text: value, words: value, note: String(rows) }] : []));
  }

  return {
    /** Whether values are sought by the names of the rows they lead to. */
    isNamed: (at: number): boolean => ledTo(at) !== null && columns[at]?.type.kind === "text",

    /**
     * The value that a name stands for.
     * @param typed the same read as a value of the column's type, which it may be as well
     */
    async called(at: number, name: string, typed: string | null): Promise<Read | null> {
      const led = ledTo(at);
      if (!led) return typed === null ? null : { text: typed };
      const folded = (text: string) => text.trim().toLowerCase();
      const named = (await found(at, name)).filter((c) => folded(c.words) === folded(name));
      const [only] = named;
      if (only && named.length === 1) return { text: only.value };
      if (typed !== null) return { text: typed };
      return { problem: named.length > 1 ? WORDS.severalCalled(name, led.label) : WORDS.noneCalled(name, singular(led.label)) };
    },

    suggest(at: number, typed: string, { today, locale }: { today: Today; locale: Locale }): Promise<Suggestion[]> | null {
      const column = columns[at];
      if (!column) return null;
      if (column.type.kind === "yesno") {
        const both: Suggestion[] = [EDITORS.yes, EDITORS.no].map((words) => ({ text: words, words }));
        return Promise.resolve(both.filter((b) => b.words.startsWith(typed.trim().toLowerCase())));
      }
      if (column.type.kind === "date") return Promise.resolve(daysOffered(typed, today, locale));
      const allowed = table.columns.find((c) => c.name === column.name)?.allowed;
      if (allowed) {
        const sought = typed.trim().toLowerCase();
        return Promise.resolve(allowed.filter((a) => a.toLowerCase().includes(sought)).map((a) => ({ text: a, words: a })));
      }
      if (ledTo(at))
        return found(at, typed.trim()).then((all) =>
          all.slice(0, OFFERED).map(({ value, words }) => ({ text: value, words, note: words === value ? "" : value })),
        );
      return column.type.kind === "text" ? texts(at, typed.trim()) : null;
    },
  };
}
