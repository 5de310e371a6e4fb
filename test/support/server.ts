import { execFileSync } from "node:child_process";
import { join } from "node:path";
import Database from "better-sqlite3";
import type { Browser, BrowserContext, ElementHandle, Page } from "puppeteer-core";
import { cookieOf, enter } from "../../scripts/enter.mjs";
import { freePort } from "../../scripts/ports.mjs";
import { serve } from "../../scripts/serve.mjs";
import { openBrowser } from "./browser.mjs";
import { temporaryFolder } from "./ledger";

/** The tests' day: the month before it is September 2026. */
const NOW = "2026-10-05T08:00:00Z";

/**
 * The built application on a demo company of its own, with a browser before it.
 * @param options.life whether the company's people have done anything yet
 * @param options.moved takes the company's database elsewhere, by the path of its file. @returns where it is opened
 */
export async function openApplication(options: { database?: string; life?: boolean; moved?: (file: string) => Promise<string> } = {}) {
  const { folder, remove } = temporaryFolder();
  const made = ["dist/make-demo.mjs", folder, ...(options.life ? [] : ["--bare"])];
  if (!options.database) execFileSync(process.execPath, made, { env: { ...process.env, NEXT_LEDGER_NOW: NOW } });
  const elsewhere = await options.moved?.(join(folder, "business.sqlite"));
  const server = (await serve({ data: folder, port: await freePort(0), database: options.database ?? elsewhere, env: { NEXT_LEDGER_NOW: NOW } })) as {
    address: string;
    stop: () => Promise<void>;
  };
  const browser = (await openBrowser()) as Browser;
  const session = options.database ? null : await enter(server.address);
  if (session) await browser.setCookie(cookieOf(server.address, session));
  const tokens = new Map<string, string>();
  /** Asks as a person (null is nobody), who is let in once, and again where they were signed out meanwhile. */
  const askAs = async (person: string | null, path: string, init: RequestInit): Promise<Response> => {
    const known = person === null ? null : (tokens.get(person) ?? null);
    const token = person !== null && known === null ? await enter(server.address, person) : known;
    if (person !== null && token !== null) tokens.set(person, token);
    const headers = { "content-type": "application/json", ...init.headers, ...(token ? { cookie: `session=${token}` } : {}) };
    const answer = await fetch(server.address + path, { ...init, headers });
    if (answer.status !== 401 || person === null || known === null) return answer;
    tokens.delete(person);
    return askAs(person, path, init);
  };
  const sql = (text: string): unknown[][] => {
    const db = new Database(options.database ?? join(folder, "business.sqlite"), { readonly: true });
    try {
      return db.prepare(text).raw().all() as unknown[][];
    } finally {
      db.close();
    }
  };
  const page = async (path: string): Promise<Desk> => new Desk(await browser.newPage(), server.address).open(path);
  return {
    folder,
    address: server.address,
    browser,
    /** A second look at the data, past the application. */
    sql,
    /** The first row of a statement, past the application. */
    one: (text: string): unknown[] => sql(text)[0] ?? [],
    /** Asks the server as the signed-in owner; as another of the demo's people, or as nobody (null). */
    fetch: async (path: string, init: RequestInit = {}, person?: string | null): Promise<Response> => {
      if (person !== undefined) return askAs(person, path, init);
      const headers = { "content-type": "application/json", ...init.headers, ...(session ? { cookie: `session=${session}` } : {}) };
      return fetch(server.address + path, { ...init, headers });
    },
    /** How the server answers a person (null is nobody), by its status; where it leads is not followed. */
    status: async (path: string, init: RequestInit, person: string | null): Promise<number> =>
      (await askAs(person, path, { redirect: "manual", ...init })).status,
    /** A browser of its own for one of the demo's people; nobody is signed in where none is named. */
    browserOf: async (person: string | null): Promise<BrowserContext> => {
      const context = await browser.createBrowserContext();
      if (person) await context.setCookie(cookieOf(server.address, await enter(server.address, person)));
      return context;
    },
    page,
    /** A page with a sheet, once its rows are counted. */
    sheet: async (path: string): Promise<Desk> => {
      const desk = await page(path);
      await desk.reads("[data-testid=status]", /\d rows/);
      return desk;
    },
    close: async () => {
      await browser.close();
      await server.stop();
      remove();
    },
  };
}

