import { createHmac, randomBytes, timingSafeEqual } from "node:crypto";
import { eq, sql } from "drizzle-orm";
import { type PageSpec, pageSpecSchema } from "@/core/page/spec";
import { checkPassword, hashPassword } from "@/server/catalogue/passwords";
import { published } from "@/server/catalogue/tables";
import { written } from "@/server/catalogue/written";
import { Refusal } from "@/server/common/refusal";
import type { Workspace } from "@/server/services/workspace/workspace";

/* Pages for people without an account: each has a secret address, and is worked out as the one whose page it is. */

type Publication = typeof published.$inferSelect;

/** A page as its visitors have it: the ledger as its maker has it, so that the rules on rows that bind them hold for visitors too. */
export type Shown = { ws: Workspace; page: PageSpec; publication: Publication };

const gone = () => new Refusal(404, "This page is not published, or not any more. Ask the person who gave you its address.");

/** Where a page is published; made at the first asking. */
export function publicationOf(ws: Workspace, object: string): Publication {
  const { db } = ws.catalogue;
  const known = db.select().from(published).where(eq(published.object, object)).get();
  return (
    known ??
    written(db, () =>
      db
        .insert(published)
        .values({ object, address: randomBytes(18).toString("base64url") })
        .returning()
        .get(),
    )
  );
}

/** What is changed of where a page is published; what is not named stays. */
export type PublicationChange = { passcode?: string | null | undefined; newAddress?: boolean | undefined };

/**
 * Sets the passcode, or takes it away (null): visitors who were in must give the new one. Gives another secret address:
 * whoever has the old one finds nothing there. All of it, with its line in the log, or nothing.
 */
export async function changePublication(ws: Workspace, page: { id: string; name: string }, { passcode, newAddress }: PublicationChange): Promise<Publication> {
  const set = {
    ...(passcode === undefined ? {} : { passcode: passcode === null ? null : await hashPassword(passcode) }),
    ...(newAddress ? { address: randomBytes(18).toString("base64url") } : {}),
  };
  const words = [...(passcode === undefined ? [] : [passcode === null ? "no passcode" : "a passcode"]), ...(newAddress ? ["another address"] : [])];
  return ws.recorded(() => {
    publicationOf(ws, page.id);
    if (words.length > 0) {
      ws.catalogue.db.update(published).set(set).where(eq(published.object, page.id)).run();
      ws.record("published", `${page.name}: ${words.join(", ")}`);
    }
    return publicationOf(ws, page.id);
  });
}

/**
 * The page at an address. @throws Refusal 404 where there is none, it is off or over, or its maker may not sign in any
 * more; the same words for each, so that nobody learns which addresses there were
 */
export function pageAt(house: Workspace, address: string): Shown {
  const publication = house.catalogue.db.select().from(published).where(eq(published.address, address)).get();
  const saved = publication && house.catalogue.get(publication.object);
  const page = saved?.kind === "page" ? pageSpecSchema.safeParse(saved.spec).data : undefined;
  if (!publication || !saved || !page?.open || (page.ends !== null && page.ends < house.today.day)) throw gone();
  if (saved.owner === null) return { ws: house, page, publication };
  const owner = house.people.get(saved.owner);
  if (!owner || owner.blocked) throw gone();
  return { ws: house.as(owner), page, publication };
}

export function countView(house: Workspace, object: string): void {
  house.catalogue.db
    .update(published)
    .set({ views: sql`${published.views} + 1` })
    .where(eq(published.object, object))
    .run();
}

/** The ledger's own secret, made once: what visitors hold is signed with it. */
function secretOf({ catalogue }: Workspace): string {
  const known = catalogue.setting("secret");
  if (typeof known === "string") return known;
  const secret = randomBytes(32).toString("base64url");
  catalogue.setSetting("secret", secret);
  return secret;
}

/** What only this ledger could have made of a text (RFC 2104). */
export const signed = (ws: Workspace, text: string): string => createHmac("sha256", secretOf(ws)).update(text).digest("base64url");

const passOf = (ws: Workspace, { object, passcode }: Publication): string => signed(ws, `${object} ${passcode}`);

/** Lets a visitor in by the passcode. @returns what they show with each question. @throws Refusal 401, 429 */
export async function letIn(ws: Workspace, publication: Publication, passcode: string): Promise<string> {
  const right = await ws.people.attempt(`page ${publication.object}`, () => checkPassword(passcode, publication.passcode));
  if (!right) throw new Refusal(401, "Wrong passcode. Ask the person who gave you the address.");
  return passOf(ws, publication);
}

/** @throws Refusal 401 where the page has a passcode and the visitor has not given it */
export function checkPass(ws: Workspace, publication: Publication, pass: string | undefined): void {
  if (publication.passcode === null) return;
  const [given, right] = [Buffer.from(pass ?? ""), Buffer.from(passOf(ws, publication))];
  if (given.length !== right.length || !timingSafeEqual(given, right)) throw new Refusal(401, "This page needs a passcode.");
}
