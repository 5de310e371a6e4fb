import { createHash, randomBytes, randomUUID } from "node:crypto";
import { and, asc, desc, eq, lt, or, sql } from "drizzle-orm";
import type { BetterSQLite3Database } from "drizzle-orm/better-sqlite3";
import type { Level, Role } from "@/core/people/roles";
import { Refusal } from "@/server/common/refusal";
import { checkPassword, hashPassword } from "./passwords";
import { failures, log, people, sessions, shares, viewerStates } from "./tables";
import { written } from "./written";

export type Person = Omit<typeof people.$inferSelect, "password">;
export type Share = typeof shares.$inferSelect;
export type LogLine = typeof log.$inferSelect;

/** A session ends when it has not been used for so long, and in any case after so long. */
const IDLE_MS = 12 * 3_600_000;
const LONGEST_MS = 14 * 86_400_000;
/** How often a session's use is written down. */
const SEEN_EVERY_MS = 60_000;

/** After so many failures each further try must wait, twice as long each time. */
const FREE_TRIES = 5;
/** So many names may be tried from browsers that nobody has signed in with before all of those must wait. */
const FREE_STRANGERS = 50;
const STRANGERS = "strangers";
/** They are slowed down, not kept out: there may be one among them who is right. */
const STRANGERS_WAIT_MS = 4_000;
const FIRST_WAIT_MS = 1_000;
const LONGEST_WAIT_MS = 900_000;

const sha = (token: string): string => createHash("sha256").update(token).digest("base64url");
const withoutPassword = ({ password: _, ...person }: typeof people.$inferSelect): Person => person;
const asLogin = (login: string): string => login.trim().toLowerCase();

type NewPerson = { login: string; name: string; role: Role; knownAs?: string; password: string | null; id?: string };
type PersonChange = { name?: string; role?: Role; knownAs?: string; password?: string; blocked?: boolean };

/** Accounts, their sessions, what is shared with whom, and the log: tables of the catalogue. */
export class People {
  constructor(
    private readonly db: BetterSQLite3Database,
    private readonly now: () => Date,
  ) {}

  list(): Person[] {
    return this.db.select().from(people).orderBy(asc(people.name)).all().map(withoutPassword);
  }

  /** Whether there are accounts: then nobody works without signing in. */
  any(): boolean {
    return this.db.select({ id: people.id }).from(people).limit(1).get() !== undefined;
  }

  get(id: string): Person | undefined {
    const found = this.db.select().from(people).where(eq(people.id, id)).get();
    return found && withoutPassword(found);
  }

  /**
   * @param note writes down that it was made, with it or not at all
   * @throws Refusal where the name to sign in with is taken
   */
  async create(person: NewPerson, note: (made: Person) => void = () => {}): Promise<Person> {
    const login = asLogin(person.login);
    const password = person.password === null ? null : await hashPassword(person.password);
    const made = { id: person.id ?? randomUUID(), login, name: person.name.trim(), role: person.role, knownAs: person.knownAs?.trim() ?? "", password };
    return written(this.db, () => {
      if (this.db.select().from(people).where(eq(people.login, login)).get())
        throw new Refusal(409, `The sign-in name “${login}” is already used. Choose another.`);
      const kept = withoutPassword(
        this.db
          .insert(people)
          .values({ ...made, createdAt: this.now() })
          .returning()
          .get(),
      );
      note(kept);
      return kept;
    });
  }