/** A body for the server, as its pages send it. */
export const post = (body: object): RequestInit => ({ method: "POST", body: JSON.stringify(body) });

export type Application = Awaited<ReturnType<typeof openApplication>>;

/**
 * Fails on purpose until a failure is counted that came after a wait: whatever is tried right after it must wait two
 * seconds at least, however slow the machine.
 * @param fail tries something wrong: 401 where it was counted, 429 where it must wait
 */
export async function failUntilWaiting(fail: () => Promise<number>): Promise<void> {
  for (let waited = false; ; ) {
    const status = await fail();
    if (status === 401 && waited) return;
    waited ||= status === 429;
    await new Promise((done) => setTimeout(done, 50));
  }
}

/** How long a page is waited for, however slow the machine, before a test says what it misses. */
const PATIENCE_MS = Number(process.env.PATIENCE_MS ?? 90_000);

/** A page as a person works with it: by the words they see, by clicks and keys. */
export class Desk {
  readonly complaints: string[] = [];
  constructor(
    readonly page: Page,
    private readonly address: string,
  ) {
    page.setDefaultTimeout(PATIENCE_MS);
    // What the browser says of a slow machine is no complaint: no test depends on speed.
    const slow = /was preloaded using link preload but not used within a few seconds/;
    page.on(
      "console",
      (m) => ["error", "warn"].includes(m.type()) && !slow.test(m.text()) && this.complaints.push(`${m.text()} ${m.location().url ?? ""}`.trim()),
    );
    page.on("pageerror", (e) => this.complaints.push(String(e)));
  }

  async open(path: string): Promise<this> {
    // A frame within the page, as of a file that is previewed, may not tell the driver that it has come: it is not waited for.
    const there = new Promise((done) => this.page.once("domcontentloaded", done));
    await Promise.race([this.page.goto(this.address + path), there]);
    await this.alive();
    return this;
  }

  /** Waits until the page answers to clicks and keys: it is seen before it does. */
  private async alive(): Promise<void> {
    const dead = () =>
      [...document.querySelectorAll("button, select, [role=grid]")].filter(
        (e) => !e.closest("[contenteditable]") && !Object.keys(e).some((key) => key.startsWith("__reactProps")),
      );
    try {
      await this.page.waitForFunction(`(${dead})().length === 0`, { polling: 50 });
    } catch (error) {
      // Whoever waited in vain is told for what; a page that answers nothing at all is told of too.
      const told = `JSON.stringify([location.href, document.readyState, (${dead})().map((e) => e.outerHTML.slice(0, 200))])`;
      const silence = new Promise((done) => setTimeout(done, 5000, "it answers nothing"));
      const found = await Promise.race([this.page.evaluate(told).catch(String), silence]);
      throw new Error(`The page at ${this.page.url()} does not answer to clicks: ${found} (${(error as Error).message})`);
    }
  }

  private async find(selector: string): Promise<ElementHandle | null> {
    await this.alive();
    return this.page.waitForSelector(selector, { visible: true });
  }

  /** Waits until an element stands still and nothing lies over it: what is coming in, or shifted by what comes in, would be missed by a click. */
  private standing(handle: ElementHandle<Element>): Promise<unknown> {
    return handle
      .evaluate(async (e) => {
        const until = performance.now() + 1000;
        let before = "";
        while (performance.now() < until) {
          const { x, y, width, height } = e.getBoundingClientRect();
          const now = [x, y, width, height].join();
          const there = document.elementFromPoint(x + width / 2, y + height / 2);
          if (now === before && (there === null || e.contains(there) || there.contains(e))) return;
          before = now;
          await new Promise((done) => requestAnimationFrame(done));
        }
      })
      .catch(() => undefined);
  }

