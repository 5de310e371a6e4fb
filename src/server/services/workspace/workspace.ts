import { join } from "node:path";
import { withDerivedFields } from "@/core/derive/derive";
import { type DerivedField, derivedFieldSchema } from "@/core/derive/spec";
import { columnsRead, rulesFor, shownSchema, withRules } from "@/core/people/rules";
import { queryOfTable } from "@/core/query/choices";
import { tablesToCopy, tablesToCopyAsOf } from "@/core/query/onCopy";
import { type KnownTables, type NamedQuery, withQueryTables } from "@/core/query/queryTables";
import type { Written } from "@/core/schema/afterEdit";
import { linkSpecSchema } from "@/core/schema/linkSpec";
import type { Schema } from "@/core/schema/schema";
import { type Calendar, type Today, USUAL_CALENDAR } from "@/core/types/calendar";
import { dayInZone } from "@/core/types/date";
import type { Locale } from "@/core/types/format";
import { calendarSchema } from "@/core/types/schemas";
import { Catalogue } from "@/server/catalogue/catalogue";
import { Objects } from "@/server/catalogue/objects";
import { People, type Person } from "@/server/catalogue/people";
import { rowNames, withNamed } from "@/server/catalogue/rowNames";
import { savedQueries } from "@/server/catalogue/savedQueries";
import { savedRules } from "@/server/catalogue/savedRules";
import { written } from "@/server/catalogue/written";
import { Progress } from "@/server/common/progress";
import { Refusal } from "@/server/common/refusal";
import { Engine } from "@/server/engine/engine";
import type { Job } from "@/server/engine/protocol";
import { BrokenObjects } from "@/server/services/desk/brokenObjects";
import { Surveys } from "@/server/services/shape/surveys";
import type { CopyKeeper } from "@/server/source/columnar/keeper";
import { LARGE } from "@/server/source/large";
import { isServer, plainAddress } from "@/server/source/postgres/address";
import { type Watching, watching } from "@/server/source/watching";
import { type CopiedAsOf, copiedAsOfSchema, dueAsOf, NOTHING_AS_OF } from "./copiedAsOf";
import { KeptShape } from "./keptShape";
import { Shapes, type ToldOfShape } from "./shapes";
import { SharedWork } from "./shared";

/** One running ledger: a data folder, the business database it looks at, and the processes that read it. */
export class Workspace {
  readonly catalogue: Catalogue;
  /** Readings that several may wait for together. */
  readonly shared = new SharedWork();
  /** How far files are that somebody waits for. */
  readonly progress = new Progress();
  /** Changes of tables that were looked at. */
  readonly surveys = new Surveys();
  /** What changes broke, as far as it is known. */
  readonly broken = new BrokenObjects();
  readonly outbox: string;
  readonly people: People;
  /** The saved objects as the one who works here has them. */
  readonly objects: Objects;
  /** Who works here; null where there are no accounts, and for the ledger's own work. */
  readonly signedIn: Person | null = null;
  /** How long reading one view of the business database may take. */
  viewLimitMs = 20_000;
  /** Whether a schema will do here whose types are from a sample, until all values have been looked at. */
  private readonly isEarly: boolean = false;
  private readonly read: {
    layered: { read: Promise<Schema>; stamp: string; schema: Promise<Schema> } | null;
    asked: { layered: Promise<Schema>; queries: NamedQuery[]; schema: Promise<Schema> } | null;
    /** As people have it, by whom: of which schema, and by what rules and queries. */
    ruled: Map<string, { of: Schema; by: string; schema: Schema }>;
  } = { layered: null, asked: null, ruled: new Map() };
  private readonly watch: Watching;
  private readonly shapes: Shapes;
  /** Saved queries as tables, as they were made last. */
  private readonly queryTables: KnownTables = new WeakMap();

