import { integer, primaryKey, sqliteTable, text, uniqueIndex } from "drizzle-orm/sqlite-core";
import type { AgreedControl } from "@/core/query/controls";
import type { EachItem } from "../../core/schedule/each";
import type { ColumnFormat } from "../../core/types/schemas";
import type { Cell, ValueType } from "../../core/types/valueType";

/** Saved objects: a JSON description with its kind; its shape is checked by Zod when it is read. */
export const objects = sqliteTable("object", {
  id: text().primaryKey(),
  kind: text({
    enum: ["query", "report", "schedule", "derived", "link", "posting", "folio", "pivot", "chart", "dashboard", "letter", "rule", "page"],
  }).notNull(),
  name: text().notNull(),
  spec: text({ mode: "json" }).$type<unknown>().notNull(),
  createdAt: integer("created_at", { mode: "timestamp_ms" }).notNull(),
  updatedAt: integer("updated_at", { mode: "timestamp_ms" }).notNull(),
  /** Counts up with each save, so that an older page cannot overwrite a newer one unnoticed. */
  revision: integer().notNull().default(1),
  /** The person whose it is; of what was there before accounts, and of what the ledger comes with, nobody's. */
  owner: text(),
});

/** Where an object lies in its section's list, and what is noted of it. */
export const filings = sqliteTable("filing", {
  object: text().primaryKey(),
  /** "" for none. */
  folder: text().notNull().default(""),
  note: text().notNull().default(""),
});

/** What saved objects were, each time they were saved: by whom, and when. */
export const versions = sqliteTable(
  "version",
  {
    object: text().notNull(),
    revision: integer().notNull(),
    name: text().notNull(),
    spec: text({ mode: "json" }).$type<unknown>().notNull(),
    /** null where it is not known: of what was there before there was a history, and of the ledger's own work. */
    person: text(),
    at: integer({ mode: "timestamp_ms" }).notNull(),
  },
  (t) => [primaryKey({ columns: [t.object, t.revision] })],
);

/** Deleted objects, as they were, until they are deleted for good. */
export const bin = sqliteTable("bin", {
  id: text().primaryKey(),
  kind: text().$type<typeof objects.$inferSelect.kind>().notNull(),
  name: text().notNull(),
  spec: text({ mode: "json" }).$type<unknown>().notNull(),
  owner: text(),
  deletedBy: text("deleted_by"),
  deletedAt: integer("deleted_at", { mode: "timestamp_ms" }).notNull(),
});

/** What people left unsaved, by the page it was left on. */
export const drafts = sqliteTable(
  "draft",
  {
    person: text().notNull(),
    place: text().notNull(),
    spec: text({ mode: "json" }).$type<unknown>().notNull(),
    at: integer({ mode: "timestamp_ms" }).notNull(),
  },
  (t) => [primaryKey({ columns: [t.person, t.place] })],
);

/** Accounts. A password is kept as its scrypt hash; one that has none cannot be signed in with. */
export const people = sqliteTable("person", {
  id: text().primaryKey(),
  /** What one signs in with: small letters, no spaces about it. */
  login: text().notNull().unique(),
  name: text().notNull(),
  role: text({ enum: ["owner", "analyst", "viewer"] }).notNull(),
  /** What the data knows them as: the value that rules and filters compare with. */
  knownAs: text("known_as").notNull().default(""),
  password: text(),
  blocked: integer("barred", { mode: "boolean" }).notNull().default(false),
  createdAt: integer("created_at", { mode: "timestamp_ms" }).notNull(),
});

/** Sessions, by the hash of what the browser holds: a stolen copy of this file lets nobody in. */
export const sessions = sqliteTable("session", {
  token: text().primaryKey(),
  person: text().notNull(),
  createdAt: integer("created_at", { mode: "timestamp_ms" }).notNull(),
  seenAt: integer("seen_at", { mode: "timestamp_ms" }).notNull(),
});

/** Failures to sign in, by what was tried: an account, or a published page. */
export const failures = sqliteTable("failure", {
  key: text().primaryKey(),
  count: integer().notNull(),
  at: integer({ mode: "timestamp_ms" }).notNull(),
});

/** Whom an object is shared with: a person, or everyone (""). */
export const shares = sqliteTable("share", { object: text().notNull(), person: text().notNull(), level: text({ enum: ["see", "edit"] }).notNull() }, (t) => [
  primaryKey({ columns: [t.object, t.person] }),
]);

