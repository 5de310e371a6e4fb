import { createHash } from "node:crypto";
import { cellOfStored, type Stored } from "@/core/posting/coerce";
import { noOutcomes, type Outcome, type OutcomeRow, type StepTally, type Tally } from "@/core/posting/outcome";
import type { PlanPair, PostingPlan } from "@/core/posting/plan";
import { quoted } from "@/core/query/dialect/dialect";
import type { Cell } from "@/core/types/valueType";
import { type Connection, dialectOf, isOnServer, tableSql } from "@/server/source/connection";
import { cellOf } from "@/server/source/sqlite/readers";
import { constraintWords } from "./constraintWords";
import { type Found, finderOf, keyOf, sameStored } from "./finder";
import { type Change, type ChangeSink, postingOfContent, postingThatAdded } from "./journal";
import { LinkChecks } from "./linkChecks";
import { Mover } from "./mover";
import { type Made, namerOf, valuesOf } from "./rowValues";
import { type Image, Target } from "./target";

/*
 * A posting is performed, not foreseen: the preview makes every change in a transaction that is rolled back, and the
 * posting makes them again and commits only if they come to the same. So the preview is exact, whatever constraints
 * the table has.
 */

/** Takes a row's outcome, and the same as JSON. */
export type Emit = (row: OutcomeRow, line: string) => void;

/** Where the changes of a table go, to be journaled. */
export type Sinks = (table: string) => ChangeSink;

/**
 * Makes every step of a posting on an open transaction, one after the other: a later one finds what those before it wrote.
 * @param emits takes each row's outcome, by the step; none where nobody looks
 * @param sinks take each change; none in a preview
 */
export function performSteps(
  db: Connection,
  steps: { plan: PostingPlan; rows: Iterable<Cell[]> }[],
  emits: ((step: number) => Emit) | null,
  sinks?: Sinks,
): Tally {
  const made = steps.map(({ plan, rows }, i) => performStep(db, plan, rows, emits?.(i), sinks));
  const [first, ...next] = made;
  if (!first) throw new TypeError("A posting has a step");
  // Rows that are matched find themselves there.
  const doubles = steps.some(({ plan }) => plan.same.length === 0 && plan.present === "add" && (plan.action === "add" || plan.action === "move"));
  return {
    ...first,
    ...(next.length > 0 ? { next } : {}),
    digest: new Digest().finish(made.map((m) => m.digest).join(" ")),
    before: postingOfContent(db, first.table, first.content),
    doubles,
  };
}

/** Whether links may be left leading nowhere: a server keeps its own, and what it would remove or empty besides is not journaled. */
const mayBreak = (db: Connection, plan: PostingPlan): boolean => plan.breaking === "allow" && !isOnServer(db);

/** Rows whose values are made, looked up and written together, where none of them hangs on another. */
const ROWS_TOGETHER = 500;

/** Whether rows of a step's target lead to others of it, by a value that names one or by a link. */
const leadsToItself = ({ table, pairs, links }: PostingPlan): boolean =>
  pairs.some((p) => p.found?.table.name === table.name) || [...links.outward, ...links.inward].some((link) => link.table === table.name);

function* inParts<T>(rows: Iterable<T>, most: number): Generator<T[]> {
  let part: T[] = [];
  for (const row of rows) {
    if (part.push(row) < most) continue;
    yield part;
    part = [];
  }
  if (part.length > 0) yield part;
}

