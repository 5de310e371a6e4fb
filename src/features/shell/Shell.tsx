"use client";

import { Menu, MenuButton, MenuItem, MenuItems } from "@headlessui/react";
import { usePathname, useRouter } from "next/navigation";
import { createContext, type ReactNode, useContext, useEffect, useState } from "react";
import { Toaster } from "sonner";
import type { Locale } from "@/core/types/format";
import { Link } from "../Link";
import { signOut } from "../people/signOut";
import { COMMON } from "../words";
import type { ShellData } from "./data";
import { FindOrDo } from "./FindOrDo";
import { WorkerContext } from "./worker";

const SECTIONS = [
  { href: "/tables", name: COMMON.tables },
  { href: "/queries", name: COMMON.queries },
  { href: "/pivots", name: COMMON.pivots },
  { href: "/charts", name: COMMON.charts },
  { href: "/reports", name: COMMON.reports },
  { href: "/letters", name: COMMON.letters },
  { href: "/dashboards", name: COMMON.dashboards },
  { href: "/pages", name: COMMON.pages },
  { href: "/postings", name: COMMON.postings },
  { href: "/schedules", name: COMMON.schedules },
] as const;

/** What a viewer has: the sections of what can be shared with them. */
const LOOKING: ReadonlySet<string> = new Set(["/queries", "/pivots", "/charts", "/reports", "/letters", "/dashboards", "/pages"]);

export const LocaleContext = createContext<Locale>({ locale: "en-GB", zone: "UTC" });

/** The workspace's manner of writing numbers and dates. */
export const useLocale = (): Locale => useContext(LocaleContext);

/** Who is signed in, and what concerns the account. */
function Person({ data: { person, role } }: { data: ShellData }) {
  const router = useRouter();
  if (!person)
    return (
      <Link href="/people" className="whitespace-nowrap text-soft hover:text-ink">
        {COMMON.people}
      </Link>
    );
  const go = (words: string, act: () => void) => (
    <MenuItem key={words}>
      <button type="button" className="menu-item" onClick={act}>
        {words}
      </button>
    </MenuItem>
  );
  return (
    <Menu>
      <MenuButton className="max-w-44 truncate text-soft hover:text-ink">{person.name}</MenuButton>
      <MenuItems anchor="bottom end" className="popover w-52">
        {go(COMMON.myAccount, () => router.push("/me"))}
        {role === "owner" && go(COMMON.peopleRowRulesLog, () => router.push("/people"))}
        {go(COMMON.signOut, () => void signOut(false))}
      </MenuItems>
    </Menu>
  );
}

/** The bar on top of every page, with the sections as index tabs. */
export function Shell({ data, children }: { data: ShellData; children: ReactNode }) {
  const path = usePathname();
  const [finding, setFinding] = useState(false);
  useEffect(() => {
    const open = (event: KeyboardEvent) => {
      if (!(event.ctrlKey || event.metaKey) || event.key.toLowerCase() !== "k") return;
      event.preventDefault();
      setFinding(true);
    };
    window.addEventListener("keydown", open);
    return () => window.removeEventListener("keydown", open);
  }, []);
  return (
    <LocaleContext.Provider value={data.locale}>
      <WorkerContext.Provider value={data}>
        <a href="#work" className="sr-only focus:not-sr-only focus:absolute focus:z-50 focus:bg-sheet focus:p-2">
          {COMMON.skipToContent}
        </a>
        <div className="print-flow flex h-dvh flex-col">
          <header className="no-print flex shrink-0 items-end gap-2 border-b border-rule bg-sheet px-4 pt-2">
            <Link href="/queries" className="pr-4 pb-2.5 font-serif text-[1.125rem] font-semibold whitespace-nowrap">
              Next <i className="font-medium text-bottle">Ledger</i>
            </Link>
            <nav aria-label={COMMON.sections} className="flex min-w-0 overflow-x-auto overflow-y-hidden">
              {SECTIONS.filter((s) => data.role !== "viewer" || LOOKING.has(s.href)).map(({ href, name }) => {
                const here = path.startsWith(href);
                return (
                  <Link
                    key={href}
                    href={href}
                    aria-current={here ? "page" : undefined}
                    className={`-mb-px rounded-t-lg border px-4 pt-2 pb-2 text-base max-[1400px]:px-3 max-[1150px]:px-2.5 ${here ? "border-rule border-b-paper bg-paper font-semibold" : "border-transparent text-soft hover:text-ink"}`}
                  >
                    {name}
                  </Link>
                );
              })}
            </nav>
            <div className="ml-auto flex items-center gap-4 pb-2">
              <button
                type="button"
                onClick={() => setFinding(true)}
                className="flex items-center gap-10 rounded-md border border-rule bg-paper px-2.5 py-1 whitespace-nowrap text-soft max-[1400px]:gap-3 max-[1150px]:gap-2 max-sm:hidden"
              >
                {COMMON.findOrDoHint} <kbd className="rounded border border-rule bg-sheet px-1.5 font-sans text-tiny">Ctrl K</kbd>
              </button>
              {data.held > 0 && (
                <Link href="/schedules" className="whitespace-nowrap font-semibold text-ochre hover:underline">
                  {COMMON.heldBack(data.held)}
                </Link>
              )}
              {data.role !== "viewer" && (
                <Link
                  href="/outbox"
                  aria-current={path === "/outbox" ? "page" : undefined}
                  className="whitespace-nowrap text-soft hover:text-ink aria-[current]:font-semibold aria-[current]:text-ink"
                >
                  {COMMON.outbox} <b className="text-bottle">{data.outbox}</b>
                </Link>
              )}
              <Person data={data} />
            </div>
          </header>
          <main id="work" className="print-flow min-h-0 flex-1">
            {children}
          </main>
        </div>
        {finding && <FindOrDo close={() => setFinding(false)} />}
        <Toaster
          position="bottom-center"
          toastOptions={{ style: { background: "var(--color-ink)", color: "var(--color-sheet)", border: "none", fontFamily: "var(--font-sans)" } }}
        />
      </WorkerContext.Provider>
    </LocaleContext.Provider>
  );
}
