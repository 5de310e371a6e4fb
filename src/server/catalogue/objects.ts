import { can } from "@/core/people/abilities";
import type { Level } from "@/core/people/roles";
import { rulesFor } from "@/core/people/rules";
import { Refusal } from "@/server/common/refusal";
import type { Catalogue, ObjectKind, SavedObject } from "./catalogue";
import type { Deleted } from "./history";
import { madeFrom, madeWith } from "./madeFrom";
import type { People, Person, Share } from "./people";
import { savedRules } from "./savedRules";

/** Kinds that describe the data for everyone who builds: they are nobody's own. */
const COMMON: ReadonlySet<ObjectKind> = new Set(["derived", "link", "folio", "posting"]);

/** Kinds whose objects people look for by the names they gave them. */
const NAMED: ReadonlySet<ObjectKind> = new Set(["query", "pivot", "chart", "report", "letter", "dashboard", "page", "posting"]);

/** Whether an object is a query used in one place only, which has no name. */
const isNameless = ({ kind, name }: SavedObject): boolean => kind === "query" && name === "";

/** Kinds that are worked out as the one whose they are, whoever it is for: what visitors see, what schedules make. */
const AS_MAKER: ReadonlySet<ObjectKind> = new Set(["page", "schedule"]);

/**
 * The saved objects as one person has them. What is theirs, or shared with them, they see; what that is made from is
 * worked out for them too, but does not open. Where there are no accounts, and for the ledger's own work, all is open.
 */
export class Objects {
  private known: { stamp: string; shares: Map<string, Share[]>; reach: Set<string> } | null = null;

  constructor(
    private readonly catalogue: Catalogue,
    private readonly people: People,
    readonly person: Person | null,
  ) {}

  /** What the person may do with an object; null where it is not for them. */
  level(object: SavedObject): Level | null {
    const { person } = this;
    if (!person || can(person.role, "keep")) return "edit";
    if (object.kind === "rule" || !can(person.role, "look")) return null;
    if (!can(person.role, "build")) return this.shareOf(object) ? "see" : null;
    if (object.owner === person.id || COMMON.has(object.kind)) return "edit";
    return isNameless(object) ? this.levelOfPlace(object) : this.shareOf(object);
  }

  /** What a person may do with a query without a name is what they may do where it is used. */
  private levelOfPlace(query: SavedObject): Level | null {
    const levels = this.catalogue.list().flatMap((o) => (!isNameless(o) && madeFrom(o.kind, o.spec).includes(query.id) ? (this.level(o) ?? []) : []));
    return levels.includes("edit") ? "edit" : (levels[0] ?? null);
  }

  /** The objects a person sees, by their names: a query without one is seen only where it is used. */
  list(kind?: ObjectKind): SavedObject[] {
    return this.catalogue.list(kind).filter((o) => !isNameless(o) && this.level(o) !== null);
  }

  /** An object that the person may open. */
  open(id: string): SavedObject | undefined {
    const found = this.catalogue.get(id);
    return found && this.level(found) !== null ? found : undefined;
  }

  /** An object that may be worked out for the person: one they may open, or one that such a one is made from. */
  get(id: string): SavedObject | undefined {
    const found = this.catalogue.get(id);
    if (!found || this.level(found) !== null) return found;
    return this.state().reach.has(id) ? found : undefined;
  }

  /** The ids of the objects of a kind that may be worked out for the person, as `get` has them: thousands in one look. */
  usable(kind: ObjectKind): Set<string> {
    const all = this.catalogue.list(kind);
    const closed = all.filter((o) => this.level(o) === null);
    const reach = closed.length > 0 ? this.state().reach : null;
    const shut = new Set(closed.flatMap((o) => (reach?.has(o.id) ? [] : [o.id])));
    return new Set(all.flatMap((o) => (shut.has(o.id) ? [] : [o.id])));
  }

  /** @throws Refusal where the person may not make such an object, or it is made from what is not for them */
  create(kind: ObjectKind, name: string, spec: unknown, id?: string): SavedObject {
    if (this.person && !can(this.person.role, kind === "rule" ? "keep" : "build"))
      throw new Refusal(403, "Viewers cannot create or change objects. Ask an owner for another role.");
    this.checkSources(kind, spec);
    if (id !== undefined) this.checkMaker(id);
    return this.catalogue.create(kind, name, spec, id, COMMON.has(kind) ? null : (this.person?.id ?? null));
  }

  /** Makes an object whose name is not chosen by a person: where there is one of that name, a number tells them apart. */
  createNumbered(kind: ObjectKind, name: string, spec: unknown): SavedObject {
    const taken = new Set(this.list(kind).map((o) => o.name));
    let free = name;
    for (let n = 2; taken.has(free); n++) free = `${name} ${n}`;
    return this.create(kind, free, spec);
  }

  /** @throws Refusal 409 with the code "named" where another of the kind that the person sees has the name */
  refuseSameName(kind: ObjectKind, name: string, id?: string): void {
    if (!NAMED.has(kind) || name === "") return;
    const same = this.list(kind).some((o) => o.id !== id && o.name.localeCompare(name, undefined, { sensitivity: "accent" }) === 0);
    if (same) throw new Refusal(409, `There is another ${kind} named “${name}”. Choose another name, so that they can be told apart.`, "named");
  }

