import { scryptSync } from "node:crypto";
import { afterEach, beforeEach, describe, expect, it } from "vitest";
import { emptyPivot } from "@/core/pivot/empty";
import { sweepOwn } from "@/server/services/queries/ownQuery";
import { temporaryFolder } from "../../../test/support/ledger";
import { Catalogue } from "./catalogue";
import { Objects } from "./objects";
import { checkPassword, hashPassword } from "./passwords";
import { People, type Person } from "./people";
import { savedQueries } from "./savedQueries";

let place: ReturnType<typeof temporaryFolder>;
let catalogue: Catalogue;
let clock: number;
let people: People;
beforeEach(() => {
  place = temporaryFolder();
  clock = Date.parse("2026-11-23T08:00:00Z");
  catalogue = new Catalogue(place.folder, "src/server/catalogue/migrations");
  people = new People(catalogue.db, () => new Date(clock));
});
afterEach(() => {
  catalogue.close();
  place.remove();
});
const later = (hours: number) => {
  clock += hours * 3_600_000;
};
const PASSWORD = "a longer password";
const make = (login: string, role: "owner" | "analyst" | "viewer" = "analyst", password: string | null = null) =>
  people.create({ id: login, login, name: login, role, password });
const refusal = async (work: () => unknown): Promise<number> => {
  try {
    await work();
    return 200;
  } catch (error) {
    return (error as { status: number }).status;
  }
};

describe("a password's hash", () => {
  it("is scrypt's (RFC 7914) of the password and a salt of its own, and lets only that password in", async () => {
    const [a, b] = [await hashPassword("pässword of mine"), await hashPassword("pässword of mine")];
    expect(a).not.toBe(b);
    const [kind, N, r, p, salt = "", key = ""] = a.split("$");
    expect([kind, N, r, p]).toEqual(["scrypt", "32768", "8", "1"]);
    expect(scryptSync("pässword of mine", Buffer.from(salt, "base64url"), 32, { N: 32768, r: 8, p: 1, maxmem: 2 ** 26 }).toString("base64url")).toBe(key);
    // The same letters put together otherwise are the same password (Unicode NFKC).
    expect(await checkPassword("pa\u0308ssword of mine", a)).toBe(true);
    for (const wrong of ["", "password of mine", "pässword of mine ", a]) expect(await checkPassword(wrong, a)).toBe(false);
    for (const hash of [null, "", "plain$pässword of mine", `${a.slice(0, -3)}AAA`]) expect(await checkPassword("pässword of mine", hash)).toBe(false);
  });
  it("agrees with the test vector of RFC 7914, section 12 (N 16384, r 8, p 1; the first 32 bytes)", async () => {
    // The vector from memory of the RFC: P "pleaseletmein", S "SodiumChloride".
    const key = Buffer.from("7023bdcb3afd7348461c06cd81fd38ebfda8fbba904f8e3ea9b543f6545da1f2", "hex");
    const hash = ["scrypt", 16384, 8, 1, Buffer.from("SodiumChloride").toString("base64url"), key.toString("base64url")].join("$");
    expect(await checkPassword("pleaseletmein", hash)).toBe(true);
  });
});

describe("sessions", () => {
  it("end when they are not used for half a day, and after a fortnight in any case", async () => {
    const person = await make("ada");
    const idle = people.open(person);
    later(11.9);
    expect(people.ofSession(idle)?.id).toBe("ada");
    later(12.1);
    expect(people.ofSession(idle)).toBeUndefined();
    const used = people.open(person);
    for (let hours = 0; hours < 14 * 24 - 6; hours += 6) {
      later(6);
      expect(people.ofSession(used)?.id).toBe("ada");
    }
    later(7);
    expect(people.ofSession(used)).toBeUndefined();
  });
  it("are kept by their hash alone", async () => {
    const token = people.open(await make("ada"));
    expect(JSON.stringify(people.sessionsOf("ada"))).not.toContain(token);
    expect(people.ofSession(token.toUpperCase())).toBeUndefined();
  });
  it("end with another password, another role, and when the account is blocked", async () => {
    await make("boss", "owner");
    const person = await make("ada");
    for (const set of [{ password: "another password" }, { role: "viewer" as const }, { blocked: true }]) {
      const token = people.open(person);
      await people.change("ada", set);
      expect(people.ofSession(token)).toBeUndefined();
    }
    const token = people.open(await make("eve"));
    await people.change("eve", { name: "Eve", knownAs: "12" });
    expect(people.ofSession(token)?.name).toBe("Eve");
  });
});