  constructor(
    readonly folder: string,
    private readonly located: string,
    root: string,
    readonly now: () => Date = () => new Date(),
    readonly engine: Engine = new Engine(join(root, "dist/engine.mjs")),
    /** The columnar copy of the database's large tables; null where none is made. */
    readonly copy: CopyKeeper | null = null,
  ) {
    this.catalogue = new Catalogue(folder, join(root, "src/server/catalogue/migrations"), now);
    this.watch = watching(located);
    const kept = isServer(located) ? null : new KeptShape(folder, located, join(root, "dist/engine.mjs"));
    this.shapes = new Shapes(
      this.watch,
      kept,
      (told, most, onShare) => this.inspect({ kind: "inspect", database: this.database, ...told, skip: [], ...(most === undefined ? {} : { most }) }, onShare),
      (schema) => this.wantCopied(schema),
    );
    this.outbox = join(folder, "outbox");
    this.people = new People(this.catalogue.db, now);
    this.objects = new Objects(this.catalogue, this.people, null);
  }

  /** The business database, as jobs are told of it: a file's path, or a server's address with the zone in which its moments are read. */
  get database(): string {
    return isServer(this.located) ? plainAddress(this.located, this.locale.zone) : this.located;
  }

  /** The same ledger as one person has it: their objects, and of each table the rows they may see. */
  as(person: Person): Workspace {
    return Object.create(this, {
      signedIn: { value: person },
      objects: { value: new Objects(this.catalogue, this.people, person) },
    }) as Workspace;
  }

  /**
   * The same ledger for what is only looked at: large tables have their types from a sample until all values have been
   * looked at. Whatever writes, sends or keeps anything is done with the ledger itself, which waits for that.
   */
  early(): Workspace {
    return Object.create(this, { isEarly: { value: true } }) as Workspace;
  }

  get locale(): Locale {
    const set = (this.catalogue.setting("locale") ?? {}) as Partial<Locale>;
    return { locale: set.locale ?? "en-GB", zone: set.zone ?? Intl.DateTimeFormat().resolvedOptions().timeZone };
  }

  /** The name of who works here. */
  get person(): string {
    return this.signedIn?.name ?? String(this.catalogue.setting("person") ?? "the owner");
  }

  /** What the data knows them as: their name, unless the owner has said otherwise. */
  get knownAs(): string {
    return this.signedIn?.knownAs || this.person;
  }

  /** Writes down what was done, and who did it. */
  record(action: string, about: string): void {
    this.people.record(this.person, action, about);
  }

  /** Writes a deed in the catalogue with its line in the log: both of them or neither, as it is then answered. */
  recorded<T>(deed: () => T): T {
    return written(this.catalogue.db, deed);
  }

  /**
   * Writes down what was done elsewhere: in the business database, whose journal has it whole. A log without room does not
   * make it undone, so that it is not answered as a failure.
   */
  recordDone(action: string, about: string): void {
    try {
      this.record(action, about);
    } catch (error) {
      console.error(`The log could not take that somebody ${action}: ${error instanceof Error ? error.message : error}`);
    }
  }

  /** Who letters are from. */
  get company(): string {
    return String(this.catalogue.setting("company") ?? "Our company");
  }

  /** Whether an owner wants a columnar copy to be made. */
  get wantsCopy(): boolean {
    return this.catalogue.setting("columnarCopy") !== "off";
  }

  /** What an owner chose to be read as of an earlier moment, of a server's tables. */
  get copiedAsOf(): CopiedAsOf {
    return copiedAsOfSchema.safeParse(this.catalogue.setting("copiedAsOf")).data ?? NOTHING_AS_OF;
  }

  /** The large tables of which an earlier moment will do: for what is only looked at, and tells of it. */
  get asOf(): string[] {
    return this.isEarly && isServer(this.located) ? this.copiedAsOf.tables : [];
  }

  private wantCopied(schema: Schema): void {
    if (!isServer(this.located)) return void this.copy?.want(tablesToCopy(schema, LARGE));
    const now = this.now();
    this.copy?.want(tablesToCopyAsOf(schema, this.copiedAsOf.tables, LARGE), dueAsOf(this.copiedAsOf, this.locale.zone, now), now.getTime() - Date.now());
  }

  /** Sees to it that the tables of a server that are read as of an earlier moment are copied when that is due. */
  async keepCopiedAsOf(): Promise<void> {
    if (isServer(this.located)) this.wantCopied(await (await this.readShape()).schema);
  }

  /** How the workspace divides its time. */
  get calendar(): Calendar {
    return calendarSchema.safeParse(this.catalogue.setting("calendar")).data ?? USUAL_CALENDAR;
  }

  /** The day it is in the workspace's zone, by its calendar. */
  get today(): Today {
    return { day: dayInZone(this.now(), this.locale.zone), calendar: this.calendar };
  }

