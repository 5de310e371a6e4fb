import { readdirSync, statSync } from "node:fs";
import { join, relative, resolve, sep } from "node:path";
import type { AgreedControl } from "@/core/query/controls";
import { scheduleSpecSchema } from "@/core/schedule/spec";
import type { Run } from "@/server/catalogue/runs";
import type { Workspace } from "@/server/services/workspace/workspace";

export type OutboxFile = { path: string; folder: string; name: string; bytes: number; at: string };

/** What made files: a schedule, whose it is, of what, when, and what came of its message. */
export type Maker = {
  run: string;
  schedule: string;
  subject: { kind: string; id: string; name: string } | null;
  owner: string | null;
  dueAt: string;
  rows: number | null;
  pages: number | null;
  manual: boolean;
  late: boolean;
  /** The control totals that agreed; null where it was sent in spite of them, or made before they were written down. */
  controls: AgreedControl[] | null;
  forced: boolean;
  message: "none" | "sent" | "refused" | "noServer";
  sentAt: string | null;
};

/** Files that belong together: what one run made, or what lies in the outbox for another reason. */
export type OutboxGroup = { maker: Maker | null; files: OutboxFile[] };

/** Which files are for the one who works here: what schedules made that they may see. An owner takes all. */
function mayTake({ signedIn, catalogue, objects }: Workspace): (path: string) => boolean {
  if (!signedIn || signedIn.role === "owner") return () => true;
  const mine = new Set(objects.list("schedule").map((s) => s.id));
  const files = new Set(catalogue.runs.withFiles().flatMap((r) => (mine.has(r.schedule) ? (r.files ?? []).map((f) => f.path) : [])));
  return (path) => files.has(path);
}

/** The files that lie in the outbox for the one who works here, newest first; unfinished ones are not among them. */
export const listOutbox = (ws: Workspace): OutboxFile[] => {
  const may = mayTake(ws);
  return listFiles(ws.outbox).filter((file) => may(file.path));
};

/** The files of the outbox by the run that made them, the latest run first; then those of no run. */
export function outboxGroups(ws: Workspace): OutboxGroup[] {
  const files = new Map(listOutbox(ws).map((f) => [f.path, f]));
  const runs = ws.catalogue.runs.withFiles().toSorted((a, b) => b.dueAt.getTime() - a.dueAt.getTime() || b.startedAt.getTime() - a.startedAt.getTime());
  const made = runs.flatMap((run): OutboxGroup[] => {
    const there = (run.files ?? []).flatMap((f) => files.get(f.path) ?? []);
    for (const { path } of there) files.delete(path);
    return there.length > 0 ? [{ maker: makerOf(ws, run), files: there }] : [];
  });
  return files.size > 0 ? [...made, { maker: null, files: [...files.values()] }] : made;
}

function makerOf(ws: Workspace, run: Run): Maker {
  const schedule = ws.catalogue.get(run.schedule);
  const spec = scheduleSpecSchema.safeParse(schedule?.spec).data;
  const subject = spec && ws.objects.get(spec.subject.id);
  const hasMessage = run.files?.some((f) => f.path.endsWith(".eml")) ?? false;
  return {
    run: run.id,
    schedule: schedule?.name ?? "",
    subject: subject ? { kind: subject.kind, id: subject.id, name: subject.name } : null,
    owner: (schedule?.owner && ws.people.get(schedule.owner)?.name) || null,
    dueAt: run.dueAt.toISOString(),
    rows: run.rows,
    pages: run.pages,
    manual: run.manual,
    late: run.late,
    controls: run.controls,
    forced: run.forced,
    message: !hasMessage ? "none" : run.sentAt ? "sent" : run.state === "failed" ? "refused" : "noServer",
    sentAt: run.sentAt?.toISOString() ?? null,
  };
}

function listFiles(root: string): OutboxFile[] {
  let names: string[] = [];
  try {
    names = readdirSync(root, { recursive: true }) as string[];
  } catch {
    return [];
  }
  return names
    .flatMap((path): OutboxFile[] => {
      const stat = statSync(join(root, path), { throwIfNoEntry: false });
      if (!stat?.isFile() || path.endsWith(".part")) return [];
      const parts = path.split(sep);
      return [{ path: parts.join("/"), folder: parts.slice(0, -1).join(" › "), name: parts.at(-1) ?? path, bytes: stat.size, at: stat.mtime.toISOString() }];
    })
    .sort((a, b) => b.at.localeCompare(a.at) || a.path.localeCompare(b.path));
}

/** The place of an outbox file; null for a path that leads out of the outbox or to nothing. */
export function outboxPath(ws: Workspace, path: string): string | null {
  if (!mayTake(ws)(path)) return null;
  const root = ws.outbox;
  const at = resolve(root, path);
  const inside = relative(root, at);
  if (inside === "" || inside.startsWith("..") || resolve(root, inside) !== at) return null;
  return statSync(at, { throwIfNoEntry: false })?.isFile() ? at : null;
}
