import { linkSpecSchema } from "@/core/schema/linkSpec";
import { findColumn, findTable } from "@/core/schema/schema";
import { ProblemError, problem } from "@/core/types/problem";
import { comparedAlike } from "@/core/types/storage";
import { isExact, scaleOf, TYPE_WORDS, type ValueType } from "@/core/types/valueType";
import type { Workspace } from "@/server/services/workspace/workspace";

const comparable = (a: ValueType, b: ValueType): boolean => (a.kind === b.kind || (isExact(a) && isExact(b))) && scaleOf(a) === scaleOf(b);

/** Whether a link may be made: its tables and columns are there and can be compared. @throws ProblemError otherwise */
export async function checkLink(ws: Workspace, spec: unknown): Promise<void> {
  const { a, b } = linkSpecSchema.parse(spec);
  const schema = await ws.schema();
  const columnsOf = (end: typeof a) => {
    const table = findTable(schema, end.table);
    if (!table) throw new ProblemError([problem("tableGone", ["table"], { table: end.table })]);
    return end.columns.map((name) => {
      const column = findColumn(table, name);
      if (!column || column.derived) throw new ProblemError([problem("columnGone", ["columns"], { table: table.label, column: name })]);
      return column;
    });
  };
  const far = columnsOf(b);
  columnsOf(a).forEach((near, i) => {
    const other = far[i];
    if (other && !(comparable(near.type, other.type) && comparedAlike(near.storage, other.storage)))
      throw new ProblemError([
        problem("linkTypes", ["columns", i], { a: near.label, aType: TYPE_WORDS[near.type.kind], b: other.label, bType: TYPE_WORDS[other.type.kind] }),
      ]);
  });
}