/** Makes one step, row by row in the source's order. @param rows the source's: one cell a pair, then the key of the row that is moved */
function performStep(db: Connection, plan: PostingPlan, rows: Iterable<Cell[]>, emit: Emit | undefined, sinks?: Sinks): StepTally {
  const target = new Target(db, plan.table);
  const mover = plan.origin && new Mover(db, plan.origin, mayBreak(db, plan));
  const originBefore = mover?.count() ?? 0;
  const content = new Digest();
  const fields = new Map<string, number>();
  const lands = plan.action === "add" || plan.action === "move";
  /** What is done to the target's rows, journaled as it is done; of a row that is moved, once it has left the other table. */
  const sink = sinks?.(plan.table.name);
  const originSink = plan.origin && sinks?.(plan.origin.table.name);
  const outcomes = noOutcomes();
  const digest = new Digest();
  digest.update(JSON.stringify([plan.table.name, plan.action, plan.present, plan.same.map((c) => c.name), plan.pairs.map((p) => [p.column.name, p.existing])]));
  const since = new Map<number, number>();
  const rowsBefore = target.count();
  const before = totalsOf(db, plan);
  const duplicates = lands && plan.present === "add";
  const finder = finderOf(target, duplicates ? { ...plan, same: [] } : plan);
  const together = finder.steady && !mover && !leadsToItself(plan) ? ROWS_TOGETHER : 1;
  const values = valuesOf(db, plan);
  const namers = plan.pairs.map((pair) => pair.found && namerOf(db, pair.found));
  const links = new LinkChecks(db, mayBreak(db, plan) ? { outward: [], inward: [] } : plan.links, { name: plan.table.name, columns: target.columns });
  const seen = new Map<string, number>();
  const addedBy = postingThatAdded(db, plan.table.name);
  const placeOf = new Map(target.columns.map((c, i) => [c.name, i]));
  const written = plan.pairs.map((p) => p.column);
  const pairOf = new Map(plan.pairs.map((p, i) => [p.column.name, i]));
  const sameAt = plan.same.map((c) => plan.pairs.findIndex((p) => p.column === c));
  const setting = plan.pairs.flatMap((p, i) => (plan.same.includes(p.column) ? [] : [i]));
  let source = 0;
  /** The columns to which the row at hand gives other values. */
  let differed: string[] = [];
  /** What became of the rows that are made together; and those of them that are still to be added. */
  let [settled, waiting]: [OutcomeRow[], Waiting[]] = [[], []];

  for (const part of inParts(rows, together)) {
    const made = part.map(values);
    if (together > 1) finder.ahead(made.map(sameOf).filter((same) => !same.includes(null)));
    settled = [];
    for (const [i, cells] of part.entries()) {
      const [n, of] = [source + i + 1, made[i] as Made];
      differed = [];
      const row = mover ? moved(mover, cells, of, n) : outcomeOf(of, n, sink);
      if (row.outcome === "change" || row.outcome === "move") for (const name of differed) fields.set(name, (fields.get(name) ?? 0) + 1);
      settled.push(row);
    }
    addWaiting();
    source += part.length;
    for (const [i, cells] of part.entries()) tell(settled[i] as OutcomeRow, cells);
  }
  const rowsAfter = target.count();
  const after = totalsOf(db, plan);
  const totals = plan.totals.map((c, i) => ({ column: c.name, label: c.label, type: c.type, before: before[i] ?? null, after: after[i] ?? null }));
  const origin =
    mover && plan.origin
      ? {
          table: plan.origin.table.name,
          label: plan.origin.table.label,
          before: originBefore,
          after: mover.count(),
          lost: plan.origin.lost.map((c) => c.label),
        }
      : null;
  const contentDigest = content.finish();
  digest.update(JSON.stringify([contentDigest, rowsBefore, rowsAfter, totals, origin]));
  return {
    table: plan.table.name,
    source,
    outcomes,
    since: [...since].map(([posting, count]) => ({ posting, rows: count })).sort((a, b) => a.posting - b.posting),
    rowsBefore,
    rowsAfter,
    totals,
    origin,
    fields: [...fields].map(([column, count]) => ({ column, rows: count })),
    nextNumber: nextNumber(db, plan),
    content: contentDigest,
    digest: digest.finish(),
  };

  function tell(row: OutcomeRow, cells: Cell[]): void {
    const told = JSON.stringify(cells);
    content.update(`${told}\n`);
    outcomes[row.outcome]++;
    if (row.outcome === "there" && row.posting !== null) since.set(row.posting, (since.get(row.posting) ?? 0) + 1);
    // What nothing was made of stands in the digest of the content, and is not written again.
    const made = isAsItCame(row, cells) ? null : JSON.stringify(row.cells);
    const [held, reason] = [row.from && JSON.stringify(row.from), row.why && JSON.stringify(row.why)];
    digest.update(`${row.outcome} ${made} ${held} ${reason} ${row.at} ${row.posting}\n`);
    emit?.(row, `{"n":${row.n},"outcome":"${row.outcome}","cells":${made ?? told},"from":${held},"why":${reason},"at":${row.at},"posting":${row.posting}}`);
  }

  function sameOf({ stored }: Made): Stored[] {
    return sameAt.map((i) => stored[i] ?? null);
  }

  /** A row that is added here and removed there, or neither. */
  function moved(there: Mover, cells: Cell[], made: Made, n: number): OutcomeRow {
    const row = rowOf(made, n);
    const { found, before } = there.find(cells);
    if (!found) return before === null ? row("unmatched") : row("repeated", { why: `the same as row ${before}` });
    const changes: Change[] = [];
    const settled = there.orNeither((): OutcomeRow => {
      const landed = outcomeOf(made, n, sink && ((change) => changes.push(change)));
      if (STAYING.has(landed.outcome)) return landed;
      const why = there.remove(found, n);
      return why === null ? { ...landed, outcome: "move", posting: null } : row("refused", { why });
    });
    if (settled.outcome !== "move") return settled;
    for (const change of changes) sink?.(change);
    originSink?.({ kind: "remove", row: found.row, before: found.image, after: null });
    return settled;
  }

  function rowOf({ shown }: Made, n: number): Make {
    return (outcome, { from = null, why = null, at = null, posting = null } = NO_MORE) => ({ n, outcome, cells: shown, from, why, at, posting });
  }

  function outcomeOf(made: Made, n: number, into: ChangeSink | undefined): OutcomeRow {
    const row = rowOf(made, n);
    const refused = () => row("refused", { why: made.why, at: made.at });
    // What does not fit is a reason only where it would be written, or tells which row is meant.
    if (made.wrong.some((i) => plan.same.some((c) => c === written[i]))) return refused();
    const same = sameOf(made);
    const key = keyOf(same, plan.alike);
    const known = plan.same.length > 0 && !same.includes(null) && !duplicates;
    const first = known ? seen.get(key) : undefined;
    if (first !== undefined) return row("repeated", { why: `the same as row ${first}` });
    const there = known ? finder.find(same) : [];
    if (there.length > 1 && (!lands || plan.present === "change"))
      return row("refused", { why: `several rows of ${plan.table.label} match; match by more columns` });
    const [found] = there;
    const changes = plan.action === "change" || plan.present === "change";
    if (made.why && plan.action !== "remove" && (found ? changes : lands)) return refused();
    if (known) seen.set(key, n);
    try {
      if (plan.action === "remove") return found ? removed(found, row) : row("unmatched");
      if (found && changes) return changed(found, made, row, into);
      if (found) return held(found, made, row);
      if (plan.action === "change") return row("unmatched");
      return added(made, row, into);
    } catch (error) {
      const why = constraintWords(error, plan);
      if (why === null) throw error;
      return row("refused", { why });
    }
  }

  function added(made: Made, row: Make, into: ChangeSink | undefined): OutcomeRow {
    const why = links.outward((c) => made.stored[pairOf.get(c) ?? -1]);
    if (why) return row("refused", { why });
    const added = row("add");
    if (together === 1) add(made, into);
    else waiting.push({ made, n: added.n });
    return added;
  }

  function add({ stored }: Made, into: ChangeSink | undefined): void {
    if (into) {
      const made = target.insert(written, stored);
      into({ kind: "add", row: made.row, before: null, after: made.image });
    } else target.add(written, stored);
  }

  /** Adds what waits, many rows at once; where one of them is refused, one by one. Whatever else is written comes before or after. */
  function addWaiting(): void {
    const rows = waiting;
    waiting = [];
    for (const some of inParts(rows, target.atOnce)) {
      if (some.length === target.atOnce && written.length > 0 && refusal(() => addTogether(some)) === null) continue;
      for (const { made, n } of some) {
        const why = refusal(() => add(made, sink));
        if (why !== null) settled[n - source - 1] = rowOf(made, n)("refused", { why });
      }
    }
  }

  function addTogether(some: Waiting[]): void {
    const lists = some.map(({ made }) => made.stored);
    if (sink) for (const { row, image } of target.insertMany(written, lists)) sink({ kind: "add", row, before: null, after: image });
    else target.addMany(written, lists);
  }

  /** Why the table does not take what is written; null where it does. */
  function refusal(write: () => void): string | null {
    try {
      write();
      return null;
    } catch (error) {
      const why = constraintWords(error, plan);
      if (why === null) throw error;
      return why;
    }
  }

  /** Whether a pair's column is written in a row that exists already, where it holds a value. */
  function isWritten(pair: number, old: Stored | Uint8Array): boolean {
    const existing = plan.pairs[pair]?.existing ?? null;
    return existing === null || (existing === "fill" && (old === null || old === ""));
  }

  /** What stands in a row, by pair, written as what comes is: a looked-up row by its name; and the pairs whose values would be others. */
  function against(image: Image, { stored, shown, wrong }: Pick<Made, "stored" | "shown" | "wrong">) {
    const old = plan.pairs.map((p) => image[placeOf.get(p.column.name) ?? -1] ?? null);
    const differing = setting.filter(
      (i) => isWritten(i, old[i] ?? null) && (wrong.includes(i) || !sameStored(old[i] ?? null, stored[i] ?? null, written[i] as PlanPair["column"])),
    );
    const from = plan.pairs.map((p, i) =>
      differing.includes(i) ? (namers[i]?.(old[i] ?? null) ?? cellOfStored(old[i] ?? null, p.column)) : (shown[i] ?? null),
    );
    return { from, differing };
  }

  /** A row that is there already and is left as it is: the same, or with other values. */
  function held(found: Found, made: Made, row: Make): OutcomeRow {
    const image = found.image ?? target.find(found.row);
    const posting = addedBy(found.row);
    if (!image) return row("there", { posting });
    const { from, differing } = against(image, made);
    return differing.length > 0 ? row("differs", { from, posting }) : row("there", { posting });
  }

  function changed(found: Found, made: Made, row: Make, into: ChangeSink | undefined): OutcomeRow {
    const { stored } = made;
    const image = found.image ?? target.find(found.row);
    if (!image) return row("refused", { why: "the row does not exist any more" });
    const { from, differing } = against(image, made);
    if (differing.length === 0) return row("unchanged");
    const columns = differing.map((i) => written[i] as (typeof written)[number]);
    const names = columns.map((c) => c.name);
    const why = links.outward((c) => (names.includes(c) ? stored[pairOf.get(c) ?? -1] : undefined)) ?? links.inward(image, names);
    if (why) return row("refused", { why, from });
    const values = differing.map((i) => stored[i] ?? null);
    addWaiting();
    if (into) {
      const after = target.update(found.row, columns, values);
      into({ kind: "change", row: after.row, before: image, after: after.image });
    } else target.write(found.row, columns, values);
    differed = names;
    return row("change", { from });
  }

  function removed(found: Found, row: Make): OutcomeRow {
    const image = found.image ?? target.find(found.row);
    if (!image) return row("unmatched");
    const why = links.inward(image);
    if (why) return row("refused", { why });
    target.remove(found.row);
    sink?.({ kind: "remove", row: found.row, before: image, after: null });
    return row("remove");
  }
}

