import type { Value } from "@/core/recount/value";
import { type Cell, isExact, type ValueType } from "@/core/types/valueType";
import { JobFailure } from "@/server/source/failures";
import type { Written } from "./protocol";

/* What a server writes, as cells and as values of the recount. */

const LARGEST = 2n ** 63n;

/** An exact number as it is written. @throws JobFailure tooLarge where it outgrew 64 bits, as on every other engine */
function exactOf(written: string): bigint {
  const exact = BigInt(written);
  if (exact >= LARGEST || exact < -LARGEST) throw new JobFailure("tooLarge");
  return exact;
}

/** A day that there is in the calendar everybody writes: not "infinity", nor one before our era. */
const DATED = /^\d{4}-\d{2}-\d{2}( \d{2}:\d{2}:\d{2}(\.\d+)?)?$/;

export function cellOf(written: Written, type: ValueType): Cell {
  if (written === null) return null;
  if (isExact(type)) {
    const exact = exactOf(written);
    return Number.isSafeInteger(Number(exact)) ? Number(exact) : exact.toString();
  }
  switch (type.kind) {
    case "floating":
      return Number(written);
    case "yesno":
      return written === "t" || written === "1" ? 1 : 0;
    case "date":
    case "timestamp":
      return DATED.test(written) ? written : { misfit: written };
    default:
      return written;
  }
}

/** The same for the recount. */
export function typedValue(written: Written, type: ValueType): Value {
  if (written === null) return null;
  if (isExact(type)) return exactOf(written);
  if (type.kind === "floating") return Number(written);
  return type.kind === "yesno" ? written === "t" : written;
}

/** Numbers of types by which a server tells what it sends (pg_type.oid, the same on every server). */
const WHOLE = [20, 21, 23];
const NUMBERS = [700, 701, 1700];

/** A stored value that links compare: a number is the same however it is kept. */
export function plainOf(written: Written, type: number): Value {
  if (written === null) return null;
  if (WHOLE.includes(type)) return BigInt(written);
  if (!NUMBERS.includes(type)) return written;
  const bare = written.replace(/\.0*$/, "");
  return /^-?\d+$/.test(bare) ? BigInt(bare) : Number(written);
}