  /** @throws Refusal where the person may only see it, StaleRevision where it has been saved since */
  save(id: string, change: { name?: string | undefined; spec?: unknown }, revision: number): SavedObject | undefined {
    const found = this.open(id);
    if (!found) return undefined;
    if (this.level(found) !== "edit") throw new Refusal(403, "You can view this, but not change it. Ask its author, or save a copy under another name.");
    if (change.spec !== undefined) {
      this.checkSources(found.kind, change.spec);
      this.checkMaker(found.id);
    }
    return this.catalogue.save(id, change, revision, this.person?.id ?? null);
  }

  /**
   * @param anyway also where others are made from it, which then break
   * @throws Refusal 403 where it is another's, 409 with the code "used" and their names where others are made from it
   */
  remove(id: string, anyway = true): void {
    this.removeAll([id], anyway);
  }

  /** Deletes several, all or none; those of them that are made from others of them hold up nothing. @throws as `remove` */
  removeAll(ids: string[], anyway: boolean): void {
    const found = ids.flatMap((id) => this.open(id) ?? []);
    const all = anyway ? [] : this.catalogue.list();
    for (const object of found) {
      if (!this.mayShare(object)) throw new Refusal(403, `Only its author or an owner can delete “${object.name}”.`);
      const broken = madeWith(object.id, all).filter((o) => !ids.includes(o.id));
      if (broken.length > 0) throw new Refusal(409, `“${object.name}” is used by ${this.named(broken)}. They would stop working.`, "used");
    }
    for (const { id } of found) this.catalogue.remove(id, this.person?.id ?? null);
  }

  /** The deleted objects that the person may bring back: their own, and those that are nobody's; to owners, all. */
  inBin(): Deleted[] {
    return this.catalogue.inBin().filter((d) => this.mayRestore(d));
  }

  /** @throws Refusal where it is not there any more */
  restore(id: string): SavedObject {
    const deleted = this.inBin().find((d) => d.id === id);
    if (!deleted) throw new Refusal(404, "It is not among the deleted items any more.");
    if (this.catalogue.get(id)) throw new Refusal(409, "It already exists.");
    return this.catalogue.restore(deleted);
  }

  private mayRestore({ owner, kind }: Deleted): boolean {
    const { person } = this;
    if (!person || can(person.role, "keep")) return true;
    return kind !== "rule" && can(person.role, "build") && (owner === person.id || COMMON.has(kind));
  }

  /** Objects by kind and name; of those that are not for the person, how many. */
  private named(objects: SavedObject[]): string {
    const seen = objects.filter((o) => this.level(o) !== null).map((o) => `the ${o.kind} “${o.name}”`);
    const others = objects.length - seen.length;
    const words = [...seen, ...(others > 0 ? [others === 1 ? "one of another person" : `${others} of other people`] : [])];
    return new Intl.ListFormat("en", { type: "conjunction" }).format(words);
  }

  /** Whether the person may share an object and delete it: it is theirs, or they are an owner. */
  mayShare(object: SavedObject): boolean {
    const { person } = this;
    if (!person || can(person.role, "keep")) return true;
    return can(person.role, "build") && (object.owner === person.id || COMMON.has(object.kind));
  }

  private checkSources(kind: ObjectKind, spec: unknown): void {
    for (const id of madeFrom(kind, spec))
      if (this.catalogue.get(id) && !this.get(id)) throw new Refusal(403, "It is made from an object that is not shared with you. Ask its author to share it.");
  }

  /**
   * What is worked out as another, or is made from this, would show one who is bound by rules the other's rows, if they
   * could say which.
   */
  private checkMaker(id: string): void {
    const { person } = this;
    if (!person || rulesFor(savedRules(this.catalogue), person).size === 0) return;
    const others = [...AS_MAKER].flatMap((kind) => this.catalogue.list(kind)).filter((o) => o.owner !== person.id);
    const made = others.find((o) => o.id === id || this.reachOf(o).has(id));
    if (made) throw new Refusal(403, `“${made.name}” uses rows you cannot see. Ask its author to change this, or make your own.`);
  }

  /** All that an object is made from, by id; what is gone too, as it may come back. */
  private reachOf(object: SavedObject, reach = new Set<string>()): Set<string> {
    for (const id of madeFrom(object.kind, object.spec)) {
      if (reach.has(id)) continue;
      reach.add(id);
      const next = this.catalogue.get(id);
      if (next) this.reachOf(next, reach);
    }
    return reach;
  }

  private shareOf(object: SavedObject): Level | null {
    const shares = (this.state().shares.get(object.id) ?? []).filter((s) => s.person === "" || s.person === this.person?.id);
    return shares.some((s) => s.level === "edit") ? "edit" : shares.length > 0 ? "see" : null;
  }

  /** Shares, and what can be reached from what is seen; read again when the catalogue has changed. */
  private state(): { shares: Map<string, Share[]>; reach: Set<string> } {
    const stamp = this.catalogue.stamp();
    if (this.known?.stamp === stamp) return this.known;
    const shares = new Map<string, Share[]>();
    for (const share of this.people.allShares()) shares.set(share.object, [...(shares.get(share.object) ?? []), share]);
    const reach = new Set<string>();
    this.known = { stamp, shares, reach };
    // What is one's own is made from what one may use; it opens nothing that is shared no longer.
    for (const object of this.list()) if (object.owner === null || object.owner !== this.person?.id) this.reachOf(object, reach);
    return this.known;
  }
}
