import { chmodSync, readFileSync, writeFileSync } from "node:fs";
import { join } from "node:path";
import { afterAll, afterEach, beforeAll, describe, expect, it } from "vitest";
import { reachServer } from "@/server/source/postgres/check";
import { connectTo } from "@/server/source/postgres/connect";
import { temporaryFolder } from "../support/ledger";
import { OWNER, type Server, startServer } from "../support/postgres";

/* A database server with an encrypted connection, whose certificate is for localhost; and one that asks for a password. */

const place = temporaryFolder();
let server: Server;
beforeAll(async () => {
  server = await startServer({}, "localhost");
  await server.by("postgres", (client) => client.query("CREATE DATABASE ledger"));
  await server.by("postgres", (client) => client.query("CREATE ROLE guarded LOGIN PASSWORD 'se:cret'"));
}, 60_000);
afterAll(() => {
  server?.stop();
  place.remove();
});
afterEach(() => {
  delete process.env.PGPASSWORD;
  delete process.env.PGPASSFILE;
});

const at = (host: string, mode: string, authority?: string): string => {
  const url = new URL(server.address("ledger"));
  url.hostname = host;
  url.searchParams.set("sslmode", mode);
  if (authority !== undefined) url.searchParams.set("sslrootcert", authority);
  return url.href;
};

async function isEncrypted(address: string): Promise<boolean> {
  const client = await connectTo(address);
  const { rows } = await client.query({ text: "SELECT ssl FROM pg_stat_ssl WHERE pid = pg_backend_pid()", rowMode: "array" });
  await client.end();
  return (rows as unknown[][])[0]?.[0] === "t";
}

describe("an encrypted connection", () => {
  it.each<[string, string, boolean, boolean]>([
    ["disable", "127.0.0.1", false, false],
    ["prefer", "127.0.0.1", false, true],
    ["require", "127.0.0.1", false, true],
    ["verify-ca", "127.0.0.1", true, true],
    ["verify-full", "localhost", true, true],
  ])("by sslmode %s to %s", async (mode, host, trusted, encrypted) => {
    expect(await isEncrypted(at(host, mode, trusted ? server.authority : undefined))).toBe(encrypted);
  });
  it.each<[string, () => string]>([
    ["a certificate for another name, where the name is held against it", () => at("127.0.0.1", "verify-full", server.authority)],
    ["a certificate of an authority that is not trusted", () => at("localhost", "verify-full")],
    ["a file of authorities that has none", () => at("localhost", "verify-ca", join(server.authority, "../server.csr"))],
    ["a file of authorities that is not there", () => at("localhost", "verify-full", join(place.folder, "none.pem"))],
  ])("is not made with %s, in a sentence", async (_, address) => {
    await expect(reachServer(address())).rejects.toThrow(/^No encrypted connection to the database server could be made\. Check sslmode in the address\. \(/);
  });
});

describe("a server that asks for a password", () => {
  beforeAll(async () => {
    const file = await server.by("postgres", async (client) => (await client.query("SHOW hba_file")).rows[0].hba_file as string);
    writeFileSync(file, `host all guarded 127.0.0.1/32 scram-sha-256\n${readFileSync(file, "utf8")}`);
    await server.by("postgres", (client) => client.query("SELECT pg_reload_conf()"));
  });
  const address = () => server.address("ledger", "guarded");
  const reached = () => reachServer(address());

  it("is opened with the one in the address, in PGPASSWORD, or in the file of passwords; not with another, or none", async () => {
    expect(await reachServer(address().replace("guarded@", "guarded:se%3Acret@"))).toMatchObject({ address: address(), password: "se:cret" });
    process.env.PGPASSWORD = "se:cret";
    expect(await reached()).toMatchObject({ password: undefined });
    process.env.PGPASSWORD = "other";
    await expect(reached()).rejects.toThrow("refused the user name or password");
    delete process.env.PGPASSWORD;
    await expect(reached()).rejects.toThrow("refused the user name or password");

    const passwords = join(place.folder, "pgpass");
    writeFileSync(passwords, `# one a line: host, port, database, user, password\nelsewhere:*:*:guarded:wrong\n127.0.0.1:*:ledger:guarded:se\\:cret\n`);
    chmodSync(passwords, 0o600);
    process.env.PGPASSFILE = passwords;
    expect(await reached()).toMatchObject({ password: undefined });
    await expect(reachServer(server.address("postgres", "guarded"))).rejects.toThrow("refused the user name or password");
  });

  it("lets others in as before", async () => {
    expect((await reachServer(server.address("ledger", OWNER))).name).toBe("ledger");
  });
});
