import { randomUUID } from "node:crypto";
import { mkdirSync } from "node:fs";
import { join } from "node:path";
import Database from "better-sqlite3";
import { and, asc, desc, eq, lt } from "drizzle-orm";
import { type BetterSQLite3Database, drizzle } from "drizzle-orm/better-sqlite3";
import { migrate } from "drizzle-orm/better-sqlite3/migrator";
import type { ColumnSetting } from "@/core/schema/told";
import { BIN_MS, type Deleted, emptyBin, firstRevision, inBin, keepFormer, keepVersion, putInBin, takeFromBin, type Version, versionsOf } from "./history";
import { Leases } from "./leases";
import { Runs } from "./runs";
import { columnSettings, drafts, filings, objects, settings, viewerStates, visits } from "./tables";
import { written } from "./written";

export type ObjectKind = (typeof objects.$inferSelect)["kind"];
export type SavedObject = typeof objects.$inferSelect;
/** What a person opened, and when; an object by its id, a table as "table:" and its name. */
export type Visit = Pick<typeof visits.$inferSelect, "object" | "at" | "pinned">;
/** Where an object lies in its list, and what is noted of it. */
export type Filing = Pick<typeof filings.$inferSelect, "folder" | "note">;
/** What a person has set for a column; it stands before what the file says. */

/** How long what was left unsaved is kept. */
const DRAFT_MS = 60 * 24 * 3_600_000;

/** A save that would overwrite what somebody saved in the meantime. */
export class StaleRevision extends Error {
  constructor() {
    super("It was changed and saved elsewhere meanwhile. Reload to see that version, or save yours under another name.");
    this.name = "StaleRevision";
  }
}

/** Whether an object is kept as it was. One that was deleted and made anew under its id goes on from its last revision. */
const isSame = (a: SavedObject, b: SavedObject): boolean =>
  a.revision === b.revision && a.name === b.name && a.owner === b.owner && a.kind === b.kind && a.updatedAt.getTime() === b.updatedAt.getTime();

/** The store of saved objects, settings, runs (runs.ts) and leases (leases.ts): one SQLite file in the data folder. */
export class Catalogue {
  private readonly sqlite: Database.Database;
  /** Another number when another process, or this one, has written: asked thousands of times, and prepared once. */
  private readonly written: { others: Database.Statement; own: Database.Statement };
  readonly db: BetterSQLite3Database;
  readonly runs: Runs;
  readonly leases: Leases;
  /** How many changes were notes of what was opened. */
  private noted = 0;
  /** How often saved objects were written here. */
  private objectWrites = 0;
  private listed: { version: string; all: SavedObject[]; byId: Map<string, SavedObject> } | null = null;

  /** Opens the catalogue of a data folder, making or migrating it as needed. */
  constructor(
    folder: string,
    migrations: string,
    private readonly now: () => Date = () => new Date(),
  ) {
    mkdirSync(folder, { recursive: true });
    this.sqlite = new Database(join(folder, "catalogue.sqlite"), { timeout: 5000 });
    this.sqlite.pragma("journal_mode = WAL");
    this.sqlite.pragma("synchronous = FULL");
    this.db = drizzle(this.sqlite);
    this.runs = new Runs(this.db, now);
    this.leases = new Leases(this.sqlite, this.db, now);
    migrate(this.db, { migrationsFolder: migrations });
    this.written = {
      others: this.sqlite.prepare("PRAGMA data_version").pluck(),
      own: this.sqlite.prepare("SELECT total_changes()").pluck(),
    };
  }

  /** Changes with every change to the catalogue, by this process or another; what this process notes as opened is none. */
  stamp(): string {
    return `${this.written.others.get()} ${(this.written.own.get() as number) - this.noted}`;
  }

  close(): void {
    this.sqlite.close();
  }

  /** The saved objects by name. They are read and unpacked once, until one of them changes: here, or by another process. */
  list(kind?: ObjectKind): SavedObject[] {
    const all = this.sqlite.inTransaction ? this.readObjects() : this.knownObjects();
    return kind ? all.filter((o) => o.kind === kind) : [...all];
  }

