import type { Column, Table } from "../schema/schema";
import { isComparable } from "../types/valueType";
import { sameName } from "./operands";

/**
 * The columns of two tables that are likely compared, told by their names: a column named by the other's key and table
 * ("shipper id" and the id of shippers), else those of one name that are keys or end like one (common practice).
 * @returns pairs that must all be the same; none where nothing suggests itself
 */
export function proposePairs(near: Table, far: Table): { near: string; far: string }[] {
  const alike = (a: Column, b: Column) => isComparable(a.type, b.type);
  const byKey = (of: Table, to: Table) =>
    to.key.length === 1
      ? of.columns.filter((c) => {
          const key = to.columns.find((k) => k.name === to.key[0]);
          return key && alike(c, key) && sameName(c.name, `${to.name}_${key.name}`);
        })
      : [];
  const [toFar] = byKey(near, far);
  if (toFar) return [{ near: toFar.name, far: far.key[0] ?? "" }];
  const [toNear] = byKey(far, near);
  if (toNear) return [{ near: near.key[0] ?? "", far: toNear.name }];
  const shared = near.columns.flatMap((c) => far.columns.filter((f) => alike(c, f) && sameName(c.label, f.label)).map((f) => ({ near: c.name, far: f.name })));
  const naming = shared.filter((p) => /(id|no|number|code|key)$/i.test(p.near) && !near.key.includes(p.near));
  return naming.slice(0, 1);
}