  /** When something is printed, as it is printed on it. */
  printedAt(): string {
    const { locale, zone } = this.locale;
    return `printed ${new Intl.DateTimeFormat(locale, { dateStyle: "medium", timeStyle: "short", timeZone: zone }).format(this.now())}`;
  }

  /**
   * The database's shape with what people made of it: links, derived fields; and the rules on rows that bind the one who
   * works here. Whatever is resolved on it keeps to them.
   */
  async schema(): Promise<Schema> {
    return this.ruled(await this.wholeSchema());
  }

  /** The schema for a browser: what rules there are is not told. */
  async shownSchema(): Promise<Schema> {
    const shown = shownSchema(await this.schema());
    if (this.signedIn?.role !== "viewer") return shown;
    // To those who only look a query is its columns; how it is made is not told.
    return { ...shown, queries: shown.queries?.map(({ rowsOf: _, ...table }) => table) };
  }

  /** @throws Refusal where a rule keeps some rows of a table from the one who works here */
  async needWhole(tables: (string | null)[]): Promise<void> {
    const schema = await this.schema();
    const asked = tables.includes(null) ? schema.tables.map((t) => t.name) : tables;
    const partial = schema.tables.find((t) => t.rules && asked.includes(t.name));
    if (partial) throw new Refusal(403, `This works on all rows of “${partial.label}”, and a row rule hides some from you. Ask an owner.`);
  }

  /**
   * @throws Refusal for those whom a rule on rows binds: what columns, links and derived fields mean decides what rules
   *   let through
   */
  needUnbound(): void {
    const { signedIn } = this;
    if (signedIn && rulesFor(savedRules(this.catalogue), signedIn).size > 0)
      throw new Refusal(403, "A row rule applies to your account, so you cannot change columns, links or derived fields. Ask an owner.");
  }

  /**
   * @param column the one that is written; null where whole rows come or go
   * @throws Refusal where a rule on rows that binds the one who works here reads what is written: it would decide what they see
   */
  async needUnread(table: string, column: string | null): Promise<void> {
    const read = columnsRead(await this.schema()).get(table);
    if (read && (column === null ? read.brought : read.columns.has(column)))
      throw new Refusal(403, `A row rule for your account uses “${column ?? table}”, so you cannot change it. Ask an owner.`);
  }

  private ruled(schema: Schema): Schema {
    const { signedIn } = this;
    if (!signedIn) return schema;
    const usable = this.objects.usable("query");
    const rules = savedRules(this.catalogue);
    const { knownAs, today } = this;
    const by = JSON.stringify([signedIn, knownAs, today, rules, [...usable].sort()]);
    const known = this.read.ruled.get(signedIn.id);
    if (known?.of === schema && known.by === by) return known.schema;
    const open = { ...schema, queries: schema.queries?.filter((t) => usable.has(queryOfTable(t.name) ?? "")) };
    const made = withRules(open, rules, { ...signedIn, knownAs }, today);
    this.read.ruled.set(signedIn.id, { of: schema, by, schema: made });
    return made;
  }

  /** Tells those apart for whom the same question may have other answers. */
  private identity(): string {
    const { signedIn } = this;
    if (!signedIn) return "";
    return rulesFor(savedRules(this.catalogue), signedIn).size > 0 ? signedIn.id : this.knownAs;
  }

  /** The shape with links, derived fields and row names, and saved queries as tables over these: each made again only where it is another. */
  private async wholeSchema(): Promise<Schema> {
    const { schema: layered } = await this.layeredSchema();
    const queries = savedQueries(this.catalogue);
    const { asked } = this.read;
    if (asked?.layered === layered && asked.queries === queries) return asked.schema;
    const { today } = this;
    const schema = layered.then((base) => withQueryTables(base, queries, today, this.queryTables));
    this.read.asked = { layered, queries, schema };
    return schema;
  }

  private async layeredSchema(): Promise<{ schema: Promise<Schema> }> {
    const fields = this.derivedFields();
    const named = rowNames(this.catalogue);
    const { today } = this;
    const stamp = JSON.stringify([today, fields, named]);
    const { schema: read } = await this.readShape();
    const { layered } = this.read;
    if (layered?.read === read && layered.stamp === stamp) return layered;
    const schema = read.then((shape) => withNamed(withDerivedFields(shape, fields, today), named));
    this.read.layered = { read, stamp, schema };
    return this.read.layered;
  }