/** Where a page is published: its secret address, the hash of its passcode, how often it was opened. */
export const published = sqliteTable("published", {
  object: text().primaryKey(),
  address: text().notNull().unique(),
  passcode: text(),
  views: integer().notNull().default(0),
});

/** Who did what, and when: sign-ins, shares, exports, postings, changes of accounts and rules. */
export const log = sqliteTable("log", {
  id: integer().primaryKey({ autoIncrement: true }),
  at: integer({ mode: "timestamp_ms" }).notNull(),
  person: text().notNull(),
  action: text().notNull(),
  about: text().notNull(),
});

/** Single values of the workspace, by name, as JSON. */
export const settings = sqliteTable("setting", { name: text().primaryKey(), value: text({ mode: "json" }).$type<unknown>().notNull() });

/** What a person has set for a column of the business database. */
export const columnSettings = sqliteTable(
  "column_setting",
  {
    table: text().notNull(),
    column: text().notNull(),
    unit: text(),
    label: text(),
    note: text(),
    type: text({ mode: "json" }).$type<ValueType>(),
    format: text({ mode: "json" }).$type<ColumnFormat>(),
  },
  (t) => [primaryKey({ columns: [t.table, t.column] })],
);

/** Executions of schedules. One schedule is run once for each time it is due, whichever process does it. */
export const runs = sqliteTable(
  "run",
  {
    id: text().primaryKey(),
    schedule: text().notNull(),
    dueAt: integer("due_at", { mode: "timestamp_ms" }).notNull(),
    startedAt: integer("started_at", { mode: "timestamp_ms" }).notNull(),
    finishedAt: integer("finished_at", { mode: "timestamp_ms" }),
    state: text({ enum: ["queued", "running", "done", "failed", "held"] }).notNull(),
    late: integer({ mode: "boolean" }).notNull(),
    manual: integer({ mode: "boolean" }).notNull(),
    attempt: integer().notNull(),
    /** Sent all the same, though its control totals do not agree. */
    forced: integer({ mode: "boolean" }).notNull().default(false),
    rows: integer(),
    pages: integer(),
    files: text({ mode: "json" }).$type<{ path: string; bytes: number }[]>(),
    error: text(),
    /** The control totals it was held against, each of which agreed; null where it was sent without. */
    controls: text({ mode: "json" }).$type<AgreedControl[]>(),
    /** When a mail server took its message. */
    sentAt: integer("sent_at", { mode: "timestamp_ms" }),
    /** When its files were removed, being older than the workspace keeps them. */
    removedAt: integer("removed_at", { mode: "timestamp_ms" }),
  },
  (t) => [uniqueIndex("run_once").on(t.schedule, t.dueAt)],
);

/**
 * One of those that a run makes its subject for, one after the other, so that a run that was killed goes on where it was.
 * "sending" is written down before a message goes to a mail server: where a process died over it, nobody knows whether it
 * arrived, and it is not sent again.
 */
export const runItems = sqliteTable(
  "run_item",
  {
    run: text().notNull(),
    place: integer().notNull(),
    item: text({ mode: "json" }).$type<EachItem>().notNull(),
    state: text({ enum: ["waiting", "empty", "made", "sending", "sent"] }).notNull(),
    rows: integer(),
    pages: integer(),
    totals: text({ mode: "json" }).$type<Record<string, Cell>>(),
    files: text({ mode: "json" }).$type<{ path: string; bytes: number }[]>(),
    error: text(),
  },
  (t) => [primaryKey({ columns: [t.run, t.place] })],
);

/** Who may run schedules now: one process at a time, until its time is up. The epoch counts changes of hands. */
export const leases = sqliteTable("lease", {
  name: text().primaryKey(),
  owner: text().notNull(),
  epoch: integer().notNull(),
  until: integer({ mode: "timestamp_ms" }).notNull(),
});

/** What a viewer has chosen on an object, such as a dashboard's filters: theirs alone. */
export const viewerStates = sqliteTable(
  "viewer_state",
  { viewer: text().notNull(), object: text().notNull(), state: text({ mode: "json" }).$type<unknown>().notNull() },
  (t) => [primaryKey({ columns: [t.viewer, t.object] })],
);

/** What a person opened last, and what they pinned: an object by its id, a table as "table:" and its name. */
export const visits = sqliteTable(
  "visit",
  {
    person: text().notNull(),
    object: text().notNull(),
    at: integer({ mode: "timestamp_ms" }).notNull(),
    pinned: integer({ mode: "boolean" }).notNull().default(false),
  },
  (t) => [primaryKey({ columns: [t.person, t.object] })],
);
