import { randomBytes, scrypt, timingSafeEqual } from "node:crypto";

/** scrypt (RFC 7914): 2^15 rounds of blocks of 8, which takes 32 MB and some 60 ms a try. */
const COST = { N: 2 ** 15, r: 8, p: 1 };
const BYTES = 32;

const derive = (password: string, salt: Buffer, { N, r, p } = COST): Promise<Buffer> =>
  new Promise((resolve, reject) =>
    scrypt(password.normalize("NFKC"), salt, BYTES, { N, r, p, maxmem: 256 * N * r }, (error, key) => (error ? reject(error) : resolve(key))),
  );

/** A password's hash, with all that is needed to check one against it. */
export async function hashPassword(password: string): Promise<string> {
  const salt = randomBytes(16);
  return ["scrypt", COST.N, COST.r, COST.p, salt.toString("base64url"), (await derive(password, salt)).toString("base64url")].join("$");
}

/** Whether a password is the one that was hashed. Takes as long where there is no hash, so that nobody learns which accounts exist. */
export async function checkPassword(password: string, hash: string | null): Promise<boolean> {
  const [kind, N, r, p, salt = "", kept = ""] = (hash ?? "").split("$");
  if (kind !== "scrypt") {
    await derive(password, randomBytes(16));
    return false;
  }
  const key = await derive(password, Buffer.from(salt, "base64url"), { N: Number(N), r: Number(r), p: Number(p) });
  const known = Buffer.from(kept, "base64url");
  return known.length === key.length && timingSafeEqual(known, key);
}
