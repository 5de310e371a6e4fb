import { can } from "@/core/people/abilities";
import { checkWords } from "@/core/posting/controls";
import { type PostedBefore, rowsWritten, tallies } from "@/core/posting/outcome";
import { type PostingSpec, postingSpecSchema } from "@/core/posting/spec";
import { stepsOf } from "@/core/posting/steps";
import { ROW_FORMATS, type RowFormat } from "@/core/schedule/choices";
import type { ScheduleSpec } from "@/core/schedule/spec";
import { findColumn, findTable } from "@/core/schema/schema";
import { writeDate } from "@/core/types/format";
import { ProblemError, problem } from "@/core/types/problem";
import { type Preview, postOf, previewOf } from "@/server/services/posting/service";
import { writeOutcomes } from "@/server/services/posting/writeOutcomes";
import type { Workspace } from "@/server/services/workspace/workspace";
import { Held } from "./controls";
import { CALLER, type Write } from "./writers";

/** A posting that a run has made: how many rows it wrote, and how what became of each row is written into a file. */
type Posted = { rows: number; write: Write };

/**
 * Makes the posting of a schedule, as a person would who looks at its preview: only where it agrees with its control totals
 * and its rows have not been posted before.
 * @param mayFinish asked just before it is posted: false where another process has taken over
 * @throws Held with the reason; then nothing is posted
 */
export async function postDue(ws: Workspace, { subject }: ScheduleSpec, values: Record<string, string>, mayFinish: () => boolean): Promise<Posted | "gone"> {
  if (ws.signedIn && !can(ws.signedIn.role, "build"))
    throw new Error("The author of this schedule may not change rows any more. Someone else has to create it again.");
  const saved = ws.objects.get(subject.id);
  if (saved?.kind !== "posting") throw new ProblemError([problem("subjectGone", ["subject"], { kind: subject.kind })]);
  const spec = bound(postingSpecSchema.parse(saved.spec), values);
  const preview = await previewOf(ws, spec, CALLER);
  const before = preview.tally.before;
  if (before && (preview.tally.doubles || isInbox(spec))) throw new Held(beforeWords(before, ws));
  const differences = await differencesIn(ws, spec, preview);
  if (differences !== "") throw new Held(`${differences} Nothing was posted.`);
  if (!mayFinish()) return "gone";
  const rows = tallies(preview.tally).reduce((sum, step) => sum + rowsWritten(step), 0);
  if (rows > 0) await postOf(ws, spec, { name: saved.name, digest: preview.tally.digest, again: false }, CALLER);
  const made = { preview, steps: stepsOf(spec) };
  return { rows, write: (format, path) => writeOutcomes(ws, made, { format: rowFormat(format), path }, CALLER) };
}

/** A posting whose queries are run with the schedule's parameters. */
function bound(spec: PostingSpec, values: Record<string, string>): PostingSpec {
  const given = (source: PostingSpec["source"]): PostingSpec["source"] =>
    source.kind === "query" ? { ...source, values: { ...source.values, ...values } } : source;
  const steps = spec.steps?.map((s) => ({ ...s, source: s.source && given(s.source) }));
  return { ...spec, source: given(spec.source), ...(steps ? { steps } : {}) };
}

const isInbox = (spec: PostingSpec): boolean => stepsOf(spec).some((s) => s.source.kind === "inbox");

/** Why rows that were posted before are not posted again by themselves. */
function beforeWords({ number, at, reversedBy }: PostedBefore, ws: Workspace): string {
  const when = writeDate(at.slice(0, 10), ws.locale);
  const reversed = reversedBy === null ? "" : `, which #${reversedBy} reversed`;
  return `The very same rows were posted as #${number} on ${when}${reversed}. No new rows have come since, and nothing was posted.`;
}

async function differencesIn(ws: Workspace, spec: PostingSpec, { checks }: Preview): Promise<string> {
  const schema = await ws.schema();
  const labelOf = (step: number, column: string): string => {
    const table = findTable(schema, stepsOf(spec)[step]?.target ?? "");
    return (table && findColumn(table, column)?.label) ?? column;
  };
  const wrong = checks.filter((c) => !c.agrees);
  return wrong.map((c) => checkWords(c, labelOf(c.control.step, c.control.column ?? ""), ws.locale)).join(" ");
}

function rowFormat(format: string): RowFormat {
  const found = ROW_FORMATS.find((f) => f === format);
  if (!found) throw new TypeError(`${format} is not available here`);
  return found;
}