  /**
   * Changes an account. A new password, another role or barring ends its sessions.
   * @param note writes down that it was done, with it or not at all
   * @throws Refusal where no owner would be left, or there is no such account
   */
  async change(id: string, set: PersonChange, note: (changed: Person) => void = () => {}): Promise<Person> {
    const { password, ...rest } = set;
    const values = { ...rest, ...(password === undefined ? {} : { password: await hashPassword(password) }) };
    return written(this.db, () => {
      // Nobody changes anything between this look and what is written by it.
      const known = this.get(id);
      if (!known) throw new Refusal(404, "This account does not exist any more.");
      const stays = (set.role ?? known.role) === "owner" && !(set.blocked ?? known.blocked);
      const otherOwners = this.list().filter((p) => p.id !== id && p.role === "owner" && !p.blocked);
      if (known.role === "owner" && !stays && otherOwners.length === 0) throw new Refusal(409, "This is the only owner. Add another owner first.");
      if (Object.keys(values).length > 0) this.db.update(people).set(values).where(eq(people.id, id)).run();
      if (password !== undefined || set.blocked || (set.role && set.role !== known.role)) this.signOutEverywhere(id);
      const changed = this.get(id) as Person;
      note(changed);
      return changed;
    });
  }

  /**
   * Checks who signs in. A browser in which the person has signed in before has tries of its own: what others try in their
   * name does not keep them out. All other browsers share the tries of a name, and those of all names together.
   * @param device what the browser keeps to be known by; null for one that keeps nothing
   * @throws Refusal with status 429 where it must wait, 401 where name and password do not belong together
   */
  async signIn(login: string, password: string, device: string | null = null): Promise<Person> {
    const name = asLogin(login);
    const found = this.db.select().from(people).where(eq(people.login, name)).get();
    const known = found !== undefined && device !== null && this.isKnown(device, found.id);
    const isRight = async () => (await checkPassword(password, found?.password ?? null)) && found?.blocked === false;
    const right = known
      ? await this.attempt(`account ${name} ${sha(device)}`, isRight)
      : await this.attempt(STRANGERS, () => this.attempt(`account ${name}`, isRight), FREE_STRANGERS);
    if (right && found && device !== null) this.makeKnown(device, found.id);
    if (!found || !right) {
      this.record(found?.name ?? name.slice(0, 60), "sign-in refused", name.slice(0, 60));
      throw new Refusal(401, "Wrong name or password. Check Caps Lock, or ask an owner for a new password.");
    }
    return withoutPassword(found);
  }

  /** @throws Refusal with status 429 where it must wait */
  async isPasswordOf(id: string, password: string): Promise<boolean> {
    const found = this.db.select().from(people).where(eq(people.id, id)).get();
    return this.attempt(`account ${found?.login}`, () => checkPassword(password, found?.password ?? null));
  }

  /**
   * Lets somebody try to be let in. The failure is counted before anything is looked at, and taken back where there was
   * none: tries side by side are counted too.
   * @throws Refusal with status 429 while what failed before must wait
   */
  async attempt(key: string, isRight: () => Promise<boolean>, free = FREE_TRIES): Promise<boolean> {
    this.mayTry(key, free);
    this.failed(key);
    let right = false;
    try {
      right = await isRight();
    } catch (error) {
      // Nothing was looked at: it was no try.
      this.uncount(key);
      throw error;
    }
    if (right && key !== STRANGERS) this.succeeded(key);
    // One who is right is no stranger; what strangers have failed at stays counted.
    if (right && key === STRANGERS) this.uncount(key);
    return right;
  }

  /** Whether a person has signed in with a browser before. */
  private isKnown(device: string, person: string): boolean {
    const which = and(eq(viewerStates.viewer, sha(device)), eq(viewerStates.object, `signed in ${person}`));
    return this.db.select().from(viewerStates).where(which).get() !== undefined;
  }

  private makeKnown(device: string, person: string): void {
    this.db
      .insert(viewerStates)
      .values({ viewer: sha(device), object: `signed in ${person}`, state: true })
      .onConflictDoNothing()
      .run();
  }