const isAsItCame = ({ cells }: OutcomeRow, source: Cell[]): boolean => cells.length === source.length && cells.every((cell, i) => cell === source[i]);

/** A row that is to be added with others. */
type Waiting = { made: Made; n: number };

type More = Partial<Pick<OutcomeRow, "from" | "why" | "at" | "posting">>;
type Make = (outcome: Outcome, more?: More) => OutcomeRow;
const NO_MORE: More = {};

/** Outcomes with which a row that was to be moved stays where it is. */
const STAYING: ReadonlySet<Outcome> = new Set<Outcome>(["repeated", "refused", "differs"]);

/** A hash of many small texts: fed in large pieces, which is several times faster. */
class Digest {
  private readonly hash = createHash("sha1");
  private waiting = "";

  update(text: string): void {
    this.waiting += text;
    if (this.waiting.length < 65_536) return;
    this.hash.update(this.waiting);
    this.waiting = "";
  }

  finish(last = ""): string {
    return this.hash.update(this.waiting + last).digest("hex");
  }
}

/** Exact totals of the watched columns over the whole table. */
function totalsOf(db: Connection, { table, totals }: PostingPlan): Cell[] {
  if (totals.length === 0) return [];
  const sums = totals.map((c) => `SUM(${dialectOf(db).readFitting(quoted(c.name), c.type, c.storage)})`).join(", ");
  const row = db
    .prepare(`SELECT ${sums} FROM ${tableSql(db, table.name)}`)
    .raw()
    .safeIntegers(true)
    .get() as unknown[];
  return row.map((value) => cellOf(value, { kind: "floating" }));
}

function nextNumber(db: Connection, { table }: PostingPlan): number | null {
  const numbered = table.columns.find((c) => c.filled === "number");
  if (!numbered) return null;
  return Number(
    db
      .prepare(`SELECT COALESCE(MAX(${quoted(numbered.name)}), 0) + 1 FROM ${tableSql(db, table.name)}`)
      .pluck()
      .get(),
  );
}