describe("signing in", () => {
  it("waits after five failures, twice as long each time, a quarter of an hour at most; a success clears it", async () => {
    await make("ada", "analyst", PASSWORD);
    for (let n = 0; n < 5; n++) expect(await refusal(() => people.signIn("ada", "wrong"))).toBe(401);
    const waits: number[] = [];
    for (let n = 0; n < 12; n++) {
      expect(await refusal(() => people.signIn("ada", PASSWORD))).toBe(429);
      let seconds = 0;
      while ((await refusal(() => people.mayTry("account ada"))) === 429) {
        clock += 1000;
        seconds++;
      }
      waits.push(seconds);
      expect(await refusal(() => people.signIn("ada", "wrong"))).toBe(401);
    }
    expect(waits).toEqual([1, 2, 4, 8, 16, 32, 64, 128, 256, 512, 900, 900]);
    later(1);
    expect((await people.signIn("ADA ", PASSWORD)).id).toBe("ada");
    expect(await refusal(() => people.signIn("ada", "wrong"))).toBe(401);
  });
  it("does not keep a person out of a browser they have signed in with, whatever others try in their name", async () => {
    await make("ada", "analyst", PASSWORD);
    expect((await people.signIn("ada", PASSWORD, "own browser")).id).toBe("ada");
    for (let n = 0; n < 8; n++) await refusal(() => people.signIn("ada", "wrong", "another"));
    expect(await refusal(() => people.signIn("ada", PASSWORD, "another"))).toBe(429);
    expect(await refusal(() => people.signIn("ada", PASSWORD))).toBe(429);
    expect((await people.signIn("ada", PASSWORD, "own browser")).id).toBe("ada");
    // The own browser has tries of its own, which are counted too.
    for (let n = 0; n < 5; n++) expect(await refusal(() => people.signIn("ada", "wrong", "own browser"))).toBe(401);
    expect(await refusal(() => people.signIn("ada", PASSWORD, "own browser"))).toBe(429);
  });
  it("slows different names down together where strangers try them", async () => {
    const statuses: (number | undefined)[] = [];
    for (let n = 0; n < 60; n++) statuses.push(await refusal(() => people.signIn(`name${n}`, "wrong")));
    expect(statuses.slice(0, 50).every((s) => s === 401)).toBe(true);
    expect(statuses.slice(51).every((s) => s === 429)).toBe(true);
  });
  it("counts tries that come at once", async () => {
    await make("ada", "analyst", PASSWORD);
    const statuses = await Promise.all(Array.from({ length: 20 }, () => refusal(() => people.signIn("ada", "wrong"))));
    expect(statuses.filter((s) => s === 401)).toHaveLength(5);
  });
  it("counts them where somebody signed in says their password too", async () => {
    await make("ada", "analyst", PASSWORD);
    const tries = await Promise.all(Array.from({ length: 20 }, () => people.isPasswordOf("ada", "wrong").catch((error: { status: number }) => error.status)));
    expect([tries.filter((t) => t === false).length, tries.filter((t) => t === 429).length]).toEqual([5, 15]);
    later(1);
    expect(await people.isPasswordOf("ada", PASSWORD)).toBe(true);
    expect(await people.isPasswordOf("ada", "wrong")).toBe(false);
  });
  it("is made and changed together with its line in the log, or not at all", async () => {
    const noted: string[] = [];
    const full = () => {
      throw new Error("no room");
    };
    await people.create({ login: "ada", name: "Ada", role: "owner", password: null, id: "ada" }, (p) => void noted.push(`made ${p.name}`));
    await people.change("ada", { knownAs: "131" }, (p) => void noted.push(`${p.name} is ${p.knownAs}`));
    expect(noted).toEqual(["made Ada", "Ada is 131"]);
    await expect(people.create({ login: "bea", name: "Bea", role: "viewer", password: null }, full)).rejects.toThrow("no room");
    const token = people.open(people.get("ada") as Person);
    await expect(people.change("ada", { name: "Another", password: PASSWORD }, full)).rejects.toThrow("no room");
    expect(people.list().map((p) => [p.name, p.knownAs])).toEqual([["Ada", "131"]]);
    expect(people.ofSession(token)?.name).toBe("Ada");
  });
  it("leaves an owner where two unmake each other at one moment", async () => {
    await make("ada", "owner");
    await make("bea", "owner");
    // A password takes its time: both are looked at before either is changed.
    const unmade = ["ada", "bea"].map((id) => refusal(() => people.change(id, { role: "viewer", password: PASSWORD })));
    expect((await Promise.all(unmade)).sort()).toEqual([200, 409]);
  });
  it("keeps one name for one account, and one owner at least", async () => {
    await make("ada", "owner");
    expect(await refusal(() => make(" Ada"))).toBe(409);
    expect(await refusal(() => people.change("ada", { role: "analyst" }))).toBe(409);
    expect(await refusal(() => people.change("ada", { blocked: true }))).toBe(409);
    expect(await refusal(() => people.change("nobody", { name: "x" }))).toBe(404);
    await make("bea", "owner");
    expect(await refusal(() => people.change("ada", { role: "analyst" }))).toBe(200);
  });
});