  private readObjects = (): SavedObject[] => this.db.select().from(objects).orderBy(asc(objects.name)).all();

  /** Not within a transaction: what it has written may yet be undone. */
  private knownObjects(): SavedObject[] {
    const version = this.listVersion();
    if (this.listed?.version !== version) {
      // What is as it was stays the one it was, so that what is known of it holds.
      const before = this.listed?.byId;
      const all = this.readObjects().map((o) => {
        const known = before?.get(o.id);
        return known && isSame(known, o) ? known : o;
      });
      this.listed = { version, all, byId: new Map(all.map((o) => [o.id, o])) };
    }
    return this.listed.all;
  }

  private listVersion = (): string => `${this.written.others.get()} ${this.objectWrites}`;

  /** Writes to the saved objects: what was read of them before is old from then on, also where it is undone. */
  private writeObject<T>(deed: () => T): T {
    try {
      return deed();
    } finally {
      this.objectWrites++;
    }
  }

  get(id: string): SavedObject | undefined {
    if (!this.sqlite.inTransaction && this.listed?.version === this.listVersion()) return this.listed.byId.get(id);
    return this.db.select().from(objects).where(eq(objects.id, id)).get();
  }

  create(kind: ObjectKind, name: string, spec: unknown, id: string = randomUUID(), owner: string | null = null): SavedObject {
    const at = this.now();
    return this.writeObject(() =>
      written(this.db, () => {
        const values = { id, kind, name, spec, owner, createdAt: at, updatedAt: at, revision: firstRevision(this.db, id) };
        const made = this.db.insert(objects).values(values).returning().get();
        keepVersion(this.db, made, owner, at);
        takeFromBin(this.db, id);
        return made;
      }),
    );
  }

  /** Makes an object a person's own. */
  give(id: string, owner: string): void {
    this.writeObject(() => this.db.update(objects).set({ owner }).where(eq(objects.id, id)).run());
  }

  /**
   * @param by the person who saves it; null where that is nobody's
   * @throws StaleRevision where the object has been saved since the revision given
   */
  save(id: string, change: { name?: string | undefined; spec?: unknown }, revision: number, by: string | null = null): SavedObject | undefined {
    const values = { ...(change.name === undefined ? {} : { name: change.name }), ...(change.spec === undefined ? {} : { spec: change.spec }) };
    const saved = this.writeObject(() =>
      written(this.db, () => {
        const former = this.get(id);
        const next = this.db
          .update(objects)
          .set({ ...values, updatedAt: this.now(), revision: revision + 1 })
          .where(and(eq(objects.id, id), eq(objects.revision, revision)))
          .returning()
          .get();
        if (former && next) {
          keepFormer(this.db, former);
          keepVersion(this.db, next, by, next.updatedAt);
        }
        return next;
      }),
    );
    if (!saved && this.get(id)) throw new StaleRevision();
    return saved;
  }

  /** Deletes an object; it can come back from the bin. @param by the person who deletes it */
  remove(id: string, by: string | null = null): void {
    this.writeObject(() =>
      written(this.db, () => {
        const former = this.get(id);
        if (former) putInBin(this.db, former, by, this.now());
        this.db.delete(objects).where(eq(objects.id, id)).run();
      }),
    );
  }

  /** What an object was each time it was saved, the last first. */
  versionsOf(id: string): Version[] {
    return versionsOf(this.db, id);
  }

  /** The deleted objects that can come back, the last first. */
  inBin(): Deleted[] {
    return inBin(this.db);
  }

  /** Brings a deleted object back as it was, under its id. */
  restore(deleted: Deleted): SavedObject {
    return this.create(deleted.kind, deleted.name, deleted.spec, deleted.id, deleted.owner);
  }

  /** Deletes for good what has been in the bin too long, and what was left unsaved too long ago. */
  forgetOld(): void {
    const now = this.now().getTime();
    written(this.db, () => {
      emptyBin(this.db, new Date(now - BIN_MS));
      this.db
        .delete(drafts)
        .where(lt(drafts.at, new Date(now - DRAFT_MS)))
        .run();
    });
  }

