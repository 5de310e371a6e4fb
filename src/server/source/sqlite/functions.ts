import { MOST_GROUPS, tooManyGroups } from "@/core/query/everyGroup";
import { divideCarried, divideRounded } from "@/core/types/decimal";
import { likeTest } from "@/core/types/like";
import { regexpTest } from "@/core/types/regexp";
import { percentileExact, percentileFloating, varianceOf } from "@/core/types/statistics";
import { fold, initcap, lpad, readAs, readScaled, splitPart, splitRest } from "@/core/types/text";
import { decimal } from "@/core/types/valueType";
import type { FileDatabase } from "@/server/source/sqlite/database";

const orNull = (fn: (text: string) => unknown) => (value: unknown) => (typeof value === "string" ? fn(value) : value === null ? null : fn(String(value)));

const stored = (value: ReturnType<typeof readAs>) => (typeof value === "boolean" ? Number(value) : value);

/** What SQLite itself says where a sum outgrows 64 bits. */
const tooLarge = () => new RangeError("integer overflow");

function within64(exact: bigint): bigint {
  if (BigInt.asIntN(64, exact) !== exact) throw tooLarge();
  return exact;
}

type OnceState = { told: Set<unknown>; exact: bigint; floating: number; kind: null | "exact" | "floating" };

/** Several keys as one, none of which runs into the next. */
const toldBy = (keys: unknown[]): string =>
  JSON.stringify(
    keys.map((key) => (typeof key === "bigint" ? `${key}n` : Buffer.isBuffer(key) ? `b${key.toString("hex")}` : typeof key === "string" ? `s${key}` : key)),
  );

/** The value that most have; of several, the least, texts by code point. */
function modeOf(values: unknown[]): unknown {
  const times = new Map<unknown, number>();
  for (const value of values) times.set(value, (times.get(value) ?? 0) + 1);
  const most = Math.max(...times.values());
  const often = [...times].filter(([, n]) => n === most).map(([value]) => value);
  return often.reduce((least, value) => (isBefore(value, least) ? value : least));
}

const isBefore = (a: unknown, b: unknown): boolean =>
  typeof a === "string" && typeof b === "string" ? Buffer.compare(Buffer.from(a), Buffer.from(b)) < 0 : (a as bigint) < (b as bigint);