describe("objects as one person has them", () => {
  const query = { version: 1, source: "t" };
  const of = (id: string) => new Objects(catalogue, people, people.get(id) ?? null);
  it("are told apart by their names, of those a person sees; where the ledger names one, by a number", async () => {
    await make("ada");
    await make("bea");
    const ada = of("ada");
    const first = ada.create("query", "Freight", query);
    of("bea").create("query", "Hers", query);
    expect(() => ada.refuseSameName("query", "freight")).toThrow("another query named");
    expect(() => ada.refuseSameName("query", "Freight", first.id)).not.toThrow();
    expect(() => ada.refuseSameName("query", "Hers")).not.toThrow();
    expect(() => ada.refuseSameName("pivot", "Freight")).not.toThrow();
    expect(() => ada.refuseSameName("derived", "Freight")).not.toThrow();
    expect([ada.createNumbered("query", "Freight", query).name, ada.createNumbered("query", "Freight", query).name]).toEqual(["Freight 2", "Freight 3"]);
  });
  it("come back from the bin for whom they are, and for owners", async () => {
    await make("ada");
    await make("bea");
    await make("owen", "owner");
    const made = of("ada").create("query", "Freight", query);
    of("ada").remove(made.id);
    expect(["ada", "bea", "owen"].map((id) => of(id).inBin().length)).toEqual([1, 0, 1]);
    expect(() => of("bea").restore(made.id)).toThrow("not among the deleted items");
    expect(of("owen").restore(made.id)).toMatchObject({ id: made.id, owner: "ada" });
    expect(of("ada").inBin()).toEqual([]);
  });
  it("are their own, what is shared, and, to be worked out, what shared things are made from", async () => {
    for (const [login, role] of [
      ["ada", "analyst"],
      ["bea", "analyst"],
      ["vic", "viewer"],
    ] as const)
      await make(login, role);
    catalogue.create("query", "Q", query, "q", "ada");
    catalogue.create("pivot", "P", emptyPivot("q"), "p", "ada");
    const seen = (id: string) => [
      of(id)
        .list()
        .map((o) => o.id),
      ["q", "p"].filter((o) => of(id).open(o)),
      ["q", "p"].filter((o) => of(id).get(o)),
    ];
    expect(seen("ada")).toEqual([
      ["p", "q"],
      ["q", "p"],
      ["q", "p"],
    ]);
    expect(seen("bea")).toEqual([[], [], []]);
    people.share("p", "", "see");
    expect(seen("bea")).toEqual([["p"], ["p"], ["q", "p"]]);
    expect(seen("vic")).toEqual([["p"], ["p"], ["q", "p"]]);
    people.share("p", "", null);
    people.share("p", "vic", "edit");
    expect(seen("bea")).toEqual([[], [], []]);
    expect(of("vic").level(catalogue.get("p") as never)).toBe("see");
    expect(await refusal(() => of("bea").create("pivot", "Mine", emptyPivot("q")))).toBe(403);
    expect(await refusal(() => of("vic").create("query", "Mine", query))).toBe(403);
  });
  it("a query without a name is as the place it is used in: in no list, opened by who may open that, gone some time after it", async () => {
    for (const login of ["ada", "bea"]) await make(login);
    await make("owen", "owner");
    catalogue.create("query", "", query, "own", "ada");
    catalogue.create("pivot", "P", emptyPivot("own"), "p", "ada");
    catalogue.create("pivot", "Of another query", emptyPivot("other"), "b", "bea");
    const levels = () => ["ada", "bea", "owen"].map((id) => of(id).level(catalogue.get("own") as never));
    expect([of("ada").list("query"), of("owen").list("query")]).toEqual([[], []]);
    expect(levels()).toEqual(["edit", null, "edit"]);
    people.share("p", "bea", "edit");
    expect(levels()).toEqual(["edit", "edit", "edit"]);
    people.share("p", "bea", "see");
    expect(levels()).toEqual(["edit", "see", "edit"]);
    const later = Date.now() + 31 * 24 * 3600 * 1000;
    sweepOwn({ catalogue } as never, later);
    expect(catalogue.get("own")).toBeDefined();
    catalogue.remove("p");
    sweepOwn({ catalogue } as never);
    expect(catalogue.get("own")).toBeDefined();
    sweepOwn({ catalogue } as never, later);
    expect(catalogue.get("own")).toBeUndefined();
    expect(savedQueries(catalogue)).toEqual([]);
  });
  it("that somebody made while they might go dark for them when the share is taken back", async () => {
    await make("ada");
    await make("bea");
    catalogue.create("query", "Q", query, "q", "ada");
    people.share("q", "bea", "see");
    const made = of("bea").create("pivot", "Mine", emptyPivot("q"));
    expect(of("bea").get("q")).toBeDefined();
    people.share("q", "bea", null);
    expect([of("bea").get("q"), of("bea").get(made.id)?.id]).toEqual([undefined, made.id]);
  });
});
