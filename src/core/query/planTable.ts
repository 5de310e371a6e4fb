import type { Column, Table } from "../schema/schema";
import { ownStorage } from "../types/storage";
import { homeForReaders } from "./home";
import { showsNames } from "./namedRows";
import type { Plan } from "./plan";

/*
 * A query's rows as those of a table, for what reads them.
 */

/** The name of the one table that a query over another reads. */
export const ROWS_OF_QUERY = "rows";

const uncapitalised = (words: string): string => (/^.[A-Z]/.test(words) ? words : words.charAt(0).toLowerCase() + words.slice(1));

/**
 * A query's columns as the columns of a table; a column is known by its id and labelled by its heading.
 * @param ordering with those that only order, by their ids: for what keeps the query's order, never for people
 */
export function tableOfPlan(plan: Plan, name = ROWS_OF_QUERY, label = "row", ordering = false): Table {
  const groups = plan.grouped ? plan.columns.filter((c) => !c.figure) : null;
  const columns = plan.columns.flatMap((c): Column[] =>
    c.orders !== undefined && !ordering
      ? []
      : [
          {
            name: c.id,
            label: c.orders === undefined ? uncapitalised(c.heading) : c.id,
            type: c.type,
            storage: ownStorage(c.type),
            nullable: true,
            misfits: 0,
            unit: c.unit,
            format: c.format,
            home: homeForReaders(c, groups),
            ...(showsNames(c) ? { rowOf: c.rowOf } : {}),
          },
        ],
  );
  return { name, label, columns, key: [], rows: 0 };
}
