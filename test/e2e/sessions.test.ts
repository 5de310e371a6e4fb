import { join } from "node:path";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { makeDatabase, temporaryFolder } from "../support/ledger";
import { type Application, Desk, failUntilWaiting, openApplication, post } from "../support/server";

/* Who is who: sessions that are none, passwords tried a hundred times, the first account of all. */

let app: Application;
beforeAll(async () => {
  app = await openApplication();
});
afterAll(() => app?.close());

type Role = "owner" | "analyst" | "viewer";

describe("sessions and passwords", () => {
  const PASSWORD = "a longer password";
  const signIn = (login: string, password: string) => app.fetch("/api/session", post({ login, password }), null);
  const tokenIn = (response: Response) => /session=([^;]*)/.exec(response.headers.get("set-cookie") ?? "")?.[1] ?? "";
  const withToken = (token: string, path = "/api/objects") => fetch(app.address + path, { headers: { cookie: `session=${token}` } }).then((r) => r.status);
  const account = async (login: string, role: Role) =>
    (await (await app.fetch("/api/people", post({ login, name: `${login} of the test`, role, knownAs: "", password: PASSWORD }))).json()) as { id: string };

  it("let nobody in with a forged session, one that was signed out, or one of an account that is blocked", async () => {
    const { id } = await account("vera", "analyst");
    const entered = await signIn(" Vera ", PASSWORD);
    expect(entered.headers.get("set-cookie")).toMatch(/HttpOnly; SameSite=Lax/);
    const token = tokenIn(entered);
    expect(await withToken(token)).toBe(200);
    for (const forged of ["", "x".repeat(43), token.slice(0, -1) + (token.endsWith("A") ? "B" : "A"), id]) expect(await withToken(forged)).toBe(401);
    await fetch(`${app.address}/api/session`, { method: "DELETE", body: '{"everywhere":false}', headers: { cookie: `session=${token}` } });
    expect(await withToken(token)).toBe(401);
    const [a, b] = [tokenIn(await signIn("vera", PASSWORD)), tokenIn(await signIn("vera", PASSWORD))];
    await fetch(`${app.address}/api/session`, { method: "DELETE", body: '{"everywhere":true}', headers: { cookie: `session=${a}` } });
    expect([await withToken(a), await withToken(b)]).toEqual([401, 401]);
    const last = tokenIn(await signIn("vera", PASSWORD));
    await app.fetch(`/api/people/${id}`, { method: "PATCH", body: '{"blocked":true}' });
    expect(await withToken(last)).toBe(401);
    expect((await signIn("vera", PASSWORD)).status).toBe(401);
    // The only owner stays one.
    expect(await app.status("/api/people/demo-owner", { method: "PATCH", body: '{"role":"viewer"}' }, "demo-owner")).toBe(409);
    expect((await app.fetch("/api/people", post({ login: "short", name: "s", role: "viewer", knownAs: "", password: "short" }))).status).toBe(400);
  });

  it("keep out who tries a hundred passwords, and the right one too while they wait", async () => {
    await account("petra", "viewer");
    const statuses: number[] = [];
    for (let n = 0; n < 100; n++) statuses.push((await signIn("petra", `wrong ${n}`)).status);
    expect(new Set(statuses)).toEqual(new Set([401, 429]));
    expect(statuses.filter((s) => s === 401).length).toBeLessThan(12);
    await failUntilWaiting(async () => (await signIn("petra", "wrong again")).status);
    const now = await signIn("petra", PASSWORD);
    expect(now.status).toBe(429);
    expect(await now.text()).toMatch(/Wait \d+ seconds/);
    expect((await signIn("nobody-of-this-name", "wrong")).status).toBe(401);
  });

  it("are made on the page for signing in, and what was done stands in the log", async () => {
    await account("wren", "owner");
    const context = await app.browserOf(null);
    const desk = await new Desk(await context.newPage(), app.address).open("/queries");
    await desk.page.waitForSelector("input[name=username]");
    await desk.page.type("input[name=username]", "wren");
    await desk.page.type("input[name=password]", "not this one");
    await desk.key("Enter");
    await desk.reads("[role=alert]", "Wrong name or password");
    await desk.page.$eval("input[name=password]", (e) => (e as HTMLInputElement).select());
    await desk.page.type("input[name=password]", PASSWORD);
    await desk.key("Enter");
    await desk.reads("header", "wren of the test");
    await desk.open("/people");
    await desk.click("Log", "[role=tab]");
    await desk.reads("[role=tabpanel]", /wren of the test signed in.*sign-in refused/);
    await desk.click("wren of the test", "header button");
    await desk.click("Sign out", "[role=menuitem]");
    await desk.page.waitForSelector("input[name=username]");
    await desk.click("Una Holm", "button");
    await desk.reads("header", "Una Holm");
    await context.close();
  });
});

describe("the first account", () => {
  it("is an owner's, made by whoever sits at the machine; from then on nobody works without signing in", async () => {
    const place = temporaryFolder();
    const bare = await openApplication({ database: makeDatabase(join(place.folder, "own.sqlite"), "CREATE TABLE thing (id INTEGER PRIMARY KEY, name TEXT)") });
    try {
      const account = (role: Role) => post({ login: "first", name: "First", role, knownAs: "", password: "a longer password" });
      expect((await bare.fetch("/api/schema")).status).toBe(200);
      expect((await bare.fetch("/api/people", account("analyst"))).status).toBe(422);
      const desk = await bare.page("/people");
      await desk.reads("[role=status]", "There are no accounts");
      const made = await bare.fetch("/api/people", account("owner"));
      expect(made.status).toBe(200);
      expect((await bare.fetch("/api/schema")).status).toBe(401);
      expect((await bare.fetch("/api/people", account("owner"))).status).toBe(401);
      const cookie = `session=${/session=([^;]+)/.exec(made.headers.get("set-cookie") ?? "")?.[1]}`;
      expect((await bare.fetch("/api/schema", { headers: { cookie } })).status).toBe(200);
      await desk.open("/queries");
      await desk.page.waitForSelector("input[name=username]");
    } finally {
      await bare.close();
      place.remove();
    }
  });
});
