import type { Table } from "../schema/schema";
import type { Today } from "../types/calendar";
import { ProblemError } from "../types/problem";
import { emptyQuery } from "./empty";
import type { Plan } from "./plan";
import { resolveQuery } from "./resolve";

/** Every row and column of a table that stands alone, as it lies, under the columns' own names. @throws ProblemError */
export function wholeTable(table: Table, today: Today): Plan {
  const columns = table.columns.map(({ name }, i) => ({ id: `c${i}`, value: { kind: "field" as const, join: "", column: name }, label: name }));
  const made = resolveQuery({ ...emptyQuery(table.name), columns }, { tables: [table], links: [] }, { today, values: {} });
  if (!made.ok) throw new ProblemError(made.problems);
  return made.value;
}