/** Registers on a connection the functions that the SQLite dialect writes and SQLite itself does not have. */
export function registerFunctions(db: FileDatabase): void {
  const pure = { deterministic: true };
  db.function("nl_fold", pure, orNull(fold));
  db.function(
    "nl_upper",
    pure,
    orNull((t) => t.toUpperCase()),
  );
  db.function(
    "nl_lower",
    pure,
    orNull((t) => t.toLowerCase()),
  );
  db.function("nl_initcap", pure, orNull(initcap));
  for (const [name, split] of [
    ["nl_split_part", splitPart],
    ["nl_split_rest", splitRest],
  ] as const)
    db.function(name, pure, (text: unknown, separator: unknown, n: unknown) =>
      text === null || separator === null ? null : split(String(text), String(separator), Number(n)),
    );
  db.function("nl_list_of", pure, (values: unknown, separator: unknown, count: unknown) => {
    const list = JSON.parse(String(values)) as unknown[];
    return list.length === 0 ? null : list.slice(0, Number(count)).join(String(separator));
  });
  db.function("nl_lpad", pure, (text: unknown, length: unknown, fill: unknown) =>
    text === null || length === null || fill === null ? null : lpad(String(text), Number(length), String(fill)),
  );
  for (const kind of ["whole", "floating", "date", "timestamp", "yesno"] as const)
    db.function(
      `nl_read_${kind}`,
      pure,
      orNull((t) => stored(readAs(t, { kind }))),
    );
  db.function("nl_read_decimal", pure, (value: unknown, scale: unknown) => (value === null ? null : stored(readAs(String(value), decimal(Number(scale))))));
  // A query asks one pattern of every row: it is read once.
  let asked = { pattern: "", test: likeTest("") };
  db.function("nl_like", pure, (text: unknown, pattern: unknown) => {
    if (text === null || pattern === null) return null;
    if (asked.pattern !== pattern) asked = { pattern: String(pattern), test: likeTest(String(pattern)) };
    return Number(asked.test(String(text)));
  });
  let sought = { pattern: "", test: regexpTest("") };
  db.function("nl_regexp", pure, (text: unknown, pattern: unknown) => {
    if (text === null || pattern === null) return null;
    if (sought.pattern !== pattern) sought = { pattern: String(pattern), test: regexpTest(String(pattern)) };
    return Number(sought.test(String(text)));
  });
  db.function(
    "nl_group_digits",
    pure,
    orNull((digits) => digits.replace(/\B(?=(\d{3})+$)/g, ",")),
  );
  db.function("nl_not_too_many", pure, (count: unknown) => {
    if (Number(count) > MOST_GROUPS) throw tooManyGroups();
    return 1;
  });
  const exact = { ...pure, safeIntegers: true };
  db.function("nl_exact", exact, (value: unknown) => {
    if (typeof value === "number") throw tooLarge();
    return value;
  });
  for (const [name, divide] of [
    ["nl_quotient", divideRounded],
    ["nl_carried", divideCarried],
  ] as const)
    db.function(name, exact, (dividend: unknown, divisor: unknown, digits: unknown) => {
      if (typeof dividend === "number" || typeof divisor === "number") throw tooLarge();
      return dividend === null || divisor === null ? null : within64(divide((dividend as bigint) * 10n ** (digits as bigint), divisor as bigint));
    });
  db.function("nl_from_floating", pure, (value: unknown, scale: unknown) => {
    if (value === null) return null;
    const scaled = Number(value) * 10 ** Number(scale);
    return within64(BigInt(Math.sign(scaled) * Math.round(Math.abs(scaled))));
  });
  db.aggregate("nl_sum_once", {
    deterministic: true,
    varargs: true,
    safeIntegers: true,
    start: () => ({ told: new Set<unknown>(), exact: 0n, floating: 0, kind: null as null | "exact" | "floating" }),
    step: (state: OnceState, value: unknown, ...keys: unknown[]) => {
      if (value === null || keys.every((key) => key === null)) return;
      const key = keys.length === 1 ? keys[0] : toldBy(keys);
      if (state.told.has(key)) return;
      state.told.add(key);
      state.kind = typeof value === "bigint" ? (state.kind ?? "exact") : "floating";
      if (typeof value === "bigint") state.exact += value;
      else state.floating += Number(value);
    },
    result: ({ kind, exact, floating }: OnceState) => {
      if (kind !== "exact") return kind === null ? null : floating + Number(exact);
      return within64(exact);
    },
  });
  db.aggregate("nl_count_once", {
    deterministic: true,
    varargs: true,
    safeIntegers: true,
    start: () => new Set<string>(),
    step: (told: Set<string>, ...keys: unknown[]) => {
      if (keys.some((key) => key !== null)) told.add(toldBy(keys));
    },
    result: (told: Set<string>) => told.size,
  });
  db.aggregate("nl_median_tenths", {
    deterministic: true,
    safeIntegers: true,
    start: () => [] as bigint[],
    step: (values: bigint[], next: bigint | null) => {
      if (next !== null) values.push(next);
    },
    result: (values: bigint[]) => {
      if (values.length === 0) return null;
      values.sort((a, b) => (a < b ? -1 : a > b ? 1 : 0));
      const at = (i: number) => values[Math.floor(i)] ?? 0n;
      return (at((values.length - 1) / 2) + at(values.length / 2)) * 5n;
    },
  });
  /** A figure that needs all values of a group, kept as they come. */
  const overValues = (name: string, value: (values: unknown[], given: number) => unknown) =>
    db.aggregate(name, {
      deterministic: true,
      varargs: true,
      safeIntegers: true,
      start: () => ({ values: [] as unknown[], given: 0 }),
      step: (state: { values: unknown[]; given: number }, next: unknown, given?: unknown) => {
        if (next === null) return;
        state.values.push(next);
        state.given = Number(given ?? 0);
      },
      result: ({ values, given }: { values: unknown[]; given: number }) => (values.length === 0 ? null : value(values, given)),
    });
  overValues("nl_percentile", (values, percent) => within64(percentileExact(values as bigint[], percent)));
  overValues("nl_percentile_floating", (values, percent) => percentileFloating(values.map(Number), percent));
  overValues("nl_variance", (values, sample) => varianceOf(values.map(Number), sample === 1));
  overValues("nl_mode", modeOf);
  db.function("nl_scaled", pure, (value: unknown, scale: unknown) => (value === null ? null : readScaled(String(value), Number(scale))));
}