  /** Opens a session. @returns what the browser keeps: known to nobody else, and not kept here */
  open(person: Person): string {
    const token = randomBytes(32).toString("base64url");
    const at = this.now();
    const ended = or(lt(sessions.seenAt, new Date(at.getTime() - IDLE_MS)), lt(sessions.createdAt, new Date(at.getTime() - LONGEST_MS)));
    written(this.db, () => {
      this.db.delete(sessions).where(ended).run();
      this.db
        .insert(sessions)
        .values({ token: sha(token), person: person.id, createdAt: at, seenAt: at })
        .run();
      this.record(person.name, "signed in", "");
    });
    return token;
  }

  /** Whose session this is; undefined for one that ended, was never there, or belongs to a blocked account. */
  ofSession(token: string): Person | undefined {
    const found = this.db
      .select()
      .from(sessions)
      .where(eq(sessions.token, sha(token)))
      .get();
    if (!found) return undefined;
    const at = this.now().getTime();
    if (at - found.seenAt.getTime() > IDLE_MS || at - found.createdAt.getTime() > LONGEST_MS) {
      this.close(token);
      return undefined;
    }
    const person = this.get(found.person);
    if (!person || person.blocked) return undefined;
    if (at - found.seenAt.getTime() > SEEN_EVERY_MS)
      this.db
        .update(sessions)
        .set({ seenAt: new Date(at) })
        .where(eq(sessions.token, found.token))
        .run();
    return person;
  }

  close(token: string): void {
    this.db
      .delete(sessions)
      .where(eq(sessions.token, sha(token)))
      .run();
  }

  signOutEverywhere(person: string): void {
    this.db.delete(sessions).where(eq(sessions.person, person)).run();
  }

  sessionsOf(person: string): { createdAt: Date; seenAt: Date }[] {
    return this.db.select().from(sessions).where(eq(sessions.person, person)).orderBy(desc(sessions.seenAt)).all();
  }

  /** @throws Refusal with status 429 while what failed before must wait */
  mayTry(key: string, free = FREE_TRIES): void {
    const known = this.db.select().from(failures).where(eq(failures.key, key)).get();
    if (!known || known.count < free) return;
    const longest = key === STRANGERS ? STRANGERS_WAIT_MS : LONGEST_WAIT_MS;
    const wait = Math.min(longest, FIRST_WAIT_MS * 2 ** (known.count - free));
    const left = known.at.getTime() + wait - this.now().getTime();
    if (left > 0) throw new Refusal(429, `${known.count} failed attempts. Wait ${Math.ceil(left / 1000)} seconds, then try again.`);
  }

  private failed(key: string): void {
    const count = (this.db.select().from(failures).where(eq(failures.key, key)).get()?.count ?? 0) + 1;
    const at = this.now();
    this.db.insert(failures).values({ key, count, at }).onConflictDoUpdate({ target: failures.key, set: { count, at } }).run();
  }

  private uncount(key: string): void {
    this.db
      .update(failures)
      .set({ count: sql`max(0, ${failures.count} - 1)` })
      .where(eq(failures.key, key))
      .run();
  }

  private succeeded(key: string): void {
    this.db.delete(failures).where(eq(failures.key, key)).run();
  }

  allShares(): Share[] {
    return this.db.select().from(shares).all();
  }

  sharesOf(object: string): Share[] {
    return this.db.select().from(shares).where(eq(shares.object, object)).all();
  }

  /** Shares an object with a person, or with everyone (""); null takes the share back. */
  share(object: string, person: string, level: Level | null): void {
    const which = and(eq(shares.object, object), eq(shares.person, person));
    if (level === null) this.db.delete(shares).where(which).run();
    else
      this.db
        .insert(shares)
        .values({ object, person, level })
        .onConflictDoUpdate({ target: [shares.object, shares.person], set: { level } })
        .run();
  }

  record(person: string, action: string, about: string): void {
    this.db.insert(log).values({ at: this.now(), person, action, about }).run();
  }

  logLines(limit = 500): LogLine[] {
    return this.db.select().from(log).orderBy(desc(log.id)).limit(limit).all();
  }
}
