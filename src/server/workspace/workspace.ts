import { statSync } from "node:fs";
import { join, resolve } from "node:path";
import { withDerivedFields } from "@/core/derive/derive";
import { type DerivedField, derivedFieldSchema } from "@/core/derive/spec";
import { linkSpecSchema } from "@/core/schema/linkSpec";
import type { Schema } from "@/core/schema/schema";
import { dayInZone } from "@/core/types/date";
import type { Locale } from "@/core/types/format";
import { Catalogue } from "@/server/catalogue/catalogue";
import { Engine } from "@/server/engine/engine";
import { JobFailure } from "@/server/engine/jobs";
import { SharedWork } from "./shared";

/** One running ledger: a data folder, the business database it looks at, and the processes that read it. */
export class Workspace {
  readonly catalogue: Catalogue;
  readonly engine: Engine;
  /** Readings that several may wait for together. */
  readonly shared = new SharedWork();
  readonly outbox: string;
  private shape: { stamp: string; schema: Promise<Schema> } | null = null;
  private layered: { read: Promise<Schema>; stamp: string; schema: Promise<Schema> } | null = null;

  constructor(
    readonly folder: string,
    readonly database: string,
    root: string,
    readonly now: () => Date = () => new Date(),
  ) {
    this.catalogue = new Catalogue(folder, join(root, "src/server/catalogue/migrations"), now);
    this.engine = new Engine(join(root, "dist/engine.mjs"));
    this.outbox = join(folder, "outbox");
  }

  get locale(): Locale {
    const set = (this.catalogue.setting("locale") ?? {}) as Partial<Locale>;
    return { locale: set.locale ?? "en-GB", zone: set.zone ?? Intl.DateTimeFormat().resolvedOptions().timeZone };
  }

  /** Who works here: until there are accounts, one person. */
  get person(): string {
    return String(this.catalogue.setting("person") ?? "the owner");
  }

  /** Who letters are from. */
  get company(): string {
    return String(this.catalogue.setting("company") ?? "Our company");
  }

  /** The day it is in the workspace's zone. */
  get today(): string {
    return dayInZone(this.now(), this.locale.zone);
  }

  /** When something is printed, as it is printed on it. */
  printedAt(): string {
    const { locale, zone } = this.locale;
    return `printed ${new Intl.DateTimeFormat(locale, { dateStyle: "medium", timeStyle: "short", timeZone: zone }).format(this.now())}`;
  }

  /** The database's shape with what people made of it: links, derived fields; read again when either has changed. */
  async schema(): Promise<Schema> {
    const fields = this.derivedFields();
    const stamp = `${this.today} ${JSON.stringify(fields)}`;
    const read = this.readShape();
    if (this.layered?.read !== read || this.layered.stamp !== stamp)
      this.layered = { read, stamp, schema: read.then((schema) => withDerivedFields(schema, fields, this.today)) };
    return this.layered.schema;
  }

  /** The schema as it would be with a derived field changed. */
  async schemaWith(changed: DerivedField): Promise<Schema> {
    const fields = this.derivedFields().filter((f) => f.id !== changed.id);
    return withDerivedFields(await this.readShape(), [...fields, changed], this.today);
  }

  private derivedFields(): DerivedField[] {
    return this.catalogue.list("derived").flatMap(({ id, name, spec }) => {
      const parsed = derivedFieldSchema.safeParse(spec);
      return parsed.success ? [{ ...parsed.data, id, label: name }] : [];
    });
  }

  private readShape(): Promise<Schema> {
    const settings = this.catalogue.columnSettings();
    const links = this.catalogue.list("link").flatMap(({ id, name, spec }) => {
      const parsed = linkSpecSchema.safeParse(spec);
      return parsed.success ? [{ id, label: name, spec: parsed.data }] : [];
    });
    const stamp = `${this.stamp()} ${JSON.stringify([settings, links])}`;
    if (this.shape?.stamp === stamp) return this.shape.schema;
    const job = { kind: "inspect" as const, database: this.database, settings, links };
    const schema = this.engine.run<"inspect">(job, { client: "schema", timeLimitMs: 600_000 });
    this.shape = { stamp, schema };
    schema.catch(() => {
      this.shape = null;
    });
    return schema;
  }

  /** What tells one state of everything that can be read from the next: the business database and what is saved. */
  state(): string {
    return `${this.today} ${this.stamp()} ${this.catalogue.stamp()}`;
  }

  private stamp(): string {
    try {
      const of = (path: string) => {
        const { mtimeMs, size, ino } = statSync(path);
        return `${mtimeMs} ${size} ${ino}`;
      };
      const wal = statSync(`${this.database}-wal`, { throwIfNoEntry: false });
      return of(this.database) + (wal ? of(`${this.database}-wal`) : "");
    } catch {
      throw new JobFailure("notFound");
    }
  }

  close(): void {
    this.engine.close();
    this.catalogue.close();
  }
}

const HERE = Symbol.for("next-ledger.workspace");
type Global = { [HERE]?: Workspace };

/** The machine's clock; or, for tests and pictures, one that starts at the instant in NEXT_LEDGER_NOW (ISO 8601). */
function clock(): () => Date {
  const begins = Date.parse(process.env.NEXT_LEDGER_NOW ?? "");
  if (Number.isNaN(begins)) return () => new Date();
  const since = Date.now();
  return () => new Date(begins + Date.now() - since);
}

/** The workspace of this server process, opened at the first call from NEXT_LEDGER_DATA and NEXT_LEDGER_DATABASE. */
export function workspace(): Workspace {
  const here = globalThis as Global;
  if (!here[HERE]) {
    const folder = resolve(process.env.NEXT_LEDGER_DATA ?? "data");
    const database = resolve(process.env.NEXT_LEDGER_DATABASE ?? join(folder, "business.sqlite"));
    here[HERE] = new Workspace(folder, database, process.cwd(), clock());
  }
  return here[HERE];
}