  /** What a person left unsaved on a page; undefined where they left nothing. */
  draftOf(person: string, place: string): { spec: unknown; at: Date } | undefined {
    return this.db
      .select({ spec: drafts.spec, at: drafts.at })
      .from(drafts)
      .where(and(eq(drafts.person, person), eq(drafts.place, place)))
      .get();
  }

  /** Keeps what a person leaves unsaved on a page; null: nothing. It makes nothing of the catalogue be read again. */
  keepDraft(person: string, place: string, spec: unknown): void {
    const set = { spec, at: this.now() };
    const target = [drafts.person, drafts.place];
    this.noted +=
      spec === null
        ? this.db
            .delete(drafts)
            .where(and(eq(drafts.person, person), eq(drafts.place, place)))
            .run().changes
        : this.db
            .insert(drafts)
            .values({ person, place, ...set })
            .onConflictDoUpdate({ target, set })
            .run().changes;
  }

  /** Where objects lie, and what is noted of them, by id; those in no folder and without a note are not among them. */
  filings(): Map<string, Filing> {
    return new Map(
      this.db
        .select()
        .from(filings)
        .all()
        .map(({ object, ...filing }) => [object, filing]),
    );
  }

  /** Puts an object into a folder, or notes something of it; what is not given stays. */
  file(object: string, set: Partial<Filing>): void {
    this.db
      .insert(filings)
      .values({ object, ...set })
      .onConflictDoUpdate({ target: filings.object, set })
      .run();
  }

  setting(name: string): unknown {
    return this.db.select().from(settings).where(eq(settings.name, name)).get()?.value;
  }

  /** What a viewer chose on an object; undefined where they chose nothing. */
  viewerState(viewer: string, object: string): unknown {
    return this.db
      .select()
      .from(viewerStates)
      .where(and(eq(viewerStates.viewer, viewer), eq(viewerStates.object, object)))
      .get()?.state;
  }

  setViewerState(viewer: string, object: string, state: unknown): void {
    const target = [viewerStates.viewer, viewerStates.object];
    this.db.insert(viewerStates).values({ viewer, object, state }).onConflictDoUpdate({ target, set: { state } }).run();
  }

  /** Notes that a person opened something. */
  visit(person: string, object: string): void {
    this.note(person, object, { at: this.now() });
  }

  /** Pins something for a person, so that it stands before what they opened last, or unpins it. */
  pin(person: string, object: string, pinned: boolean): void {
    this.note(person, object, { pinned });
  }

  private note(person: string, object: string, set: { at: Date } | { pinned: boolean }): void {
    const values = { person, object, at: this.now(), ...set };
    this.noted += this.db
      .insert(visits)
      .values(values)
      .onConflictDoUpdate({ target: [visits.person, visits.object], set })
      .run().changes;
  }

  /** What a person pinned, then what they opened last. */
  visitsOf(person: string, limit: number): Visit[] {
    const { object, at, pinned } = visits;
    return this.db.select({ object, at, pinned }).from(visits).where(eq(visits.person, person)).orderBy(desc(pinned), desc(at)).limit(limit).all();
  }

  setSetting(name: string, value: unknown): void {
    this.db.insert(settings).values({ name, value }).onConflictDoUpdate({ target: settings.name, set: { value } }).run();
  }

  columnSettings(): ColumnSetting[] {
    return this.db.select().from(columnSettings).all();
  }

  /** Sets what is given for a column; null takes a setting back. */
  setColumn(table: string, column: string, set: Partial<Omit<ColumnSetting, "table" | "column">>): void {
    this.db
      .insert(columnSettings)
      .values({ table, column, ...set })
      .onConflictDoUpdate({ target: [columnSettings.table, columnSettings.column], set })
      .run();
  }

  /** Takes what is set for a table's columns along to other names. @param named a column's name from now on */
  renameColumns(from: string, to: string, named: (column: string) => string): void {
    const set = this.columnSettings().filter((s) => s.table === from);
    this.db.transaction((tx) => {
      tx.delete(columnSettings).where(eq(columnSettings.table, from)).run();
      for (const one of set)
        tx.insert(columnSettings)
          .values({ ...one, table: to, column: named(one.column) })
          .onConflictDoNothing()
          .run();
    });
  }
}