  /** Clicks the element of a kind with a text or label. */
  async click(words: string, kind = "button, a, label, [role=option], [role=menuitem]"): Promise<void> {
    await this.alive();
    // Words of a sentence are buttons too.
    const clicked = kind.replaceAll(/(?<![\w=-])button(?![\w\]-])/g, ":is(button, [role=button])");
    const handle = await this.page
      .waitForFunction(
        (wanted, selector) => {
          // A button that cannot be used yet is waited for, as a person would.
          const seen = (e: Element) => e.getClientRects().length > 0 && !e.matches(":disabled");
          const named = (e: Element) => [
            e.textContent?.trim(),
            e.getAttribute("aria-label"),
            // A mark beside the words, as that of a sorted column, is none of them.
            ...[...e.querySelectorAll("span")].flatMap((s) => [s.textContent?.trim(), s.firstChild?.textContent?.trim()]),
          ];
          return [...document.querySelectorAll(selector)].filter(seen).find((e) => named(e).includes(wanted)) ?? null;
        },
        { polling: 100 },
        words,
        clicked,
      )
      .catch(() => {
        throw new Error(`There is nothing to click that reads “${words}” on ${this.page.url()}`);
      });
    await this.standing(handle as ElementHandle<Element>);
    // The page may have been drawn anew since the element was found.
    await (handle as ElementHandle<Element>).click().catch(() => this.click(words, kind));
  }

  /** Clicks what a selector finds, once it stands still: a click on what is shifted under it is lost. */
  async press(selector: string): Promise<void> {
    const handle = await this.find(selector);
    if (handle) await this.standing(handle as ElementHandle<Element>);
    await handle?.click();
  }

  async key(...keys: string[]): Promise<void> {
    await this.alive();
    for (const key of keys) {
      const parts = key.split("+");
      const last = parts.pop() as "Enter";
      for (const held of parts) await this.page.keyboard.down(held as "Control");
      await this.page.keyboard.press(last);
      for (const held of parts.reverse()) await this.page.keyboard.up(held as "Control");
    }
  }

  /** Drops a file of delimited text on the page. */
  async drop(name: string, content: string): Promise<void> {
    await this.page.evaluate(
      (fileName, text) => {
        const carried = new DataTransfer();
        carried.items.add(new File([text], fileName, { type: "text/csv" }));
        const place = document.querySelector("#work h1") as Element;
        for (const kind of ["dragover", "drop"]) place.dispatchEvent(new DragEvent(kind, { bubbles: true, cancelable: true, dataTransfer: carried }));
      },
      name,
      content,
    );
  }

  /** Types into the field with a label, replacing what it holds. */
  async type(label: string, words: string): Promise<void> {
    const field = await this.find(`[aria-label="${label}"]`);
    if (field) await this.standing(field as ElementHandle<Element>);
    await field?.click({ count: 3 });
    await this.page.keyboard.type(words);
  }

  async choose(label: string, value: string): Promise<void> {
    await this.find(`select[aria-label="${label}"]`);
    await this.page.select(`select[aria-label="${label}"]`, value);
  }

  text(selector: string): Promise<string> {
    return this.page.$eval(selector, (e) => ((e as HTMLElement).innerText ?? e.textContent).replace(/\s+/g, " ").trim());
  }

  /** Waits until a part of the page reads so. */
  async reads(selector: string, words: string | RegExp): Promise<string> {
    const pattern =
      typeof words === "string" ? { source: words.replace(/[.*+?^${}()|[\]\\]/g, "\\$&"), flags: "" } : { source: words.source, flags: words.flags };
    const found = await this.page
      .waitForFunction(
        (s, source, flags) => {
          const texts = [...document.querySelectorAll(s)].map((e) =>
            ((e as HTMLElement).innerText ?? [...e.querySelectorAll("text")].map((t) => t.textContent).join(" ")).replace(/\s+/g, " ").trim(),
          );
          return texts.some((text) => new RegExp(source, flags).test(text)) && { first: texts[0] as string };
        },
        { polling: 100 },
        selector,
        pattern.source,
        pattern.flags,
      )
      .catch(async (error: Error) => {
        const found = await this.page.$$eval(selector, (all) =>
          all
            .map((e) => ((e as HTMLElement).innerText ?? [...e.querySelectorAll("text")].map((t) => t.textContent).join(" ")).replace(/\s+/g, " "))
            .join(" ¦ "),
        );
        const page = found === "" ? `; the page reads: ${(await this.text("body")).slice(0, 1500)}` : "";
        throw new Error(`${selector} should read ${words}, and reads: ${found.slice(0, 600)}${page} (${error.message})`);
      });
    // The page may have gone on meanwhile: what was read was there.
    return found.jsonValue().then(
      (told) => (told ? told.first : ""),
      () => "",
    );
  }
}