  /** The schema as it would be with a derived field changed. */
  async schemaWith(changed: DerivedField): Promise<Schema> {
    const fields = this.derivedFields().filter((f) => f.id !== changed.id);
    return this.ruled(withDerivedFields(await (await this.readShape()).schema, [...fields, changed], this.today));
  }

  /**
   * The schema as it would be were the database's shape another.
   * @param carry a saved description as it would be then
   * @param without a derived field that would be gone
   */
  async schemaAs(shape: (read: Schema) => Schema, carry: (spec: unknown) => unknown, without: string | null = null): Promise<Schema> {
    const fields = this.derivedFields().flatMap((f) => (f.id === without ? [] : [carry(f) as DerivedField]));
    const queries = savedQueries(this.catalogue).map((q) => ({ ...q, spec: carry(q.spec) as NamedQuery["spec"] }));
    const base = withNamed(withDerivedFields(shape(await (await this.readShape()).schema), fields, this.today), rowNames(this.catalogue));
    return this.ruled(withQueryTables(base, queries, this.today));
  }

  private derivedFields(): DerivedField[] {
    return this.catalogue.list("derived").flatMap(({ id, name, spec }) => {
      const parsed = derivedFieldSchema.safeParse(spec);
      return parsed.success ? [{ ...parsed.data, id, label: name }] : [];
    });
  }

  private toldOfShape(): ToldOfShape {
    const links = this.catalogue.list("link").flatMap(({ id, name, spec }) => {
      const parsed = linkSpecSchema.safeParse(spec);
      return parsed.success ? [{ id, label: name, spec: parsed.data }] : [];
    });
    return { settings: this.catalogue.columnSettings(), links };
  }

  private readShape(): ReturnType<Shapes["now"]> {
    return this.shapes.now(this.toldOfShape(), this.isEarly);
  }

  /** Takes the shape over an edit of the ledger's own (see Shapes). */
  editDone(written: Written, states: { before: string; after: string | null }): Promise<void> {
    return this.shapes.editDone(written, states);
  }

  /** How far the database's opening is, 0 to 1; null where pages can be shown (see Shapes). */
  opening(): Promise<number | null> {
    return this.shapes.opening(this.toldOfShape());
  }

  /** How far the look at all values is, and what it found otherwise than a sample (see Shapes): in names of tables, which those who only look do not see. */
  get looking(): Shapes["looking"] {
    const { looking } = this.shapes;
    return this.signedIn?.role === "viewer" ? { ...looking, retyped: [] } : looking;
  }

  /** Reads the shape; a view that takes too long is left out, and the rest is read again without it. */
  private async inspect(job: Job<"inspect">, onShare: (share: number) => void): Promise<Schema> {
    const stop = new AbortController();
    let timer: NodeJS.Timeout | undefined;
    let reading = -1;
    const onPlace = (at: number) => {
      clearTimeout(timer);
      reading = at;
      if (at >= 0) timer = setTimeout(() => stop.abort(), this.viewLimitMs);
    };
    try {
      return await this.engine.run<"inspect">(job, {
        client: "schema",
        timeLimitMs: 600_000,
        signal: stop.signal,
        onPlace,
        onProgress: onShare,
      });
    } catch (error) {
      if (!stop.signal.aborted || reading < 0) throw error;
      return this.inspect({ ...job, skip: [...job.skip, reading] }, onShare);
    } finally {
      clearTimeout(timer);
    }
  }

  /** What tells one state of everything that can be read from the next: the business database, what is saved, and who reads. */
  async state(): Promise<string> {
    const { isFirst } = this.isEarly ? await this.readShape() : { isFirst: false };
    return `${JSON.stringify(this.today)} ${(await this.watch.stamp()).data} ${isFirst} ${this.copiedAt()} ${this.catalogue.stamp()} ${this.identity()}`;
  }

  /** Of which moment tables are that are read as of an earlier one. */
  private copiedAt(): string {
    return this.asOf.length > 0 ? (this.copy?.kept.state?.tables[0]?.at ?? "") : "";
  }

  close(): void {
    this.watch.close();
    this.copy?.close();
    this.engine.close();
    this.catalogue.close();
  }
}
